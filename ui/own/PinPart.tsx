import type { OwnPage } from '../../api/own';
import { faultOf } from '../data/api';
import { DateTime } from 'luxon';
import { useSetOwnPin } from '../data/own';
import { DigitsSetter } from '../kit/DigitsSetter';
import { Section } from '../kit/parts';
import { Words } from '../kit/Words';

/** One's own PIN, by which one signs on at a shared desk and lets a new phone fetch its settings. */
export function PinPart({ page }: { readonly page: OwnPage }) {
  const set = useSetOwnPin();
  const fault = faultOf(set.error, 'pin');
  return (
    <Section title="Your PIN">
      <Words tone="soft">
        {page.pinSetAt
          ? `Set on ${DateTime.fromISO(page.pinSetAt).setLocale('en').toFormat('d LLLL yyyy')}. You type it at shared desks and new phones.`
          : 'You have none yet. You type it at shared desks and new phones.'}
      </Words>
      <DigitsSetter
        label="A new PIN of 6 to 10 digits"
        secret
        setLabel="Set it"
        fault={fault ? `It ${fault}` : null}
        error={set.error}
        busy={set.isPending}
        onType={() => set.reset()}
        onSet={(pin, done) => set.mutate(pin, { onSuccess: done })}
      />
    </Section>
  );
}
