import type { Desk, Device, Estate, KeyUse, Person, PhoneKey, ServiceCode } from '../../estate';
import { modelOf, type PhoneModel } from '../phones';
import { usualKeys } from './keys';

/** Keys that stand at a shared desk whoever sits there; `watch` only while somebody does, for it tells of a colleague. */
const OF_THE_DESK: readonly KeyUse[] = ['sign-on', 'call'];
const WHILE_TAKEN: readonly KeyUse[] = [...OF_THE_DESK, 'watch'];

/** The code of the organisation that signs on and off; undefined: it has none. */
export const signOnCode = (codes: readonly ServiceCode[] = []): string | undefined =>
  codes.find(({ acts }) => acts === 'sign-on')?.code;

/**
 * The keys of a shared desk’s phone: those laid out for the desk itself where they stand, then those of whoever is
 * signed on (their lines, their twinning, whom they deal with) on the keys that are left. With nobody there nothing of
 * anybody stands on it: what was laid out to sign on and to call, and the key to sign on.
 * @param person who is signed on; null: nobody
 */
export function sharedKeys(
  { keys = [] }: Pick<Device, 'keys'>,
  model: Pick<PhoneModel, 'keys'>,
  person: Person | null,
  estate: Pick<Estate, 'groups' | 'dialling'>,
): readonly PhoneKey[] {
  const laid = keys.filter(
    ({ use, at }) => at <= model.keys && (person ? WHILE_TAKEN : OF_THE_DESK).includes(use),
  );
  const signsOn =
    laid.some(({ use }) => use === 'sign-on') || signOnCode(estate.dialling.codes) === undefined;
  // Whoever is signed on has to be able to sign off: where all keys are laid out, the last that may go gives way.
  const isFull = !signsOn && new Set(laid.map(({ at }) => at)).size >= model.keys;
  const gone = isFull ? laid.findLast(({ use }) => use !== 'call') : undefined;
  const stays = laid.filter((key) => key !== gone);
  const taken = new Set(stays.map(({ at }) => at));
  const free = Array.from({ length: model.keys }, (_each, i) => i + 1).filter((at) => !taken.has(at));
  const wanted: readonly Omit<PhoneKey, 'at'>[] = [
    ...(signsOn ? [] : [{ use: 'sign-on' } as const]),
    ...(person ? usualKeys(model, { person, endpoint: undefined }, estate) : []),
  ];
  return [...stays, ...wanted.slice(0, free.length).map((key, i) => ({ ...key, at: free[i]! }))].sort(
    (a, b) => a.at - b.at,
  );
}

/** What stands on the display of a shared desk’s phone while nothing goes on: who has it, or how one signs on. */
export function sharedDisplay(
  desk: Pick<Desk, 'name' | 'credential'>,
  person: Person | null,
  code?: string,
): string {
  if (person) return `${desk.name}: ${person.name}`;
  if (desk.credential === 'page') return `${desk.name}: free. Sign on from your own page`;
  return code === undefined ? `${desk.name}: free` : `${desk.name}: free. Sign on: ${code}`;
}

/** The model of a shared desk’s phone; undefined: it is none of the catalogue. */
export const deskModel = (
  { devices = [] }: Pick<Estate, 'devices'>,
  { device }: Pick<Desk, 'device'>,
): PhoneModel | undefined => modelOf(devices.find(({ id }) => id === device)?.model ?? '');

/** How long a phone is away while it starts again for whoever signs on or off at its desk, ms; 0: it does not have to. */
export const restartsForMs = (model: PhoneModel | undefined): number =>
  model?.restartFor.some((part) => part === 'account' || part === 'keys') ? model.restartS * 1000 : 0;

/**
 * Until when a shared desk’s phone starts again after somebody signed on there, ms since 1970; null: it does not have
 * to, or has done so. It rings nothing meanwhile.
 */
export function startsUntil(model: PhoneModel | undefined, sinceMs: number, nowMs: number): number | null {
  const until = sinceMs + restartsForMs(model);
  return until > nowMs && until > sinceMs ? until : null;
}
