import type { OwnPage } from '../../api/own';
import { useState } from 'react';
import { View } from 'react-native';
import { showNumber } from '../../core/calls/dialling';
import { isNumberKind, type RingTarget } from '../../core/estate';

import { space, usePalette } from '../kit/theme';
import { Button, Choice, Field, Section } from '../kit/parts';
import { Toggle } from '../kit/Toggle';
import { Words } from '../kit/Words';
import { type Do } from './shared';

const targetsOf = (page: OwnPage): readonly RingTarget[] =>
  [...page.person.plan.rules, page.person.plan.otherwise].flatMap(({ stages }) =>
    stages.flatMap((stage) => ('ring' in stage ? stage.ring : [])),
  );

/** Each phone with its switch, its number and its hours. */
export function PhonesPart({ page, act }: { page: OwnPage; act: Do }) {
  const palette = usePalette();
  const [editing, setEditing] = useState<{ readonly id: string; readonly text: string } | null>(null);
  const targets = targetsOf(page);
  const hoursOf = (id: string) => targets.find((each) => each.endpoint === id)?.schedule?.id ?? null;
  return (
    <Section title="Your phones">
      <View style={{ borderWidth: 1, borderColor: palette.line, backgroundColor: palette.sheet }}>
        {page.person.endpoints.map(({ id, label, kind, number }, i) => {
          const mine = targets.filter((each) => each.endpoint === id);
          const on = mine.some((each) => each.enabled !== false);
          const isPublic = isNumberKind(kind);
          const hours = page.schedules.find((each) => each.id === hoursOf(id));
          return (
            <View
              key={id}
              style={{
                padding: space(3),
                gap: space(2),
                borderTopWidth: i > 0 ? 1 : 0,
                borderColor: palette.line,
              }}
            >
              <View style={{ flexDirection: 'row', alignItems: 'center', gap: space(3) }}>
                <View style={{ flex: 1 }}>
                  <Words strong>{label}</Words>
                  <Words size="small" tone="soft" mono={number !== undefined}>
                    {number ? showNumber(number) : mine.length === 0 ? 'rings in no rule' : 'your account'}
                  </Words>
                  {hours ? <Words size="small" tone="soft">{`rings in ${hours.name}`}</Words> : null}
                </View>
                {mine.length > 0 ? (
                  <Toggle
                    label={`${label} rings with your calls`}
                    value={on}
                    onChange={(next) => act({ kind: 'twinning', endpoint: id, on: next })}
                  />
                ) : null}
              </View>
              {editing?.id === id ? (
                <View style={{ gap: space(2) }}>
                  <Field
                    label="Its number, in any form"
                    keyboard="phone-pad"
                    mono
                    value={editing.text}
                    onChange={(text) => setEditing({ id, text })}
                  />
                  <Choice
                    label="When it rings"
                    titled
                    value={hoursOf(id) ?? 'always'}
                    options={[
                      { value: 'always', label: 'At any hour' },
                      ...page.schedules.map((each) => ({ value: each.id, label: each.name })),
                    ]}
                    onChange={(value) =>
                      act({ kind: 'hours', endpoint: id, schedule: value === 'always' ? null : value })
                    }
                  />
                  <View style={{ flexDirection: 'row', gap: space(2) }}>
                    <Button
                      kind="main"
                      label="Keep this number"
                      disabled={editing.text.trim() === '' || editing.text === number}
                      onPress={() => {
                        act({ kind: 'number', endpoint: id, number: editing.text });
                        setEditing(null);
                      }}
                    />
                    <Button label="Leave it" onPress={() => setEditing(null)} />
                  </View>
                </View>
              ) : isPublic ? (
                <View style={{ flexDirection: 'row' }}>
                  <Button
                    kind="quiet"
                    label="Number and hours"
                    onPress={() => setEditing({ id, text: number ?? '' })}
                  />
                </View>
              ) : null}
            </View>
          );
        })}
      </View>
    </Section>
  );
}
