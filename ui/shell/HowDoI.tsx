import { useState } from 'react';
import { findTasks, findTerms } from '../../core/glossary';
import { Empty, LinkRow, LinkRows } from '../kit/parts';
import { SearchField } from '../kit/SearchField';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';

const MOST = 8;

/** A search over what people want to do: what is found opens the page where it is done. */
export function HowDoI({ onClose }: { readonly onClose: () => void }) {
  const [query, setQuery] = useState('');
  const tasks = findTasks(query);
  const terms = query.trim().length > 2 ? findTerms(query).slice(0, 3) : [];
  return (
    <Sheet title="How do I …" open onClose={onClose}>
      <SearchField
        label="What do you want to do?"
        placeholder="Such as twinning, leave, hunt group"
        value={query}
        onChange={setQuery}
      />
      <Words size="small" tone="soft" live>
        {`${tasks.length} ${tasks.length === 1 ? 'task' : 'tasks'}`}
      </Words>
      {tasks.length === 0 ? (
        <Empty title="No task fits" text="Try another word for it, or a part of one." />
      ) : (
        <LinkRows>
          {tasks.slice(0, query.trim() === '' ? tasks.length : MOST).map(({ says, at, then }) => (
            <LinkRow key={says} title={says} text={then} href={at} onPress={onClose} />
          ))}
        </LinkRows>
      )}
      {terms.length > 0 ? (
        <LinkRows>
          {terms.map(({ id, term, means }) => (
            <LinkRow
              key={id}
              title={term}
              text={means}
              href={`/glossary?find=${encodeURIComponent(term)}`}
              onPress={onClose}
            />
          ))}
        </LinkRows>
      ) : null}
    </Sheet>
  );
}
