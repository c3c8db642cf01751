import { useState } from 'react';
import { View } from 'react-native';
import { keepPreviousData, useMutation, useQuery } from '@tanstack/react-query';
import type { AccessAsked, AccessPrediction, AccessTry } from '../../api/calls';
import { showNumber } from '../../core/calls/dialling';
import type { Dialling } from '../../core/estate';
import { api, messageOf } from '../data/api';
import { typedNumber } from '../edit/typedNumber';
import { Button, Field, Refused, Section, Skeleton, Tick } from '../kit/parts';
import { space, useIsWide, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';

/** What is typed, parted by commas; null: something else than keys stands there. */
export function keysIn(text: string): readonly string[] | null {
  const all = text
    .split(/[,;]/)
    .map((each) => each.replace(/[\s().+-]/g, ''))
    .filter(Boolean);
  return all.every((each) => /^[0-9*]{1,20}$/.test(each)) && all.length <= 6 ? all : null;
}

/** A call to the access number as it would go, and as it goes over real SIP, beside each other. */
export function TryAccessPart({
  id,
  dialling,
  isChanged,
}: {
  readonly id: string;
  readonly dialling: Dialling;
  readonly isChanged: boolean;
}) {
  const wide = useIsWide();
  const [from, setFrom] = useState('');
  const [isVerified, setVerified] = useState(true);
  const [hangsUp, setHangsUp] = useState(false);
  const [text, setText] = useState('');
  const caller = typedNumber(from, dialling);
  const typed = keysIn(text);
  const isReady = caller.error === null && typed !== null;
  const asked: AccessAsked = { from: caller.e164, isVerified, hangsUp, typed: typed ?? [] };
  const path = `/api/access/${encodeURIComponent(id)}`;
  const predicted = useQuery({
    queryKey: [`${path}/prediction`, asked],
    queryFn: () => api<AccessPrediction>('POST', `${path}/prediction`, asked),
    enabled: isReady,
    placeholderData: keepPreviousData,
    retry: false,
  });
  const tried = useMutation({ mutationFn: () => api<AccessTry>('POST', `${path}/try`, asked) });
  return (
    <Section title="Try it">
      <Words tone="soft">
        {isChanged
          ? 'What is not live yet is not tried: put it live first.'
          : 'A call from outside to this number, over the simulated carrier.'}
      </Words>
      <Field
        label="Calls from, in any form; empty: number withheld"
        mono
        keyboard="phone-pad"
        value={from}
        onChange={setFrom}
        error={caller.error}
        hint={caller.shown === from ? null : caller.shown}
      />
      <Tick
        label="The carrier has verified that number"
        on={isVerified}
        onPress={() => setVerified(!isVerified)}
      />
      <Tick label="Hangs up before the answer" on={hangsUp} onPress={() => setHangsUp(!hangsUp)} />
      <Field
        label="Types, one after the other, with commas between"
        mono
        value={text}
        onChange={setText}
        error={typed === null ? 'Digits, such as 4101, 482916, 6045550199' : null}
        hint="Extension and PIN where they are asked for, then the number"
      />
      <View style={{ flexDirection: 'row' }}>
        <Button
          kind="main"
          label="Try this call"
          disabled={!isReady}
          busy={tried.isPending}
          onPress={() => tried.mutate()}
        />
      </View>
      <Refused error={tried.error} />
      <View style={{ flexDirection: wide ? 'row' : 'column', gap: space(4) }}>
        <Heard title="As it would go">
          {predicted.isError ? <Words tone="rust">{messageOf(predicted.error)}</Words> : null}
          {predicted.isPending && isReady ? <Skeleton rows={2} /> : null}
          {predicted.data ? <Talk {...predicted.data} /> : null}
        </Heard>
        {tried.data ? (
          <Heard title="As it went">
            <Talk {...tried.data} />
            <Words strong live tone={tried.data.isAsPredicted ? 'kelp' : 'rust'}>
              {tried.data.isAsPredicted ? 'As it was predicted.' : 'Not as it was predicted.'}
            </Words>
          </Heard>
        ) : null}
      </View>
    </Section>
  );
}

function Heard({ title, children }: { readonly title: string; readonly children: React.ReactNode }) {
  const palette = usePalette();
  return (
    <View
      role="region"
      aria-label={title}
      style={{
        flex: 1,
        borderWidth: 1,
        borderColor: palette.line,
        backgroundColor: palette.sheet,
        padding: space(3),
        gap: space(2),
      }}
    >
      <Words strong>{title}</Words>
      {children}
    </View>
  );
}

/** What was said, and what was called in the end. */
function Talk({ says, calls, note }: AccessPrediction) {
  return (
    <>
      {says.map((each, at) => (
        <Words key={at}>{`“${each}”`}</Words>
      ))}
      <Words strong tone={calls ? 'kelp' : 'ink'}>
        {calls
          ? `Calls ${showNumber(calls.number)}, showing ${calls.shows === null ? 'no number' : showNumber(calls.shows)}`
          : 'Calls nobody'}
      </Words>
      {note ? (
        <Words size="small" tone="soft">
          {note}
        </Words>
      ) : null}
    </>
  );
}
