import { useDeferredValue, useState } from 'react';
import { View } from 'react-native';
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { CallingPage } from '../../api/calls';
import { showNumber } from '../../core/calls/dialling';
import type { WayToCall } from '../../core/calls/out';
import { api, faultOf, messageOf } from '../data/api';
import { Button, Field, Section, Tick } from '../kit/parts';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';

const PATH = '/api/me/calling';
const ASK_AGAIN_MS = 1500;
const LEAST_DIGITS = 7;
const KINDS: Readonly<Record<WayToCall['kind'], string>> = {
  desk: 'At',
  app: 'In',
  access: 'By',
  'call-back': 'Called back at',
  mobile: 'From',
};
const STEPS: Readonly<Record<CallingPage['open'][number]['step'], string>> = {
  'rings-you': 'your phone rings',
  'asks-key': 'press 1 at your phone',
  'asks-number': 'type the number at your phone',
  'calls-them': 'the number is being called',
  talks: 'you are connected',
  over: 'ended',
};
const money = (cost: number, currency: string) => `${(cost / 100_000).toFixed(3)} ${currency}`;

/** “Call with my work number”: a number is typed, and the ways to call it are shown, the best first. */
export function OwnCallPart() {
  const client = useQueryClient();
  const [typed, setTyped] = useState('');
  const [withhold, setWithhold] = useState(false);
  const number = useDeferredValue(typed.trim());
  const isAsked = number.replace(/\D/g, '').length >= LEAST_DIGITS;
  const path = isAsked ? `${PATH}?number=${encodeURIComponent(number)}` : PATH;
  const page = useQuery({
    queryKey: [path],
    queryFn: () => api<CallingPage>('GET', path),
    placeholderData: keepPreviousData,
    retry: false,
    refetchInterval: ({ state }) =>
      state.data?.open.some(({ step }) => step !== 'over') ? ASK_AGAIN_MS : false,
  });
  const back = useMutation({
    mutationFn: (phone: string) => api('POST', '/api/me/call-back', { number, phone, withhold }),
    // It is for one call.
    onSuccess: () => setWithhold(false),
    onSettled: () =>
      client.invalidateQueries({ predicate: ({ queryKey }) => String(queryKey[0]).startsWith(PATH) }),
  });
  const wrong = page.isError ? (faultOf(page.error, 'number') ?? messageOf(page.error)) : null;
  const { ways = [], currency = null, open = [] } = page.data ?? {};
  return (
    <Section title="Call with my work number">
      <Field
        label="Number to call"
        mono
        keyboard="phone-pad"
        value={typed}
        onChange={setTyped}
        error={isAsked ? wrong : null}
      />
      {isAsked && !page.isError ? (
        <View role="list">
          {ways.map((way) => (
            <WayLine
              key={`${way.kind}/${way.endpoint}/${way.access?.number ?? ''}`}
              way={way}
              isWithheld={withhold && way.kind === 'call-back'}
              currency={currency}
              busy={back.isPending}
              onBack={() => back.mutate(way.endpoint)}
            />
          ))}
        </View>
      ) : null}
      {isAsked && !page.isError && ways.some(({ kind, works }) => kind === 'call-back' && works) ? (
        <Tick
          label="Withhold my number for this call, when I am called back"
          on={withhold}
          onPress={() => setWithhold(!withhold)}
        />
      ) : null}
      {back.isError ? (
        <Words tone="rust">{faultOf(back.error, 'number') ?? messageOf(back.error)}</Words>
      ) : null}
      {open.map(({ id, number: to, step, why }) => (
        <Words key={id} strong live tone={step === 'over' && why ? 'rust' : 'ink'}>
          {`${to === null ? 'Called back' : showNumber(to)}: ${why ?? STEPS[step]}`}
        </Words>
      ))}
    </Section>
  );
}

/** What a mobile dials: the access number, and where no PIN is asked for first, the number after two pauses. */
const dialled = ({ number, needsPin, types }: NonNullable<WayToCall['access']>): string =>
  `tel:${number}${needsPin ? '' : `,,${types}%23`}`;

function WayLine({
  way,
  isWithheld,
  currency,
  busy,
  onBack,
}: {
  readonly way: WayToCall;
  /** Whoever is called does not see the number. */
  readonly isWithheld: boolean;
  readonly currency: string | null;
  readonly busy: boolean;
  readonly onBack: () => void;
}) {
  const palette = usePalette();
  const { kind, label, works, why, shows, cost } = way;
  const facts = [
    ...(isWithheld ? ['shows no number'] : shows === null ? [] : [`shows ${showNumber(shows)}`]),
    ...(cost !== null && currency !== null ? [`3 minutes cost ${money(cost, currency)}`] : []),
  ];
  return (
    <View
      role="listitem"
      style={{ paddingVertical: space(2), borderBottomWidth: 1, borderColor: palette.line, gap: 2 }}
    >
      <View style={{ flexDirection: 'row', alignItems: 'center', gap: space(2) }}>
        <Words strong tone={works ? 'ink' : 'soft'} style={{ flex: 1 }}>
          {way.access ? `By ${way.access.name}, from ${label}` : `${KINDS[kind]} ${label}`}
        </Words>
        {kind === 'call-back' && works ? (
          <Button kind="main" label="Call me back" busy={busy} onPress={onBack} />
        ) : null}
        {way.access && works ? (
          <Button label="Ring it" onPress={() => window.location.assign(dialled(way.access!))} />
        ) : null}
      </View>
      <Words size="small" tone={works ? 'ink' : 'rust'}>
        {why}
      </Words>
      {facts.length > 0 ? (
        <Words size="small" tone="soft">
          {facts.join(', ')}
        </Words>
      ) : null}
    </View>
  );
}
