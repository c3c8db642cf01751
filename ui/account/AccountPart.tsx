import type { OwnSession } from '../../api/account';
import { useState } from 'react';
import { View } from 'react-native';
import { DateTime } from 'luxon';
import QRCode from 'react-native-qrcode-svg';
import { useEndSession, useAccount, useSecondFactor, useSetPassword } from '../data/account';
import { api, besideNoField, faultOf, messageOf } from '../data/api';
import { useSession } from '../data/session';
import { space, usePalette } from '../kit/theme';
import { Button, Field, Refused, Section, Skeleton, Trouble } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';

const when = (iso: string) => DateTime.fromISO(iso).setLocale('en').toFormat('d LLL, HH:mm');

/** What a browser says it is, as far as it is worth reading. */
const browserOf = (agent: string): string =>
  /(Firefox|Edg|Chrome|Safari)/.exec(agent)?.[1]?.replace('Edg', 'Edge') ??
  (agent === '' ? 'A browser' : 'Another program');
const systemOf = (agent: string): string =>
  /(Android|iPhone|iPad|Windows|Mac OS|Linux)/.exec(agent)?.[1] ?? 'an unknown device';

function SessionRow({ session }: { readonly session: OwnSession }) {
  const end = useEndSession();
  return (
    <View style={{ flexDirection: 'row', alignItems: 'center', gap: space(3) }}>
      <View style={{ flex: 1 }}>
        <Words strong={session.isThis}>
          {`${browserOf(session.agent)} on ${systemOf(session.agent)}${session.isThis ? ' · this one' : ''}`}
        </Words>
        <Words size="small" tone="soft">
          {`Signed in ${when(session.beganAt)}, last used ${when(session.seenAt)}, from ${session.from}`}
        </Words>
        <Refused error={end.error} />
      </View>
      {session.isThis ? null : (
        <Button
          kind="quiet"
          label="End session"
          busy={end.isPending}
          onPress={() => end.mutate(session.id)}
        />
      )}
    </View>
  );
}

function PasswordSheet({ onClose }: { readonly onClose: () => void }) {
  const [password, setPassword] = useState('');
  const [next, setNext] = useState('');
  const [again, setAgain] = useState('');
  const save = useSetPassword(onClose);
  const differs = again !== '' && again !== next;
  return (
    <Sheet
      title="Change password"
      open
      onClose={onClose}
      action={{
        label: 'Change password',
        disabled: password === '' || next === '' || again !== next,
        busy: save.isPending,
        onPress: () => save.mutate({ password, next }),
      }}
    >
      <Words tone="soft">All your other sessions end. This one goes on.</Words>
      <Field
        label="Current password"
        secret
        autoComplete="current-password"
        value={password}
        onChange={setPassword}
        error={faultOf(save.error, 'password')}
      />
      <Field
        label="New password"
        secret
        value={next}
        onChange={setNext}
        error={faultOf(save.error, 'next')}
        hint="12 characters or more"
      />
      <Field
        label="New password once more"
        secret
        value={again}
        onChange={setAgain}
        error={differs ? 'is not the same' : null}
      />
      <Refused error={besideNoField(save.error)} />
    </Sheet>
  );
}

