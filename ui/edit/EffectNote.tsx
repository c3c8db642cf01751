import { useState } from 'react';
import { ScrollView, useWindowDimensions, View } from 'react-native';
import type { Effect } from '../../api/effect';
import { showNumbersIn } from '../../core/calls/dialling';
import { andList } from '../../core/estate';
import { sayPromise } from '../../core/assurance/promises';
import { messageOf } from '../data/api';
import { isWorse, type EffectQuery } from '../data/effect';
import { Button } from '../kit/parts';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';
import { useNamed } from './Search';
import { usePeople } from '../data/people';

interface Line {
  readonly key: string;
  readonly says: string;
  readonly tone: 'rust' | 'ink' | 'soft' | 'kelp';
}
const TONES = { lost: 'rust', other: 'ink', time: 'soft', better: 'kelp' } as const;

function linesOf(effect: Effect, say: (effect: Effect['promises'][number]) => string): Line[] {
  return [
    ...effect.promises.map((each) => ({
      key: `promise ${each.person} ${JSON.stringify(each.promise)}`,
      says: `Breaks for ${each.name}: ${say(each)}. ${showNumbersIn(each.why)}`,
      tone: 'rust' as const,
    })),
    ...effect.drills.map(({ id, name, why }) => ({
      key: `drill ${id} ${why}`,
      says: `The drill “${name}” fails: ${showNumbersIn(why)}`,
      tone: 'rust' as const,
    })),
    ...effect.calls.map(({ says, weight }) => ({
      key: `calls ${says}`,
      says: showNumbersIn(says),
      tone: TONES[weight],
    })),
  ];
}

const SHOWN = 3;

/** What a change does to calls, promises and drills, before it is live: the worst first. */
export function EffectNote({ effect }: { readonly effect: EffectQuery }) {
  const { height } = useWindowDimensions();
  const [all, setAll] = useState(false);
  const people = usePeople();
  const schedules = useNamed('schedule');
  const statuses = useNamed('status');
  const nameIn = (list: readonly { id: string; name: string }[] | undefined) => (id: string) =>
    list?.find((each) => each.id === id)?.name;
  const names = {
    person: nameIn(people.data?.people),
    schedule: nameIn(schedules.data?.objects),
    status: nameIn(statuses.data?.objects),
  };
  if (effect.isError)
    return (
      <Words size="small" tone="ochre" live>
        {`What it does could not be worked out: ${messageOf(effect.error)}`}
      </Words>
    );
  if (!effect.data)
    return (
      <Words size="small" tone="soft" live>
        Working out what it does to calls …
      </Words>
    );
  const lines = linesOf(effect.data, ({ promise }) => sayPromise(promise, names));
  const { more, open, proved, unproved } = effect.data;
  const gone =
    unproved > 0 ? ` Promises gone through: of ${proved} of ${proved + unproved} people it can touch.` : '';
  if (lines.length === 0)
    return (
      <Words size="small" tone={open.length > 0 ? 'soft' : 'kelp'} live>
        {open.length > 0
          ? `No call was found that ends differently; not gone through: ${andList(open)}.`
          : `No call ends differently in the cases checked, and no promise or drill breaks.${gone}`}
      </Words>
    );
  return (
    <ScrollView style={{ maxHeight: Math.max(96, height * 0.28), flexGrow: 0 }} tabIndex={0}>
      <View role="list" aria-label="What it does" style={{ gap: space(1) }}>
        {(all ? lines : lines.slice(0, SHOWN)).map(({ key, says, tone }) => (
          <View key={key} role="listitem">
            <Words size="small" tone={tone} strong={tone === 'rust'} live>
              {says}
            </Words>
          </View>
        ))}
      </View>
      {all || lines.length <= SHOWN ? (
        more > 0 || open.length > 0 || gone ? (
          <Words size="small" tone="soft">
            {[
              more > 0 ? `${more} more kinds of calls end differently.` : '',
              open.length > 0 ? `Not gone through: ${andList(open)}.` : '',
              gone,
            ].join(' ')}
          </Words>
        ) : null
      ) : (
        <Button kind="quiet" label={`Show all ${lines.length}`} onPress={() => setAll(true)} />
      )}
    </ScrollView>
  );
}

/** Asked before something is put live that makes calls, promises or drills worse. */
export function AskWorse({
  effect,
  label = 'Put live all the same',
  onSure,
  onBack,
}: {
  readonly effect: EffectQuery;
  readonly label?: string;
  readonly onSure: () => void;
  readonly onBack: () => void;
}) {
  return (
    <View role="alert" style={{ gap: space(2) }}>
      <Words tone="rust" strong>
        {effect.data && isWorse(effect.data)
          ? 'Something gets worse with this.'
          : 'It is not known what this does to calls.'}
      </Words>
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
        <Button label={label} onPress={onSure} />
        <Button kind="main" label="Go back" onPress={onBack} />
      </View>
    </View>
  );
}
