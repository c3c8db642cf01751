import type { OwnPage } from '../../api/own';
import { View } from 'react-native';

import { space, usePalette } from '../kit/theme';
import { IconButton, Section } from '../kit/parts';
import { TimeField } from '../kit/TimeField';
import { Words } from '../kit/Words';
import { type Do } from './shared';

/** The stages that ring after each other, with their times and their order. */
export function SequencePart({ page, act }: { page: OwnPage; act: Do }) {
  const palette = usePalette();
  const { plan, endpoints } = page.person;
  const label = (id: string) => endpoints.find((each) => each.id === id)?.label ?? 'a colleague’s phone';
  const all = [
    ...plan.rules.map((rule) => ({ at: rule.id, name: rule.name, stages: rule.stages })),
    {
      at: 'otherwise',
      name: plan.rules.length > 0 ? 'In every other case' : 'Always',
      stages: plan.otherwise.stages,
    },
  ];
  return (
    <Section title="What rings when">
      {all.map(({ at, name, stages }) => (
        <View
          key={at}
          style={{ gap: space(2), paddingBottom: space(3), borderBottomWidth: 1, borderColor: palette.line }}
        >
          <Words strong>{name}</Words>
          {stages.length === 0 ? <Words tone="soft">Nothing rings.</Words> : null}
          {stages.map((stage, i) => (
            <View key={i} style={{ flexDirection: 'row', alignItems: 'flex-end', gap: space(2) }}>
              <View style={{ flex: 1 }}>
                {'ring' in stage ? (
                  <TimeField
                    label={`${i + 1}. ${stage.ring.map((target) => label(target.endpoint)).join(' and ') || 'nobody'} ring`}
                    value={stage.forMs}
                    least={1000}
                    step={5000}
                    onChange={(forMs) => forMs !== null && act({ kind: 'ring-time', at, stage: i, forMs })}
                  />
                ) : (
                  <Words tone="soft">{`${i + 1}. ${'offer' in stage ? 'a greeting with keys' : 'a code is asked for'}`}</Words>
                )}
              </View>
              {i > 0 ? (
                <IconButton
                  icon="up"
                  label={`Step ${i + 1} earlier`}
                  onPress={() => {
                    const order = stages.map((_, n) => n);
                    act({
                      kind: 'sequence',
                      at,
                      order: [...order.slice(0, i - 1), i, i - 1, ...order.slice(i + 1)],
                    });
                  }}
                />
              ) : null}
            </View>
          ))}
        </View>
      ))}
    </Section>
  );
}
