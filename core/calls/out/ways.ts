import { dialString, mayDial, REFUSED_WORDS, showNumber, type MayDial } from '../dialling';
import type { EstateIndex } from '../engine';
import { legCost, lineFor, type Tariff } from '../../records';
import { DEFAULT_ACCESS, type E164, type Endpoint, type Person, type ShownNumber } from '../../estate';
import { beginAccess } from './access';
import { leftToday, USED_UP, type UsedToday } from './limits';
import { numberShown } from './shown';

/** How somebody can call a number: at a phone of the house, an app, by an access number, called back, from the mobile. */
export type WayKind = 'desk' | 'app' | 'access' | 'call-back' | 'mobile';

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
  /** Of an access number: what is rung first, and whether a PIN is asked for there. */
  readonly access?: {
    readonly name: string;
    readonly number: E164;
    readonly needsPin: boolean;
    /** What is typed there for the number. */
    readonly types: string;
  };
}

/** What is known of now. */
export interface NowKnown {
  /** Whether a phone is registered; null: not known. */
  readonly isRegistered: (endpoint: string) => boolean | null;
  readonly tariff: Tariff | null;
  /** "YYYY-MM-DD", by which prices count. */
  readonly day: string;
  /** ms since 1970, by which access numbers are open. */
  readonly atMs: number;
  /** What they have called today, for the limit of a day. */
  readonly used: UsedToday;
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
  { isRegistered, tariff, day, atMs, used }: NowKnown,
): readonly WayToCall[] {
  const may = mayDial(person, number, index.estate);
  const shownAs = (presents?: ShownNumber): E164 | null => {
    const { number: shown, isWithheld } = numberShown(index.estate, person, presents);
    return isWithheld ? null : shown;
  };
  const shows = shownAs();
  const limit = index.permissions.get(person.permission)?.dayLimit;
  const line = tariff && lineFor(tariff, number, day, may.trunk);
  const direct = line && legCost(line, PRICED_MS).cost;
  const isUsedUp = may.ok && leftToday(limit, used, line).mostMs === 0;
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
        works: may.ok && back.ok && !isUsedUp,
        why: !may.ok
          ? sayRefused(may)
          : isUsedUp
            ? USED_UP
            : back.ok
              ? `Your ${label.toLowerCase()} rings first; press 1 there, and the number is called.`
              : 'Your permission does not allow calls to this phone.',
        shows,
        cost: direct === null || toOwn === null ? null : direct + toOwn,
      },
      ...(kind === 'mobile'
        ? [
            ...accessWays(index, person, { mobile: own, number, atMs }).map(
              ({ access, works, why, presents }): WayToCall => ({
                ...base,
                kind: 'access',
                works: may.ok && !isUsedUp && works,
                why: !may.ok ? sayRefused(may) : isUsedUp ? USED_UP : why,
                shows: shownAs(presents),
                cost: direct,
                access,
              }),
            ),
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
const ORDER: readonly WayKind[] = ['desk', 'app', 'access', 'call-back', 'mobile'];

/** The access numbers that somebody can ring from a mobile of theirs, and whether they get in there now. */
function accessWays(
  index: EstateIndex,
  person: Person,
  { mobile, number, atMs }: { readonly mobile: E164; readonly number: E164; readonly atMs: number },
) {
  return (index.estate.accessNumbers ?? []).map((access) => {
    // That a carrier verifies the number is not known before the call: where it must, the PIN may be asked for.
    const caller = { from: mobile, isVerified: access.onlyVerified !== true, atMs };
    const turn = beginAccess(index, access, caller);
    const isKnown = turn.does === 'asks' && turn.state.person === person.id;
    const needsPin = turn.does === 'asks' && turn.state.asks !== 'number';
    return {
      access: {
        name: access.name,
        number: access.number,
        needsPin,
        types: dialString(number, index.estate.dialling),
      },
      presents: access.presents ?? DEFAULT_ACCESS.presents,
      works: turn.does === 'asks' && (isKnown || needsPin),
      why:
        turn.does === 'ends'
          ? turn.says
          : `Ring ${showNumber(access.number)}${!needsPin ? '' : isKnown ? ', type your PIN' : ', say who you are by extension and PIN'}, then type the number and the hash key.`,
    };
  });
}
const isPoor = ({ mos }: WayToCall): boolean => mos !== null && mos < POOR_MOS;

const sayRefused = ({ reason }: MayDial): string => REFUSED_WORDS[reason ?? 'bad-number'];

function whyFrom(may: MayDial, isThere: boolean | null, mos: number | null): string {
  if (!may.ok) return sayRefused(may);
  if (isThere === false) return 'It is not registered now.';
  if (mos !== null && mos < POOR_MOS) return 'Its line was measured as poor: it may sound badly.';
  return isThere === null ? 'Dial it there.' : 'It is registered: dial it there.';
}
