import type { OwnPage } from '../../api/own';
import { useState } from 'react';
import { View } from 'react-native';
import { DateTime } from 'luxon';
import { canPlace } from '../../core/devices/phones';
import { useNote } from '../data/own';
import { space } from '../kit/theme';
import { Button, Choice, Field, Refused, Section } from '../kit/parts';
import { Words } from '../kit/Words';
import { dayTime, type Do } from './shared';

/** Which status, and a note beside it that goes stale by itself. */
export function StatusPart({ page, act }: { page: OwnPage; act: Do }) {
  const note = useNote();
  const [text, setText] = useState<string | null>(null);
  const [at, setAt] = useState<string | null>(page.note?.at ?? null);
  const [until, setUntil] = useState<'today' | 'week' | 'long'>('today');
  const end = () => {
    const now = DateTime.now().setZone(page.timeZone);
    if (until === 'long') return null;
    return (until === 'today' ? now.endOf('day') : now.endOf('week')).toISO();
  };
  const able = page.person.endpoints.filter(canPlace);
  const placing = able.length > 1 ? able.find(({ id }) => id === page.callsFrom)?.label : undefined;
  return (
    <Section title="Your status">
      <Choice
        label="Status"
        value={page.person.status}
        options={page.statuses
          .filter(({ id }) => id !== 'left')
          .map(({ id, name }) => ({ value: id, label: name }))}
        onChange={(status) => act({ kind: 'status', status })}
      />
      {placing !== undefined ? <Words tone="soft">{`Place your calls from ${placing}.`}</Words> : null}
      {text === null ? (
        <View style={{ flexDirection: 'row', alignItems: 'center', gap: space(3), flexWrap: 'wrap' }}>
          <Words tone={page.note ? 'ink' : 'soft'} style={{ flexShrink: 1 }}>
            {page.note
              ? [
                  page.note.note,
                  ...(page.note.at
                    ? [
                        `at ${page.person.endpoints.find(({ id }) => id === page.note?.at)?.label ?? page.note.at}`,
                      ]
                    : []),
                  ...(page.note.staleAt ? [`until ${dayTime(page.note.staleAt, page.timeZone)}`] : []),
                ].join(' · ')
              : 'No note'}
          </Words>
          <Button
            label={page.note ? 'Change the note' : 'Add a note'}
            onPress={() => setText(page.note?.note ?? '')}
          />
        </View>
      ) : (
        <View style={{ gap: space(3) }}>
          <Field label="Note for those who look for you" value={text} onChange={setText} autoFocus />
          <Choice
            label="Where you are"
            titled
            value={at ?? 'none'}
            options={[
              { value: 'none', label: 'Not said' },
              ...page.person.endpoints.map(({ id, label }) => ({ value: id, label })),
            ]}
            onChange={(id) => setAt(id === 'none' ? null : id)}
          />
          <Choice
            label="For how long"
            titled
            value={until}
            options={[
              { value: 'today', label: 'Today' },
              { value: 'week', label: 'This week' },
              { value: 'long', label: 'Two weeks' },
            ]}
            onChange={setUntil}
          />
          <View style={{ flexDirection: 'row', gap: space(2) }}>
            <Button
              kind="main"
              label="Keep the note"
              busy={note.isPending}
              onPress={() =>
                note.mutate({ note: text, at, until: end() }, { onSuccess: () => setText(null) })
              }
            />
            <Button label="Leave it" onPress={() => setText(null)} />
          </View>
          <Refused error={note.error} />
        </View>
      )}
    </Section>
  );
}
