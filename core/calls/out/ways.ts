import { mayDial, type MayDial } from '../dialling';
import type { EstateIndex } from '../engine';
import { legCost, lineFor, type Tariff } from '../../records';
import type { E164, Endpoint, Person } from '../../estate';

/** How somebody can call a number: at a phone of the house, an app, by being called back, from the mobile itself. */
export type WayKind = 'desk' | 'app' | 'call-back' | 'mobile';

/** One way to call a number now. */
export interface WayToCall {
  readonly kind: WayKind;
  /** The phone that it is done at. */
  readonly endpoint: string;
  readonly label: string;
  readonly works: boolean;
  /** Why it does, or does not, in one sentence. */
  readonly why: string;
  /** The number that the other side sees; null: that is not known here. */
  readonly shows: E164 | null;
  /** What three minutes cost the organisation, in hundred-thousandths; null: there is no price, or it is theirs. */
  readonly cost: number | null;
  /** How well it sounds (MOS), where the line was measured. */
  readonly mos: number | null;
}

/** What is known of now. */
export interface NowKnown {
  /** Whether a phone is registered; null: not known. */
  readonly isRegistered: (endpoint: string) => boolean | null;
  readonly tariff: Tariff | null;
  /** "YYYY-MM-DD", by which prices count. */
  readonly day: string;
}

/** So long a call is priced. */
export const PRICED_MS = 180_000;
/** A line that sounds worse than this is told of. */
const POOR_MOS = 3.6;

const HOUSE: readonly Endpoint['kind'][] = ['desk', 'remote-desk', 'hot-desk'];
const APPS: readonly Endpoint['kind'][] = ['desktop-app', 'mobile-app'];

function priceOf(tariff: Tariff | null, number: E164, day: string, trunk: string | undefined): number | null {
  const line = tariff && lineFor(tariff, number, day, trunk);
  return line ? legCost(line, PRICED_MS).cost : null;
}

/**
 * The ways in which a person can call a number now, the best first: those that work before those that do not, those
 * that show the work number before the mobile itself, then by how they sound, then by what they cost.
 */
export function waysToCall(
  index: EstateIndex,
  person: Person,
  number: E164,
  { isRegistered, tariff, day }: NowKnown,
): readonly WayToCall[] {
  const may = mayDial(person, number, index.estate);
  const shows = person.lines.flatMap(({ numbers }) => numbers)[0] ?? null;
  const direct = priceOf(tariff, number, day, may.trunk);
  const ways = person.endpoints.flatMap((endpoint): readonly WayToCall[] => {
    const { id, label, kind, number: own } = endpoint;
    const mos = index.lineScores.get(id) ?? null;
    const base = { endpoint: id, label, mos };
    if (HOUSE.includes(kind) || APPS.includes(kind)) {
      const isThere = isRegistered(id);
      const isApp = APPS.includes(kind);
      return [
        {
          ...base,
          kind: isApp ? 'app' : 'desk',
          works: may.ok && isThere !== false,
          why: whyFrom(may, isThere, mos),
          shows,
          cost: direct,
        },
      ];
    }
    if (own === undefined) return [];
    const back = mayDial(person, own, index.estate);
    const toOwn = priceOf(tariff, own, day, back.trunk);
    return [
      {
        ...base,
        kind: 'call-back',
        works: may.ok && back.ok,
        why: !may.ok
          ? sayRefused(may)
          : back.ok
            ? `Your ${label.toLowerCase()} rings first; press 1 there, and the number is called.`
            : 'Your permission does not allow calls to this phone.',
        shows,
        cost: direct === null || toOwn === null ? null : direct + toOwn,
      },
      ...(kind === 'mobile'
        ? [
            {
              ...base,
              kind: 'mobile' as const,
              works: true,
              why: 'From the mobile itself: it shows its own number, and its own contract pays.',
              shows: own,
              cost: null,
            },
          ]
        : []),
    ];
  });
  return ways.sort(
    (a, b) =>
      Number(b.works) - Number(a.works) ||
      Number(a.kind === 'mobile') - Number(b.kind === 'mobile') ||
      Number(isPoor(a)) - Number(isPoor(b)) ||
      (a.cost ?? Infinity) - (b.cost ?? Infinity) ||
      ORDER.indexOf(a.kind) - ORDER.indexOf(b.kind),
  );
}
const ORDER: readonly WayKind[] = ['desk', 'app', 'call-back', 'mobile'];
const isPoor = ({ mos }: WayToCall): boolean => mos !== null && mos < POOR_MOS;

const REFUSED: Readonly<Record<NonNullable<MayDial['reason']>, string>> = {
  'bad-number': 'There is no such number.',
  'not-permitted': 'Your permission does not allow this number.',
  'no-route': 'No trunk carries such numbers.',
  'no-channel': 'Every channel of the trunks is taken.',
};
const sayRefused = ({ reason }: MayDial): string => REFUSED[reason ?? 'bad-number'];

function whyFrom(may: MayDial, isThere: boolean | null, mos: number | null): string {
  if (!may.ok) return sayRefused(may);
  if (isThere === false) return 'It is not registered now.';
  if (mos !== null && mos < POOR_MOS) return 'Its line was measured as poor: it may sound badly.';
  return isThere === null ? 'Dial it there.' : 'It is registered: dial it there.';
}
