import type { PersonPage } from '../../api/people';
import { memo, useMemo, useState } from 'react';
import { DateTime } from 'luxon';
import { coverOf, setPermission } from '../../core/editing';
import { capital, forwardAt, type Estate, type Person, type SimpleEnding } from '../../core/estate';
import { endingPhrase, type EstateIndex } from '../../core/calls/engine';
import { isoIn } from '../../core/calls/time';
import { messageOf } from '../data/api';
import { personKey, useChangePerson } from '../data/data';
import { useAsked, useEffectOfAct } from '../data/effect';
import { useCanEdit, useRole } from '../data/session';
import { AskWorse, EffectNote } from '../edit/EffectNote';
import { EndingEditor } from '../plan/EndingEditor';
import { Button, Choice, Field, Section, Trouble } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';
import { zoneNamed } from '../../core/zones';

/** All of a person's calls somewhere else until a time; it ends by itself, and what was before is back. */
export const CoverPart = memo(function CoverPart({
  page,
  person,
  estate,
  index,
  now,
  onEdit,
}: {
  readonly page: PersonPage;
  readonly person: Person;
  readonly estate: Estate;
  readonly index: EstateIndex;
  readonly now: number;
  readonly onEdit: ((change: (person: Person) => Person) => void) | null;
}) {
  const role = useRole();
  const canSet = useCanEdit() || role === 'help-desk';
  const [open, setOpen] = useState(false);
  const change = useChangePerson<{ ending: SimpleEnding | null; until?: string }>(person.id, 'PUT', '/cover');
  const line = page.person.lines[0];
  const cover = line ? coverOf(line, now) : null;
  const always = line && !cover ? forwardAt(line, now) : null;
  // What stood before the cover comes back by itself.
  const then =
    line?.forwardUntil !== undefined && line.forwardAfter
      ? `Then all calls again: ${endingPhrase(index, line.forwardAfter, person.id)}.`
      : 'Then the plan decides again.';
  const until = (iso: string) =>
    DateTime.fromISO(iso, { zone: zoneNamed(estate.timeZone) })
      .setLocale('en')
      .toFormat('ccc d LLL, HH:mm');
  return (
    <Section
      title="Cover"
      term="cover"
      aside={
        canSet ? (
          cover || always ? (
            <Button
              kind="quiet"
              label="End it now"
              busy={change.isPending}
              onPress={() => change.mutate({ ending: null })}
            />
          ) : (
            <Button kind="quiet" label="Cover for today" onPress={() => setOpen(true)} />
          )
        ) : null
      }
    >
      {change.isError ? <Trouble message={messageOf(change.error)} /> : null}
      <Words tone={cover || always ? 'accent' : 'soft'} strong={cover !== null}>
        {cover
          ? `All calls: ${endingPhrase(index, cover.ending, person.id)}, until ${until(cover.until)}. ${then}`
          : always
            ? `Call forwarding is on and ends only when somebody ends it: ${endingPhrase(index, always, person.id)}.`
            : 'Nobody covers: the plan decides.'}
      </Words>
      {open ? (
        <CoverSheet
          person={person}
          estate={estate}
          index={index}
          now={now}
          busy={change.isPending}
          onPermission={onEdit && ((id) => onEdit((before) => setPermission(before, id)))}
          onClose={() => setOpen(false)}
          onSet={(ending, iso) =>
            change.mutate(
              { ending, ...(iso === null ? {} : { until: iso }) },
              { onSuccess: () => setOpen(false) },
            )
          }
        />
      ) : null}
    </Section>
  );
});

function CoverSheet({
  person,
  estate,
  index,
  now,
  busy,
  onPermission,
  onClose,
  onSet,
}: {
  person: Person;
  estate: Estate;
  index: EstateIndex;
  now: number;
  busy: boolean;
  onPermission: ((permission: string) => void) | null;
  onClose: () => void;
  /** `until` null: until somebody ends it. */
  onSet: (ending: SimpleEnding, until: string | null) => void;
}) {
  const zone = estate.timeZone;
  const today = DateTime.fromMillis(now, { zone: zoneNamed(zone) });
  // Nothing is chosen beforehand: a cover that nobody thought of would take a day's calls.
  const [ending, setEnding] = useState<SimpleEnding | null>(null);
  const [days, setDays] = useState(0);
  const [isOpen, setOpen] = useState(false);
  const [clock, setClock] = useState(today.hour < 16 ? '17:00' : '23:59');
  const isClock = /^([01]?\d|2[0-3]):[0-5]\d$/.test(clock);
  const [hour, minute] = clock.split(':').map(Number);
  const at = today
    .startOf('day')
    .plus({ days })
    .set({ hour: hour ?? 0, minute: minute ?? 0 });
  const isLate = isClock && at.toMillis() > now;
  const until = isOpen ? null : isoIn(at.toMillis(), zone);
  const isReady = ending !== null && (isOpen || isLate);
  const act = useMemo(
    () => (isReady && ending ? { ending, ...(until === null ? {} : { until }) } : null),
    [isReady, ending, until],
  );
  const effect = useEffectOfAct(`${personKey(person.id)}/effect`, act);
  const asked = useAsked(effect, () => ending && onSet(ending, until));
  return (
    <Sheet
      title={`All calls for ${person.name}`}
      open
      onClose={onClose}
      action={{
        label:
          ending === null
            ? 'Choose where calls go'
            : isOpen || isLate
              ? `${capital(endingPhrase(index, ending, person.id))} ${isOpen ? 'until somebody ends it' : `until ${at.setLocale('en').toFormat('ccc HH:mm')}`}`
              : 'Until when?',
        disabled: !isReady,
        busy: busy || asked.waits,
        onPress: asked.press,
      }}
    >
      <EndingEditor
        label="All calls go"
        ending={ending}
        estate={estate}
        index={index}
        owner={person}
        canQueue={false}
        onChange={(next) => setEnding(next as SimpleEnding)}
        onUnset={() => setEnding(null)}
        {...(onPermission ? { onPermission } : {})}
      />
      <Choice
        label="Until which day"
        value={isOpen ? 'open' : String(days)}
        options={[
          ...Array.from({ length: 7 }, (_, i) => ({
            value: String(i),
            label: i === 0 ? 'Today' : today.plus({ days: i }).setLocale('en').toFormat('ccc d'),
          })),
          { value: 'open', label: 'No end' },
        ]}
        onChange={(next) => {
          setOpen(next === 'open');
          if (next !== 'open') setDays(Number(next));
        }}
      />
      {isOpen ? (
        <Words tone="ochre">
          Without an end it stays on until somebody thinks of it: calls may be going there for months. A day
          and a time can be moved later.
        </Words>
      ) : (
        <Field
          label={`Until when, ${zone.split('/').at(-1)?.replace('_', ' ')} time`}
          mono
          value={clock}
          onChange={setClock}
          error={
            !isClock ? 'A time from 00:00 to 23:59, such as 17:00' : isLate ? null : 'This has passed already'
          }
        />
      )}
      {act ? <EffectNote effect={effect} /> : null}
      {asked.asks ? (
        <AskWorse effect={effect} label="Set it all the same" onSure={asked.sure} onBack={asked.back} />
      ) : null}
    </Sheet>
  );
}
