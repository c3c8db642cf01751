import type { Slate } from '../../api/slates';
import { useState } from 'react';
import { DateTime } from 'luxon';
import { messageOf, isApiError } from '../data/api';
import { useZone } from '../data/session';
import type { useSlateWork } from '../data/slates';
import { Button, Field } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';
import { zoneNamed } from '../../core/zones';

/** When a slate shall be put live, in the organisation's time. */
export function TimeSheet({
  slate,
  work,
  onClose,
}: {
  readonly slate: Slate;
  readonly work: ReturnType<typeof useSlateWork>;
  readonly onClose: () => void;
}) {
  const zone = useZone();
  const before = slate.dueAt ? DateTime.fromISO(slate.dueAt, { zone: zoneNamed(zone) }) : null;
  const first =
    before ?? DateTime.now().setZone(zoneNamed(zone)).plus({ weeks: 1 }).startOf('week').set({ hour: 6 });
  const [date, setDate] = useState(first.toFormat('yyyy-MM-dd'));
  const [time, setTime] = useState(first.toFormat('HH:mm'));
  // Which instant this is, the server says: its zone data count, and may be newer than the browser's.
  const wanted = DateTime.fromISO(`${date}T${time}`, { zone: 'utc' });
  const { patch } = work;
  const fault = isApiError(patch.error) ? patch.error.faults[0]?.message : null;
  const trouble = !wanted.isValid ? 'is no date and time, like 2026-11-30 and 06:00' : (fault ?? null);
  return (
    <Sheet
      title="Put live at a time"
      open
      onClose={onClose}
      action={{
        label: wanted.isValid ? `Set for ${wanted.setLocale('en').toFormat('ccc d LLL, HH:mm')}` : 'Set',
        disabled: !wanted.isValid,
        busy: patch.isPending,
        onPress: () =>
          patch.mutate({ dueLocal: wanted.toFormat("yyyy-MM-dd'T'HH:mm") }, { onSuccess: onClose }),
      }}
    >
      <Words tone="soft">
        {`The whole slate goes live then, once. If something it rests on is changed before, or a drill fails, it is held back and Today says so. Times are those of ${zone}.`}
      </Words>
      <Field label="Date" mono value={date} onChange={setDate} placeholder="2026-11-30" />
      <Field label="Time" mono value={time} onChange={setTime} placeholder="06:00" error={trouble} />
      {patch.isError && !fault ? <Words tone="rust">{messageOf(patch.error)}</Words> : null}
      {slate.dueAt ? (
        <Button label="Not at a time" onPress={() => patch.mutate({ dueAt: null }, { onSuccess: onClose })} />
      ) : null}
    </Sheet>
  );
}
