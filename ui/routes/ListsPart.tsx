import type { ListHead } from '../../api/routing';
import { useState } from 'react';

import { Button, Empty, LinkRow, LinkRows, Section } from '../kit/parts';
import { ListImport } from './ListImport';

export const ON_SLATE = { added: 'new on the slate', changed: 'as on the slate' };

/** The lists that routes ask for. */
export function ListsPart({
  lists,
  canEdit,
}: {
  readonly lists: readonly ListHead[];
  readonly canEdit: boolean;
}) {
  const [adding, setAdding] = useState(false);
  return (
    <Section
      title="Lists"
      aside={
        canEdit ? (
          <Button kind="quiet" icon="import" label="Add a list" onPress={() => setAdding(true)} />
        ) : null
      }
    >
      {lists.length === 0 ? (
        <Empty title="None yet" text="A list has numbers that routes ask for, from a table or a directory." />
      ) : (
        <LinkRows>
          {lists.map(({ id, name, count, onSlate }) => (
            <LinkRow
              key={id}
              title={name}
              text={`${count === 1 ? 'One number' : `${count.toLocaleString('en')} numbers`}${onSlate ? `, ${ON_SLATE[onSlate]}` : ''}`}
              href={`/routes/lists/${encodeURIComponent(id)}`}
            />
          ))}
        </LinkRows>
      )}
      {adding ? <ListImport list={null} taken={lists} onClose={() => setAdding(false)} /> : null}
    </Section>
  );
}
