import { useState } from 'react';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import { useMutation } from '@tanstack/react-query';
import type { CarrierRow, CarriersPage } from '../../api/records';
import type { Measured } from '../../core/records';
import { api } from '../data/api';
import { useLongWork } from '../data/calls';
import { useCanEdit, useZone } from '../data/session';
import { sayWhen } from '../desks/when';
import { PageFrame } from '../kit/PageFrame';
import { Button, Refused, Section } from '../kit/parts';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';
import { CallPages } from './CallPages';
import { DaysChoice, Figures, Worked, type Days } from './parts';

/** What the calls say of each carrier’s times, offered as a change. */
export function CarriersScreen() {
  const [days, setDays] = useState<Days>(28);
  const work = useLongWork<CarriersPage>(`/api/calls/carriers?days=${days}`);
  return (
    <PageFrame
      title="Carriers"
      text="How long carriers take, as the calls show it"
      back={{ path: '/calls', label: 'Back to the calls' }}
    >
      <CallPages path="/calls/carriers" />
      <Section>
        <DaysChoice days={days} onDays={setDays} />
      </Section>
      <Worked work={work} isEmpty={({ carriers }) => carriers.length === 0}>
        {({ carriers }) => (
          <>
            {carriers
              .filter(({ phones }) => phones > 0)
              .map((carrier) => (
                <CarrierPart key={carrier.prefix} carrier={carrier} days={days} />
              ))}
          </>
        )}
      </Worked>
    </PageFrame>
  );
}

const seconds = (ms: number) => `${(ms / 1000).toFixed(1)} s`;
const level = (ms: number | null) =>
  ms === null ? 'later than any phone was let ring' : `after ${seconds(ms)}`;
const row = (name: string, measured: Measured | null): readonly string[] =>
  measured
    ? [name, String(measured.n), seconds(measured.q10), seconds(measured.median), seconds(measured.q95)]
    : [name, '0', '', '', ''];

function CarrierPart({ carrier, days }: { readonly carrier: CarrierRow; readonly days: number }) {
  const palette = usePalette();
  const router = useRouter();
  const zone = useZone();
  const canEdit = useCanEdit();
  const take = useMutation({
    mutationFn: () =>
      api<{ slate: number }>(
        'POST',
        `/api/calls/carriers/slate?prefix=${encodeURIComponent(carrier.prefix)}&days=${days}`,
      ),
    onSuccess: ({ slate }) => router.navigate(`/slates/${slate}`),
  });
  const { setup, offAnswer, pickUp, proposed, differ, phones, prefix } = carrier;
  const changed = (
    [
      ['Setting up a call', setup],
      ['The voicemail of one that is off', offAnswer],
      ['The voicemail after ringing', pickUp],
    ] as const
  ).flatMap(([name, measured]) => (measured?.changed ? [[name, measured.changed] as const] : []));
  const parts = [
    proposed.setupMs === null ? '' : `set-up ${seconds(proposed.setupMs)}`,
    proposed.offAnswerMs === null ? '' : `voicemail of one that is off ${seconds(proposed.offAnswerMs)}`,
    proposed.mailboxAfterMs === null ? '' : `voicemail after ringing ${seconds(proposed.mailboxAfterMs)}`,
  ].filter(Boolean);
  return (
    <View style={{ borderTopWidth: 1, borderColor: palette.line }}>
      <Section title={`${prefix}…: ${phones} ${phones === 1 ? 'phone' : 'phones'}`}>
        {changed.map(([name, { before, after, sinceMs }]) => (
          <Words key={name} strong tone="rust">
            {`${name} changed about ${sayWhen(new Date(sinceMs).toISOString(), zone)}: since then ${level(after)}, before that ${level(before)}.`}
          </Words>
        ))}
        <Figures
          label={`Times of ${prefix}`}
          headings={['', 'Calls', 'Quick', 'Usual', 'Slow']}
          rows={[
            row('Setting up', setup),
            row('Voicemail, phone off', offAnswer),
            row('Voicemail, after ringing', pickUp),
          ]}
        />
        {differ > 0 ? (
          <>
            <Words>
              {`At ${differ} ${differ === 1 ? 'phone' : 'phones'} something else is set. As measured: ${parts.join(', ')}; answer guards and times to stop ringing move with them.`}
            </Words>
            {canEdit ? (
              <View style={{ flexDirection: 'row', gap: space(2) }}>
                <Button
                  label="Put these times on a slate"
                  busy={take.isPending}
                  onPress={() => take.mutate()}
                />
              </View>
            ) : null}
          </>
        ) : (
          <Words tone="soft">
            {parts.length === 0 ? 'Too few calls to go by.' : 'What is set fits what was measured.'}
          </Words>
        )}
        <Refused error={take.error} />
      </Section>
    </View>
  );
}