function SecondFactorSheet({ has, onClose }: { readonly has: boolean; readonly onClose: () => void }) {
  const palette = usePalette();
  const { propose, take, remove } = useSecondFactor();
  const [password, setPassword] = useState('');
  const [code, setCode] = useState('');
  const begun = propose.data;
  const codes = take.data?.codes;
  const asking = has ? remove : propose;
  const action = codes
    ? { label: 'I have kept them', onPress: onClose }
    : begun
      ? {
          label: 'Confirm code',
          disabled: code.trim() === '',
          busy: take.isPending,
          onPress: () => take.mutate(code),
        }
      : {
          label: has ? 'Remove second factor' : 'Continue',
          disabled: password === '',
          busy: asking.isPending,
          onPress: () => (has ? remove.mutate(password, { onSuccess: onClose }) : propose.mutate(password)),
        };
  return (
    <Sheet title={has ? 'Remove second factor' : 'Second factor'} open onClose={onClose} action={action}>
      {codes ? (
        <>
          <Words>
            From now on you are asked for a code of your app when you sign in. If the app is lost, each of
            these codes lets you in once. They are shown this once: write them down.
          </Words>
          {codes.map((each) => (
            <Words key={each} mono strong>
              {each}
            </Words>
          ))}
        </>
      ) : begun ? (
        <>
          <Words>
            Scan this with an authenticator app, or type the key there. Then type the code it shows.
          </Words>
          <View
            role="img"
            aria-label="Code for the authenticator app"
            style={{
              padding: space(3),
              backgroundColor: '#FFFFFF',
              alignSelf: 'flex-start',
              borderColor: palette.line,
            }}
          >
            <QRCode value={begun.uri} size={168} />
          </View>
          <Words mono>{begun.secret.match(/.{1,4}/g)?.join(' ') ?? ''}</Words>
          <Field
            label="Code of the app"
            mono
            keyboard="decimal-pad"
            value={code}
            onChange={setCode}
            error={faultOf(take.error, 'code')}
            onSubmit={() => take.mutate(code)}
          />
          <Refused error={besideNoField(take.error)} />
        </>
      ) : (
        <>
          <Words tone="soft">
            {has
              ? 'Without it your password alone lets you in.'
              : 'Besides your password, an app on your phone shows a code that changes every half minute.'}
          </Words>
          <Field
            label="Your password"
            secret
            autoComplete="current-password"
            value={password}
            onChange={setPassword}
            error={faultOf(asking.error, 'password')}
          />
          <Refused error={besideNoField(asking.error)} />
        </>
      )}
    </Sheet>
  );
}

/** One's own account: where it is signed in, its password, and its second factor. */
export function AccountPart() {
  const account = useAccount();
  const signOut = useSession((session) => session.signOut);
  const [open, setOpen] = useState<'password' | 'second-factor' | null>(null);
  const [trouble, setTrouble] = useState<unknown>(null);
  if (account.isError)
    return <Trouble message={messageOf(account.error)} retry={() => void account.refetch()} />;
  if (account.isPending) return <Skeleton rows={3} />;
  const { sessions, secondFactor, role } = account.data;
  const everywhere = () =>
    api('DELETE', '/api/account/sessions').then(
      () => void signOut(),
      (error: unknown) => setTrouble(error),
    );
  return (
    <>
      <Section
        title="Sessions"
        aside={<Button kind="quiet" label="Sign out everywhere" onPress={() => void everywhere()} />}
      >
        <Refused error={trouble} />
        {sessions.map((session) => (
          <SessionRow key={session.id} session={session} />
        ))}
      </Section>
      <Section title="Password">
        <View style={{ alignItems: 'flex-start' }}>
          <Button label="Change password" onPress={() => setOpen('password')} />
        </View>
      </Section>
      <Section title="Second factor">
        <Words tone={secondFactor === null && role === 'specialist' ? 'ochre' : 'soft'}>
          {secondFactor === null
            ? 'None: your password alone lets you in.'
            : `An authenticator app since ${when(secondFactor.since)}; ${secondFactor.codesLeft} recovery codes are left.`}
        </Words>
        <View style={{ alignItems: 'flex-start' }}>
          <Button
            label={secondFactor === null ? 'Set up second factor' : 'Remove second factor'}
            onPress={() => setOpen('second-factor')}
          />
        </View>
      </Section>
      {open === 'password' ? <PasswordSheet onClose={() => setOpen(null)} /> : null}
      {open === 'second-factor' ? (
        <SecondFactorSheet has={secondFactor !== null} onClose={() => setOpen(null)} />
      ) : null}
    </>
  );
}
