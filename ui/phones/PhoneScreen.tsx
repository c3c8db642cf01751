import type { PhoneRow } from '../../api/phones';
import { useState } from 'react';
import { View } from 'react-native';
import { isNumberKind } from '../../core/estate';
import { messageOf } from '../data/api';
import { useAccount, usePassword, usePhones, useSetStandin } from '../data/phones';
import { doesOptions, DOES_WORDS, KIND_WORDS, registrationWords, clockOf } from './words';
import { AppChecks } from './AppChecks';
import { BehindRouterPart } from './BehindRouterPart';
import { ByStatusPart } from './ByStatusPart';
import { SoundNotesPart } from './SoundNotesPart';
import { LinesPart } from '../networks/LinesPart';
import { RegistrationHistoryPart } from './RegistrationHistoryPart';
import { HandoverPart } from './HandoverPart';
import { PageFrame } from '../kit/PageFrame';
import { Button, Choice, LinkRow, LinkRows, Refused, Section, Skeleton, Trouble } from '../kit/parts';
import { TimeField } from '../kit/TimeField';
import { Words } from '../kit/Words';
import { useRole } from '../data/session';
import { space, usePalette } from '../kit/theme';

/** One value of an account, as it is typed into a phone. */
function Value({ name, value }: { readonly name: string; readonly value: string }) {
  return (
    <View style={{ flexDirection: 'row', gap: space(3) }}>
      <Words tone="soft" style={{ width: 84 }}>
        {name}
      </Words>
      <Words mono strong style={{ flex: 1 }}>
        {value}
      </Words>
    </View>
  );
}

/** The account of a phone: what is typed into it, the password only when it is asked for. */
function AccountPart({ row }: { readonly row: PhoneRow }) {
  const palette = usePalette();
  const role = useRole();
  const account = useAccount(row.endpoint, role !== 'manager');
  const password = usePassword(row.endpoint);
  const [asking, setAsking] = useState(false);
  if (role === 'manager') return null;
  if (account.isError)
    return (
      <Section title="Account">
        <Words tone="rust">{messageOf(account.error)}</Words>
      </Section>
    );
  if (account.isPending) return <Skeleton rows={3} />;
  const { user, server, ports } = account.data;
  return (
    <Section title="Account">
      <View style={{ gap: space(1) }}>
        <Value name="User" value={user} />
        <Value name="Server" value={server ?? 'not running'} />
        {ports ? <Value name="Port" value={`${ports.udp} for UDP and TCP, ${ports.tls} for TLS`} /> : null}
        <Value name="Password" value={password.data?.password ?? '••••••••••••••••'} />
        {ports ? <Value name="URI" value={`sip:${user}@${server}:${ports.udp}`} /> : null}
      </View>
      {role === 'specialist' ? (
        <View style={{ gap: space(2) }}>
          {password.data ? (
            <View style={{ flexDirection: 'row', gap: space(2), flexWrap: 'wrap' }}>
              <Button label="Hide it again" onPress={() => password.reset()} />
            </View>
          ) : (
            <View style={{ flexDirection: 'row', gap: space(2), flexWrap: 'wrap' }}>
              <Button icon="eye" label="Show the password" onPress={() => password.mutate(false)} />
              {asking ? null : <Button label="Make a new one" onPress={() => setAsking(true)} />}
            </View>
          )}
          {asking ? (
            <View
              style={{
                gap: space(2),
                borderLeftWidth: 3,
                borderColor: palette.accent,
                paddingLeft: space(3),
              }}
            >
              <Words>
                With a new password every device on this account drops off until the new one is typed into it.
              </Words>
              <View style={{ flexDirection: 'row', gap: space(2) }}>
                <Button
                  kind="main"
                  label="Make a new password"
                  onPress={() => {
                    setAsking(false);
                    password.mutate(true);
                  }}
                />
                <Button label="Leave it" onPress={() => setAsking(false)} />
              </View>
            </View>
          ) : null}
          <Words size="small" tone="soft">
            Made by Hostler, 24 characters, kept encrypted. Each showing is noted in the record.
          </Words>
        </View>
      ) : null}
      <Refused error={password.error} />
    </Section>
  );
}

