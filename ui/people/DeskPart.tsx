import { View } from 'react-native';
import { faultOf } from '../data/api';
import { usePersonDesk, useSetBadge, useSignOff } from '../data/desks';
import { useCanEdit, useRole, useZone } from '../data/session';
import { sayWhen } from '../desks/when';
import { DigitsSetter } from '../kit/DigitsSetter';
import { Button, LinkRow, LinkRows, Refused, Section } from '../kit/parts';
import { Words } from '../kit/Words';

const MOST_SHOWN = 5;

/** Where somebody sits now and sat of late, and the badge that they sign on with. */
export function DeskPart({ person }: { readonly person: string }) {
  const zone = useZone();
  const role = useRole();
  const canEdit = useCanEdit();
  const desk = usePersonDesk(person);
  const off = useSignOff();
  if (!desk.data?.hasHotDesk) return null;
  const { now, before, badgeSetAt } = desk.data;
  return (
    <Section title="Shared desk">
      {now ? (
        <LinkRows>
          <LinkRow
            title={now.name}
            text={`${now.siteName}, since ${sayWhen(now.since, zone)}${now.until ? `, until ${sayWhen(now.until, zone)}` : ''}`}
            href={`/desks/${encodeURIComponent(now.desk)}`}
          />
        </LinkRows>
      ) : (
        <Words>Signed on nowhere.</Words>
      )}
      {now && (role === 'specialist' || role === 'help-desk') ? (
        <View style={{ flexDirection: 'row' }}>
          <Button label="Sign them off" busy={off.isPending} onPress={() => off.mutate(now.desk)} />
        </View>
      ) : null}
      <Refused error={off.error} />
      {before.slice(0, MOST_SHOWN).map((each, i) => (
        <Words key={i} size="small" tone="soft">
          {`${each.name}, ${sayWhen(each.since, zone)} to ${sayWhen(each.ended, zone)}: ${each.why}`}
        </Words>
      ))}
      {canEdit ? <BadgeField person={person} setAt={badgeSetAt} /> : null}
    </Section>
  );
}

function BadgeField({ person, setAt }: { readonly person: string; readonly setAt: string | null }) {
  const zone = useZone();
  const set = useSetBadge(person);
  return (
    <DigitsSetter
      label={setAt ? `Badge, set ${sayWhen(setAt, zone)}: another number` : 'Badge number'}
      hint="As the reader at a desk types it; only a mark of it is kept"
      secret={false}
      setLabel="Set the badge"
      removeLabel="Take the badge away"
      fault={faultOf(set.error, 'digits')}
      error={set.error}
      busy={set.isPending}
      onType={() => set.reset()}
      onSet={(digits, done) => set.mutate(digits, { onSuccess: done })}
      {...(setAt ? { onRemove: () => set.mutate(null) } : {})}
    />
  );
}
