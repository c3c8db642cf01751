/**
 * Names that stood in estate files, calls and stored objects before the trade's own were taken: they are read for ever
 * and no longer written. docs/formats.md lists them.
 */
const KEYS: Readonly<Record<string, string>> = {
  onlyWhile: 'whileRegistered',
  onlyUnless: 'unlessRegistered',
  hardwareAddress: 'macAddress',
  letIn: 'remoteRegistration',
  sipHelper: 'sipAlg',
  places: 'callsFrom',
  guard: 'fraudProtection',
};
const MODES: Readonly<Record<string, string>> = {
  together: 'simultaneous',
  'in-order': 'linear',
  rotate: 'circular',
};
const KINDS: Readonly<Record<string, string>> = {
  'foreign-mailbox': 'carrier-voicemail',
  'no-foreign-mailbox': 'no-carrier-voicemail',
};

/** Nothing of ours lies deeper; what does is refused by whoever reads it. */
const DEEPEST = 60;

const isObject = (value: unknown): value is Readonly<Record<string, unknown>> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
/** Whether an object has a key of its own, whatever it is called. */
const has = (object: object, key: string): boolean => Object.prototype.hasOwnProperty.call(object, key);
const renamed = (table: Readonly<Record<string, string>>, name: string): string | undefined =>
  has(table, name) ? table[name] : undefined;

/** The name that a key has now; a key that stands beside its new name keeps its own, and is a fault where it is read. */
function keyNow(object: Readonly<Record<string, unknown>>, key: string): string {
  const name = renamed(KEYS, key);
  if (name === undefined || has(object, name)) return key;
  // A box of a network has the name that network files have; of a site it is an older one.
  if (key === 'sipHelper' && has(object, 'inside')) return key;
  // A list of a person's, and nothing else that is called so.
  if (key === 'places') return Array.isArray(object.places) ? name : key;
  // Settings of the organisation: what is watched and how many numbers a person may have.
  if (key === 'guard') return isObject(object.guard) && has(object.guard, 'prefixes') ? name : key;
  return isObject(object[key]) || Array.isArray(object[key]) ? key : name;
}

function valueNow(key: string, value: unknown, depth: number): unknown {
  if (typeof value !== 'string') return withNewNames(value, depth);
  if (key === 'mode') return renamed(MODES, value) ?? value;
  return key === 'kind' ? (renamed(KINDS, value) ?? value) : value;
}

/**
 * The same value with the names of today wherever an older one stands: what an estate file, a call, a drill or a
 * promise of before holds. What has no older name in it comes back as it is.
 */
export function withNewNames<T>(value: T, depth = 0): T {
  if (depth > DEEPEST) return value;
  if (Array.isArray(value)) {
    const all = value.map((each: unknown) => withNewNames(each, depth + 1));
    return all.some((each, i) => each !== value[i]) ? (all as T) : value;
  }
  if (!isObject(value)) return value;
  let isSame = true;
  const entries = Object.entries(value).map(([key, before]) => {
    const name = keyNow(value, key);
    const now = valueNow(key, before, depth + 1);
    isSame &&= name === key && now === before;
    return [name, now] as const;
  });
  return isSame ? value : (Object.fromEntries(entries) as T);
}

/**
 * A path of a fault in the names that the value itself has, where those are older ones.
 * @param path as `people[0].plan.rules[1].when`
 */
export function pathIn(value: unknown, path: string): string {
  let at = value;
  return path.replace(/\[(\d+)\]|[^.[\]]+/g, (step, index: string | undefined) => {
    const name = index ?? step;
    const own =
      isObject(at) && !has(at, name) ? Object.keys(at).find((key) => renamed(KEYS, key) === name) : undefined;
    at =
      isObject(at) || Array.isArray(at) ? (at as Readonly<Record<string, unknown>>)[own ?? name] : undefined;
    return index === undefined ? (own ?? step) : step;
  });
}

const OLDER = new RegExp(
  `"(?:${[...Object.keys(KEYS), ...Object.keys(MODES), ...Object.keys(KINDS)].join('|')})"`,
);

/** Reads JSON that was kept, whichever names it was written with. */
export function readKept(text: string): unknown {
  const value: unknown = JSON.parse(text);
  return OLDER.test(text) ? withNewNames(value) : value;
}
