import type { Finding } from '../../api/findings';
import { useState } from 'react';
import { View } from 'react-native';
import { DateTime } from 'luxon';
import { isApiError, messageOf } from '../data/api';
import { useMark } from '../data/findings';
import { useSession } from '../data/session';
import { space } from '../kit/theme';
import { Button, Field } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';

/** Who sees to a finding, until when it is put off, or why it is accepted. */
export function MarkSheet({ finding, onClose }: { readonly finding: Finding; readonly onClose: () => void }) {
  const { account } = useSession();
  const mark = useMark();
  const [assignee, setAssignee] = useState(finding.mark?.assignee ?? '');
  const [until, setUntil] = useState(finding.mark?.putOffUntil ?? '');
  const [why, setWhy] = useState(finding.mark?.acceptedWhy ?? '');
  const faults = isApiError(mark.error) ? mark.error.faults : [];
  const faultAt = (path: string) => faults.find((fault) => fault.path === path)?.message ?? null;
  const in30 = DateTime.now().plus({ days: 30 }).toISODate();
  return (
    <Sheet
      title="Assign"
      open
      onClose={onClose}
      action={{
        label: 'Keep',
        busy: mark.isPending,
        onPress: () =>
          mark.mutate(
            {
              key: finding.key,
              assignee: assignee.trim() || null,
              putOffUntil: until.trim() || null,
              acceptedWhy: why.trim() || null,
            },
            { onSuccess: onClose },
          ),
      }}
    >
      <Words strong>{`${finding.subject.name}. ${finding.says}`}</Words>
      <Field label="Assigned to" value={assignee} onChange={setAssignee} error={faultAt('assignee')} />
      {account && assignee !== account.name ? (
        <View style={{ flexDirection: 'row' }}>
          <Button kind="quiet" label="Assign to me" onPress={() => setAssignee(account.name)} />
        </View>
      ) : null}
      <Field
        label="Put off until"
        mono
        value={until}
        onChange={setUntil}
        placeholder={in30}
        hint="Until that date it is not shown among what needs you."
        error={faultAt('putOffUntil')}
      />
      {until === '' ? (
        <View style={{ flexDirection: 'row' }}>
          <Button kind="quiet" label={`Until ${in30}`} onPress={() => setUntil(in30)} />
        </View>
      ) : null}
      <Field
        label="Accepted, because"
        value={why}
        onChange={setWhy}
        hint="It stays as it is. The reason goes into the record."
        error={faultAt('acceptedWhy')}
      />
      {mark.isError && faults.length === 0 ? (
        <View style={{ gap: space(1) }}>
          <Words tone="rust" live>
            {messageOf(mark.error)}
          </Words>
        </View>
      ) : null}
    </Sheet>
  );
}
