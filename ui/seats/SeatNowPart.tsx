import { useState } from 'react';
import { View } from 'react-native';
import type { SeatNowPage } from '../../api/seats';
import type { SeatPhone } from '../../core/estate';
import { faultOf, messageOf } from '../data/api';
import { usePersonPage } from '../data/data';
import { mayConfirm } from '../data/desks';
import { useSeatNow, useSeatOff, useSeatOn, useSeatPassword, useSeatPaused } from '../data/seats';
import { useCanEdit, useRole, useZone } from '../data/session';
import { sayWhen } from '../desks/when';
import { PersonSearch } from '../edit/Search';
import { DigitsSetter } from '../kit/DigitsSetter';
import { Button, LinkRow, LinkRows, Refused, Section, Skeleton, Trouble } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';
import { PhonePick } from './PhonePick';
import { PAUSES, sayLine, sayState, sayWho } from './words';

const seconds = (ms: number | null) => (ms === null ? '' : `${Math.round(ms / 1000)} s`);

/** Who is at a seat now, and the calls that were offered to it of late. */
export function SeatNowPart({ seat, name }: { readonly seat: string; readonly name: string }) {
  const page = useSeatNow(seat);
  if (page.isError) return <Trouble message={messageOf(page.error)} retry={() => void page.refetch()} />;
  if (page.isPending) return <Skeleton rows={2} />;
  return <SeatNow seat={seat} name={name} page={page.data} />;
}

function SeatNow({
  seat,
  name,
  page: { sitting, offered, hasPassword },
}: {
  readonly seat: string;
  readonly name: string;
  readonly page: SeatNowPage;
}) {
  const zone = useZone();
  const role = useRole();
  const canEdit = useCanEdit();
  const maySign = role === 'specialist' || role === 'help-desk';
  const off = useSeatOff(seat);
  const paused = useSeatPaused(seat);
  const [signing, setSigning] = useState(false);
  return (
    <>
      <Section title="Who is signed on">
        {sitting ? (
          <LinkRows>
            <LinkRow
              title={sayWho(sitting)}
              text={`Since ${sayWhen(sitting.since, zone)}, ${sayState(sitting, zone)}`}
              href={`/people/${encodeURIComponent(sitting.person)}`}
            />
          </LinkRows>
        ) : (
          <Words>Nobody.</Words>
        )}
        {sitting?.line ? (
          <Words tone={sitting.line.state === 'rings' ? 'ochre' : 'soft'} live>
            {sayLine(sitting)}
          </Words>
        ) : null}
        {maySign ? (
          <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
            <Button
              label={sitting ? 'Sign somebody else on' : 'Sign somebody on'}
              onPress={() => setSigning(true)}
            />
            {sitting && !sitting.leaving ? (
              <Button label={`Sign ${sitting.name} off`} busy={off.isPending} onPress={() => off.mutate()} />
            ) : null}
            {sitting?.leaving ? (
              <Button
                label={`Keep ${sitting.name} signed on`}
                busy={paused.isPending}
                onPress={() => paused.mutate(null)}
              />
            ) : sitting?.state === 'paused' ? (
              <Button label="Go on" busy={paused.isPending} onPress={() => paused.mutate(null)} />
            ) : null}
            {sitting && !sitting.leaving && sitting.state !== 'paused' ? (
              <Button
                kind="quiet"
                label="Pause"
                busy={paused.isPending}
                onPress={() => paused.mutate(PAUSES[0])}
              />
            ) : null}
          </View>
        ) : null}
        <Refused error={off.error ?? paused.error} />
      </Section>
      <Section title="Calls offered of late">
        {offered.length === 0 ? <Words tone="soft">None yet.</Words> : null}
        {offered.map((each, i) => (
          <Words key={i} size="small">
            {[
              `${sayWhen(each.at, zone)}: ${each.name}, ${each.end}`,
              each.rangMs === null ? 'did not ring' : `rang ${seconds(each.rangMs)}`,
              each.talkedMs === null ? '' : `talked ${seconds(each.talkedMs)}`,
            ]
              .filter(Boolean)
              .join(', ')}
          </Words>
        ))}
      </Section>
      {canEdit ? <PasswordPart seat={seat} isSet={hasPassword} /> : null}
      {signing ? <SeatOnSheet seat={seat} name={name} onClose={() => setSigning(false)} /> : null}
    </>
  );
}

function PasswordPart({ seat, isSet }: { readonly seat: string; readonly isSet: boolean }) {
  const set = useSeatPassword(seat);
  return (
    <Section title="Password">
      <Words tone="soft">{isSet ? 'Whoever signs on types it.' : 'None: people sign on without one.'}</Words>
      <DigitsSetter
        label="A new password of 4 to 12 digits"
        secret
        setLabel="Set the password"
        removeLabel="Take the password away"
        fault={faultOf(set.error, 'password')}
        error={set.error}
        busy={set.isPending}
        onType={() => set.reset()}
        onSet={(password, done) => set.mutate(password, { onSuccess: done })}
        {...(isSet ? { onRemove: () => set.mutate(null) } : {})}
      />
    </Section>
  );
}

/** Signs somebody on: who, at which phone, read back, and whoever is there taken over on purpose. */
function SeatOnSheet({
  seat,
  name,
  onClose,
}: {
  readonly seat: string;
  readonly name: string;
  readonly onClose: () => void;
}) {
  const on = useSeatOn(seat);
  const [who, setWho] = useState<{ readonly id: string; readonly name: string } | null>(null);
  const [at, setAt] = useState<SeatPhone | null>(null);
  const confirm = mayConfirm(on.error);
  return (
    <Sheet
      title={`Sign on to ${name}`}
      open
      onClose={onClose}
      {...(who
        ? {
            action: {
              label: confirm ? `Take over for ${who.name}` : `Sign ${who.name} on`,
              busy: on.isPending,
              disabled: at === null,
              onPress: () =>
                at &&
                on.mutate(
                  { person: who.id, at, ...(confirm ? { confirmed: true } : {}) },
                  { onSuccess: onClose },
                ),
            },
          }
        : {})}
    >
      {who ? (
        <PhonesOf
          person={who.id}
          at={at}
          fault={faultOf(on.error, 'at.number')}
          onChange={(next) => {
            on.reset();
            setAt(next);
          }}
        />
      ) : (
        <PersonSearch label="Who" onPick={(id, picked) => setWho({ id, name: picked })} />
      )}
      <Refused error={faultOf(on.error, 'at.number') ? null : on.error} />
    </Sheet>
  );
}

function PhonesOf({
  person,
  at,
  fault,
  onChange,
}: {
  readonly person: string;
  readonly at: SeatPhone | null;
  readonly fault: string | null;
  readonly onChange: (at: SeatPhone | null) => void;
}) {
  const page = usePersonPage(person);
  if (page.isError) return <Trouble message={messageOf(page.error)} retry={() => void page.refetch()} />;
  if (page.isPending) return <Skeleton rows={2} />;
  return (
    <PhonePick
      phones={page.data.person.endpoints.map(({ id, label, number }) => ({
        id,
        label,
        number: number ?? null,
      }))}
      value={at}
      fault={fault}
      onChange={onChange}
    />
  );
}