/** What the stand-in of this phone does when it is called. */
function StandinPart({ row }: { readonly row: PhoneRow }) {
  const role = useRole();
  const set = useSetStandin(row.endpoint);
  if (role === 'manager') return null;
  return (
    <Section title="Its stand-in">
      <Words size="small" tone="soft">
        A simulated phone takes this one’s place on this machine, so that registering and calling can be
        tried. What it does here holds for calls to the phone system; a live try sets its own.
      </Words>
      <Choice
        atOnce
        label="What it does"
        value={row.does}
        options={doesOptions(row.kind).map((value) => ({ value, label: DOES_WORDS[value] }))}
        onChange={(does) => set.mutate({ does })}
      />
      {row.does === 'answers' ? (
        <TimeField
          label="Is answered, after it began to ring,"
          value={row.answerAfterMs ?? 4000}
          onChange={(ms) => ms !== null && set.mutate({ does: 'answers', answerAfterMs: ms })}
        />
      ) : null}
      <Refused error={set.error} />
    </Section>
  );
}

/** One phone: how it is registered, its account, its stand-in. */
export function PhoneScreen({ id }: { readonly id: string }) {
  const phones = usePhones();
  if (phones.isError)
    return <Trouble message={messageOf(phones.error)} retry={() => void phones.refetch()} />;
  if (phones.isPending) return <Skeleton />;
  const row = phones.data.phones.find(({ endpoint }) => endpoint === id);
  if (!row) return <Trouble message="There is no such phone. It may have been removed." />;
  const registrations = phones.data.registrations.filter(({ endpoint }) => endpoint === id);
  const lost = phones.data.lost.find(({ endpoint }) => endpoint === id);
  const isPublic = isNumberKind(row.kind);
  return (
    <PageFrame
      title={`${row.name}: ${row.label}`}
      text={`${KIND_WORDS[row.kind]}${row.extension ? `, extension ${row.extension}` : ''}`}
      back={{ path: '/phones', label: 'Phones' }}
    >
      {isPublic ? (
        <Section title="Public network">
          <Words>
            This phone does not register: calls go to its number over a trunk. Whether it is on or covered
            shows only when it is called.
          </Words>
        </Section>
      ) : (
        <Section title="Registered">
          {registrations.length === 0 ? (
            <Words
              tone={row.kind !== 'hot-desk' && (lost || row.does !== 'off') ? 'rust' : 'ink'}
              strong
              live
            >
              {row.kind === 'hot-desk'
                ? 'Signed on at no shared desk: it rings once they are.'
                : lost
                  ? `Lost since ${clockOf(lost.lostMs)}: ${lost.detail}.`
                  : 'No device is registered.'}
            </Words>
          ) : null}
          {registrations.map((each) => (
            <View key={each.contact} style={{ gap: 2 }}>
              <Words strong>{each.userAgent || 'unnamed device'}</Words>
              <Words size="small" mono tone="soft">
                {registrationWords(each)}
              </Words>
              <Words size="small" mono tone="soft">
                {each.contact}
              </Words>
            </View>
          ))}
          <BehindRouterPart
            registrations={registrations}
            lost={phones.data.waysLost.find(({ endpoint }) => endpoint === id)}
          />
          {lost?.why === 'refused' ? (
            <Words>
              It asks to register and is refused. Show the account’s password and type it in again, or make a
              new one.
            </Words>
          ) : null}
          <RegistrationHistoryPart endpoint={row.endpoint} />
        </Section>
      )}
      {isPublic ? null : <AccountPart row={row} />}
      {isPublic ? null : <ByStatusPart row={row} />}
      {row.kind === 'mobile-app' || row.kind === 'desktop-app' ? (
        <>
          <HandoverPart row={row} />
          <SoundNotesPart row={row} />
          <LinesPart of="person" id={row.person} />
        </>
      ) : null}
      {row.kind === 'mobile-app' ? (
        <Section title="What the mobile lets it do">
          <AppChecks endpoint={row.endpoint} checks={phones.data.checks} />
          <Words size="small" tone="soft">
            {`${row.name} ticks these on their own page.`}
          </Words>
        </Section>
      ) : null}
      <StandinPart row={row} />
      <Section title="Whose it is">
        <LinkRows>
          <LinkRow
            title={row.name}
            text="How this person is reached"
            href={`/people/${encodeURIComponent(row.person)}`}
          />
          <LinkRow
            title="Try a call"
            text="On the model, or live over the stand-ins"
            href={`/people/${encodeURIComponent(row.person)}/try`}
          />
        </LinkRows>
      </Section>
    </PageFrame>
  );
}
