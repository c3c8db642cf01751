import type { PersonPage } from '../../api/people';
import { memo } from 'react';
import { messageOf } from '../data/api';
import { useChangePerson } from '../data/data';
import { useRole } from '../data/session';
import { Choice, Section } from '../kit/parts';
import { Words } from '../kit/Words';

/** The person's status itself: setting it takes effect at once. */
export const StatusPart = memo(function StatusPart({ page }: { readonly page: PersonPage }) {
  const role = useRole();
  const set = useChangePerson<{ status: string }>(page.person.id, 'PUT', '/status');
  if (role === 'manager') return null;
  return (
    <Section title="Status today" term="status">
      <Choice
        label="Status today"
        value={page.person.status}
        options={page.slice.statuses.map((s) => ({ value: s.id, label: s.name }))}
        onChange={(status) => set.mutate({ status })}
      />
      <Words size="small" tone={set.isError ? 'rust' : 'soft'} live>
        {set.isError
          ? messageOf(set.error)
          : set.isPending
            ? 'Setting …'
            : 'Takes effect at once, and is recorded.'}
      </Words>
    </Section>
  );
});
