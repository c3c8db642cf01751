import type { PersonPage } from '../../api/people';
import { memo, useState } from 'react';
import { messageOf } from '../data/api';
import { personKey, useChangePerson } from '../data/data';
import { useRole } from '../data/session';
import { ActAsk } from '../edit/ActAsk';
import { Choice, Section } from '../kit/parts';
import { Words } from '../kit/Words';
import { PlannedStatusPart } from './PlannedStatusPart';

/** The person's status itself: setting it takes effect at once. */
export const StatusPart = memo(function StatusPart({ page }: { readonly page: PersonPage }) {
  const role = useRole();
  const set = useChangePerson<{ status: string }>(page.person.id, 'PUT', '/status');
  const [wanted, setWanted] = useState<{ readonly status: string } | null>(null);
  if (role === 'manager') return null;
  return (
    <Section title="Status today" term="status">
      <Choice
        label="Status today"
        atOnce
        value={page.person.status}
        options={page.slice.statuses.map((s) => ({ value: s.id, label: s.name }))}
        onChange={(status) => status !== page.person.status && setWanted({ status })}
      />
      <Words size="small" tone={set.isError ? 'rust' : 'soft'} live>
        {set.isError
          ? messageOf(set.error)
          : set.isPending || wanted
            ? 'Setting …'
            : 'Takes effect at once, and is recorded.'}
      </Words>
      <PlannedStatusPart page={page} />
      {wanted ? (
        <ActAsk
          key={wanted.status}
          path={`${personKey(page.person.id)}/effect`}
          act={wanted}
          label="Set it all the same"
          onSure={() => {
            set.mutate(wanted);
            setWanted(null);
          }}
          onBack={() => setWanted(null)}
        />
      ) : null}
    </Section>
  );
});
