import type { SlatePage } from '../../api/slates';
import { useState } from 'react';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import { messageOf } from '../data/api';
import { refusedOf, useSlateDrills, type useSlateWork } from '../data/slates';
import { space, useIsWide } from '../kit/theme';
import { Button, Field } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';
import { WorkBar } from '../kit/WorkBar';
import { TimeSheet } from './TimeSheet';

/** The bar at the bottom of a slate: put it live, now or at a time. Drills that fail are told before. */
export function ApplyBar({
  page,
  work,
}: {
  readonly page: SlatePage;
  readonly work: ReturnType<typeof useSlateWork>;
}) {
  const wide = useIsWide();
  const router = useRouter();
  const { slate, stale, faults, entries } = page;
  const [timing, setTiming] = useState(false);
  const [asking, setAsking] = useState(false);
  const [why, setWhy] = useState('');
  const drills = useSlateDrills(slate.id, slate.version);
  const failed = drills.data?.failed ?? [];
  const already = drills.data?.already ?? 0;
  const blocked =
    slate.size === 0 || stale > 0 || faults.length > 0 || entries.some((each) => each.faults.length > 0);
  const { apply } = work;
  const refused = refusedOf(apply.error);
  const press = () => {
    if (failed.length > 0) setAsking(true);
    else apply.mutate(null);
  };
  return (
    <WorkBar label="Put live">
      {apply.isError && refused?.kind !== 'drills' ? (
        <Words tone="rust" live>
          {messageOf(apply.error)}
        </Words>
      ) : null}
      {drills.data && drills.data.drills > 0 ? (
        <Words size="small" tone={failed.length > 0 ? 'rust' : 'soft'} strong={failed.length > 0}>
          {failed.length > 0
            ? `${failed.length} of the drills’ calls fail with this slate`
            : already > 0
              ? `It makes no drill fail; ${already === 1 ? 'one call of a drill fails' : `${already} calls of drills fail`} already`
              : `All ${drills.data.drills} ${drills.data.drills === 1 ? 'drill holds' : 'drills hold'} with this slate`}
        </Words>
      ) : null}
      <View style={{ flexDirection: 'row', gap: space(2) }}>
        <Button
          label={slate.dueAt ? 'Other time' : 'At a time'}
          grow={!wide}
          disabled={blocked}
          onPress={() => setTiming(true)}
        />
        <Button kind="main" grow label="Put live" busy={apply.isPending} disabled={blocked} onPress={press} />
      </View>
      {timing ? <TimeSheet slate={slate} work={work} onClose={() => setTiming(false)} /> : null}
      <Sheet
        title="Drills fail"
        open={asking}
        onClose={() => setAsking(false)}
        action={{
          label: 'Put live all the same',
          disabled: !why.trim(),
          busy: apply.isPending,
          onPress: () => apply.mutate(why.trim(), { onSuccess: () => setAsking(false) }),
        }}
      >
        {failed.slice(0, 20).map((each) => (
          <View key={`${each.drill}/${each.for.id}`} style={{ gap: 2 }}>
            <Words strong>{`${each.name} · ${each.for.name}`}</Words>
            <Words size="small">{each.says}</Words>
          </View>
        ))}
        {failed.length > 20 ? <Words tone="soft">{`and ${failed.length - 20} more`}</Words> : null}
        <Field
          label="Why it may be put live all the same"
          value={why}
          onChange={setWhy}
          hint="This goes into the record."
          error={apply.isError && asking ? messageOf(apply.error) : null}
        />
        <Button kind="quiet" label="To the drills" onPress={() => router.navigate('/drills')} />
      </Sheet>
    </WorkBar>
  );
}
