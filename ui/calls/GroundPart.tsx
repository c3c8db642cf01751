import { memo } from 'react';
import { View } from 'react-native';
import { groundCheck, permissionsFor, showNumber, watchedAs } from '../../core/calls/dialling';
import { ownOutsideNumbers } from '../../core/assurance/checks';
import { andList, type Estate, type NumberClass, type Person } from '../../core/estate';
import { shortName } from '../../core/calls/engine';
import { useWays } from '../data/routing';
import { space } from '../kit/theme';
import { Button, ProofMark, Section } from '../kit/parts';
import { Words } from '../kit/Words';

const CLASSES: Readonly<Record<NumberClass, string>> = {
  local: 'local',
  national: 'national',
  mobile: 'mobiles',
  'toll-free': 'toll-free',
  premium: 'premium',
  international: 'abroad',
};

/**
 * Whether this line can call out at all, and each of its own outside phones: by its permission, by a trunk, and
 * through the route table. Without it outside phones fail silently.
 */
export const GroundPart = memo(function GroundPart({
  person,
  estate,
  onEdit,
}: {
  readonly person: Person;
  readonly estate: Estate;
  readonly onEdit: ((change: (person: Person) => Person, merge?: string) => void) | null;
}) {
  const check = groundCheck(person, estate);
  // Numbers that are masked for this role cannot be judged here.
  const targets = check.targets.filter(({ e164 }) => /^\+\d+$/.test(e164));
  const ways = useWays(
    targets.filter(({ may }) => may.ok).map(({ e164 }) => e164),
    person.id,
  );
  const unrouted = new Set(
    ways.isPlaceholderData
      ? []
      : (ways.data ?? []).filter(({ end }) => end === 'not-routed').map(({ typed }) => typed),
  );
  const limit = estate.settings?.fraudProtection?.ownTargets;
  const own = ownOutsideNumbers(person);
  const watched = own.filter((e164) => watchedAs(e164, estate));
  const trunks = [...new Set(check.classes.map(({ trunk }) => trunk))];
  const row = (key: string, ok: boolean, text: string, mend?: { label: string; does: () => void }) => (
    <View key={key} style={{ gap: space(1), alignItems: 'flex-start' }}>
      <View style={{ flexDirection: 'row', gap: space(2), alignItems: 'center' }}>
        <ProofMark state={ok ? 'holds' : 'broken'} />
        <Words style={{ flexShrink: 1 }}>{text}</Words>
      </View>
      {mend ? <Button label={mend.label} onPress={mend.does} /> : null}
    </View>
  );
  return (
    <Section title="Ground check">
      {row(
        'out',
        check.classes.length > 0,
        check.classes.length > 0
          ? `Calls out: ${check.classes.map((each) => CLASSES[each.class]).join(', ')}, by ${andList(trunks)}`
          : 'This line cannot call any outside number: its permission allows none, or no trunk carries one.',
      )}
      {targets.map(({ endpoint, label, e164, may }) => {
        const [mend] = may.reason === 'not-permitted' ? permissionsFor(e164, estate) : [];
        const ok = may.ok && !unrouted.has(e164);
        return row(
          endpoint,
          ok,
          ok
            ? `${label}, ${showNumber(e164)}: can be dialled`
            : may.ok
              ? `${label}, ${showNumber(e164)}: no route of the table takes it`
              : `${label}, ${showNumber(e164)}: ${may.heard ?? 'cannot be dialled'}`,
          mend && onEdit
            ? {
                label: `Give ${shortName(person.name)} the permission ${mend.name}`,
                does: () => onEdit((before) => ({ ...before, permission: mend.id })),
              }
            : undefined,
        );
      })}
      {watched.map((e164) =>
        row(`watched ${e164}`, false, `${showNumber(e164)} is watched by the fraud protection`),
      )}
      {limit !== undefined && own.length > limit
        ? row('limit', false, `${own.length} outside numbers; ${limit} is the most that a person may set`)
        : null}
    </Section>
  );
});
