import { useState } from 'react';
import { View } from 'react-native';
import { useQuery } from '@tanstack/react-query';
import { DateTime } from 'luxon';
import { showNumber } from '../../core/calls/dialling';
import type { FlowNode } from '../../core/calls/views';
import { api, messageOf } from '../data/api';
import { useZone } from '../data/session';
import { space } from '../kit/theme';
import { PageFrame } from '../kit/PageFrame';
import { Choice, Field, Section, Sheeted, Skeleton, Trouble } from '../kit/parts';
import { Words } from '../kit/Words';
import { FlowTree } from '../drawings/FlowTree';
import { zoneNamed } from '../../core/zones';

/** What a number of the organisation does, at any moment: every way from it to an ending. */
export function NumberScreen({ number }: { readonly number: string }) {
  const zone = useZone();
  const [days, setDays] = useState<number | null>(null);
  const [clock, setClock] = useState('10:00');
  const [now] = useState(() => Date.now());
  const isClock = /^([01]?\d|2[0-3]):[0-5]\d$/.test(clock);
  const [hour, minute] = (isClock ? clock : '10:00').split(':').map(Number);
  const day = DateTime.fromMillis(now, { zone: zoneNamed(zone) }).startOf('day');
  const at =
    days === null
      ? null
      : day
          .plus({ days })
          .set({ hour: hour ?? 0, minute: minute ?? 0 })
          .toMillis();
  const path = `/api/numbers/${encodeURIComponent(number)}${at === null ? '' : `?at=${at}`}`;
  const flow = useQuery({
    queryKey: [path],
    queryFn: () => api<{ number: string; flow: FlowNode }>('GET', path),
    placeholderData: (before) => before,
  });
  return (
    <PageFrame
      title={`What ${flow.data ? showNumber(flow.data.number) : number} does`}
      back={{ path: '/routes', label: 'Back to Routes' }}
    >
      <Section>
        <Choice
          label="At which moment"
          value={days === null ? 'now' : String(days)}
          options={[
            { value: 'now', label: 'Now' },
            ...Array.from({ length: 7 }, (_, i) => ({
              value: String(i),
              label: i === 0 ? 'Today' : day.plus({ days: i }).setLocale('en').toFormat('ccc d'),
            })),
          ]}
          onChange={(next) => setDays(next === 'now' ? null : Number(next))}
        />
        {days === null ? null : (
          <View style={{ width: 180 }}>
            <Field
              label={`Time, ${zone.split('/').at(-1)?.replace('_', ' ')}`}
              mono
              value={clock}
              onChange={setClock}
              error={isClock ? null : 'A time from 00:00 to 23:59'}
            />
          </View>
        )}
        <Words size="small" tone="soft">
          A call from outside takes the ways that are marked; the others are shown for when they are taken.
        </Words>
      </Section>
      <Sheeted style={{ padding: space(4) }}>
        {flow.isError ? (
          <Trouble message={messageOf(flow.error)} retry={() => void flow.refetch()} />
        ) : flow.isPending ? (
          <Skeleton />
        ) : (
          <FlowTree node={flow.data.flow} />
        )}
      </Sheeted>
    </PageFrame>
  );
}
