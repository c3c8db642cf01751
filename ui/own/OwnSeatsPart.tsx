import type { OwnSeats } from '../../api/seats';
import { useState } from 'react';
import { View } from 'react-native';
import type { SeatPhone } from '../../core/estate';
import { faultOf } from '../data/api';
import { mayConfirm } from '../data/desks';
import { useOwnSeatOff, useOwnSeatOn, useOwnSeatPaused, useOwnSeats } from '../data/seats';
import { Button, Choice, Field, LinkRow, LinkRows, Refused, Section } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';
import { PhonePick } from '../seats/PhonePick';
import { PAUSES, sayState } from '../seats/words';
import { showNumbersIn } from '../../core/calls/dialling';

type Own = OwnSeats['seats'][number];

/** The seats of groups that one takes calls at: signed on to, paused, and left again. */
export function OwnSeatsPart({ timeZone }: { readonly timeZone: string }) {
  const palette = usePalette();
  const own = useOwnSeats();
  const off = useOwnSeatOff();
  const paused = useOwnSeatPaused();
  const [choosing, setChoosing] = useState(false);
  const seats = own.data?.seats ?? [];
  const mine = seats.flatMap((seat) => (seat.mine ? [{ ...seat, mine: seat.mine }] : []));
  const others = seats.filter((seat) => seat.mine === null);
  if (seats.length === 0) return null;
  return (
    <Section title="Your seats in groups">
      {mine.length === 0 ? <Words tone="soft">You are signed on to none.</Words> : null}
      {mine.map((seat) => (
        <View
          key={seat.id}
          style={{ gap: space(2), paddingBottom: space(3), borderBottomWidth: 1, borderColor: palette.line }}
        >
          <Words strong>{seat.name}</Words>
          <Words tone="soft">{`You take calls at ${showNumbersIn(seat.mine.phone)}: ${sayState(seat.mine, timeZone)}`}</Words>
          {seat.mine.state === 'paused' || seat.mine.leaving ? null : (
            <Choice
              label={`Pause ${seat.name}`}
              titled
              value=""
              options={PAUSES.map((value) => ({ value, label: value }))}
              onChange={(why) => paused.mutate({ seat: seat.id, why })}
            />
          )}
          <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
            {seat.mine.state === 'paused' || seat.mine.leaving ? (
              <Button
                kind="main"
                label={seat.mine.leaving ? `Stay at ${seat.name}` : `Go on at ${seat.name}`}
                onPress={() => paused.mutate({ seat: seat.id, why: null })}
              />
            ) : null}
            {seat.mine.leaving ? null : (
              <Button label={`Leave ${seat.name}`} onPress={() => off.mutate(seat.id)} />
            )}
          </View>
        </View>
      ))}
      {others.length > 0 ? (
        <View style={{ flexDirection: 'row' }}>
          <Button label="Sign on to a seat" onPress={() => setChoosing(true)} />
        </View>
      ) : null}
      <Refused error={off.error ?? paused.error} />
      {choosing && own.data ? (
        <SeatSheet seats={others} phones={own.data.phones} onClose={() => setChoosing(false)} />
      ) : null}
    </Section>
  );
}

/** Which seat, then at which phone. */
function SeatSheet({
  seats,
  phones,
  onClose,
}: {
  readonly seats: readonly Own[];
  readonly phones: OwnSeats['phones'];
  readonly onClose: () => void;
}) {
  const [seat, setSeat] = useState<Own | null>(null);
  if (seat) return <SignOnSheet seat={seat} phones={phones} onClose={onClose} />;
  return (
    <Sheet title="Sign on to a seat" open onClose={onClose}>
      <LinkRows>
        {seats.map((each) => (
          <LinkRow
            key={each.id}
            title={each.name}
            text={`${each.groups.join(', ') || 'In no group yet'}${each.takenBy ? `: ${each.takenBy} is signed on` : ''}`}
            onPress={() => setSeat(each)}
          />
        ))}
      </LinkRows>
    </Sheet>
  );
}

function SignOnSheet({
  seat,
  phones,
  onClose,
}: {
  readonly seat: Own;
  readonly phones: OwnSeats['phones'];
  readonly onClose: () => void;
}) {
  const on = useOwnSeatOn();
  const [at, setAt] = useState<SeatPhone | null>(null);
  const [password, setPassword] = useState('');
  const confirm = mayConfirm(on.error);
  const beside = faultOf(on.error, 'at.number') ?? faultOf(on.error, 'password');
  return (
    <Sheet
      title={`Sign on to ${seat.name}`}
      open
      onClose={onClose}
      action={{
        label: confirm ? 'Take it over' : 'Sign on',
        busy: on.isPending,
        disabled: at === null || (seat.needsPassword && password === ''),
        onPress: () =>
          at &&
          on.mutate(
            {
              seat: seat.id,
              at,
              ...(seat.needsPassword ? { password } : {}),
              ...(confirm ? { confirmed: true } : {}),
            },
            { onSuccess: onClose },
          ),
      }}
    >
      <PhonePick
        phones={phones}
        value={at}
        fault={faultOf(on.error, 'at.number')}
        onChange={(next) => {
          on.reset();
          setAt(next);
        }}
      />
      {seat.needsPassword ? (
        <Field
          label="The password of this seat"
          secret
          keyboard="phone-pad"
          value={password}
          onChange={(text) => {
            setPassword(text.replace(/\D/g, ''));
            on.reset();
          }}
          error={faultOf(on.error, 'password')}
        />
      ) : null}
      <Refused error={beside ? null : on.error} />
    </Sheet>
  );
}
