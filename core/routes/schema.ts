import { mixed, type AnySchema } from 'yup';
import {
  faultsOf,
  parts,
  scheduleSchema,
  type Fault,
  type Rewrite,
  type RouteWhen,
  type Peer,
  type Route,
  type Branch,
  type NumberList,
  type RouteThen,
} from '../estate';
import { readDigitMap } from './digit-map';
import { FORMS, type RouteTable } from './types';

const {
  closed,
  list,
  requiredId,
  requiredList,
  requiredText,
  text,
  oneOf,
  count,
  flag,
  ms,
  isObject,
  choose,
} = parts;

const MOST_ROUTES = 5000;
const dialledText = () =>
  text(40).matches(/^\+?[0-9*#A-D]*$/, 'must be digits, *, #, A to D, with or without a leading +');
const rewrite = (needed: boolean): AnySchema => {
  const schema = closed<Rewrite>({
    drop: count(0, 40).required('is missing'),
    prepend: dialledText().defined('is missing'),
  });
  return needed ? schema.required('is missing') : parts.maybe(schema);
};
const prefixes = () => list(dialledText().required('is missing'));

const when = () =>
  closed<RouteWhen>({
    from: list(requiredId()),
    dialled: parts.maybe(
      closed<NonNullable<RouteWhen['dialled']>>({
        prefixes: prefixes(),
        map: mixed().test('map', function (value) {
          if (value === undefined) return true;
          const read = typeof value === 'string' ? readDigitMap(value) : null;
          if (read?.ok) return true;
          const [first] = read?.faults ?? [];
          return this.createError({
            message: first ? `is no digit map: at ${first.at} ${first.message}` : 'must be a digit map',
          });
        }),
        minDigits: count(0, 40),
        maxDigits: count(0, 40),
      }),
    ),
    caller: parts.maybe(closed({ prefixes: requiredList(dialledText().required('is missing')) })),
    list: parts.maybe(closed({ id: requiredId(), of: oneOf(['dialled', 'caller']).required('is missing') })),
    schedule: parts.maybe(closed({ id: requiredId(), inside: flag().required('is missing') })),
  });

const then = () =>
  choose((value: unknown): AnySchema => {
    if (isObject(value)) {
      if ('send' in value)
        return closed({
          send: closed<Extract<RouteThen, { send: unknown }>['send']>({
            peer: requiredId(),
            rewrite: rewrite(false),
            orElse: list(requiredId()),
          }),
        });
      if ('fork' in value)
        return closed({
          fork: closed({
            branches: requiredList(
              closed<Branch>({ peer: requiredId(), rewrite: rewrite(false), delayMs: ms() }),
            ).min(1, 'must have a branch'),
          }),
        });
      if ('rewrite' in value)
        return closed({ rewrite: closed({ rewrite: rewrite(true), caller: rewrite(false) }) });
      if ('refuse' in value)
        return closed({ refuse: closed({ cause: count(400, 699).required('is missing') }) });
    }
    return mixed().test('then', 'must have send, fork, rewrite or refuse', () => false);
  });

export const tableSchema = closed<RouteTable>({
  peers: requiredList(
    closed<Peer>({
      id: requiredId(),
      name: requiredText(),
      role: text(),
      expects: oneOf(FORMS).required('is missing'),
      limit: count(0),
      trunk: text(120),
      sendsBack: parts.maybe(closed({ rewrite: rewrite(false) })),
    }),
  ),
  lists: requiredList(
    closed<NumberList>({ id: requiredId(), name: requiredText(), numbers: requiredList(text(40)) }),
  ),
  routes: requiredList(
    closed<Route>({
      id: requiredId(),
      name: requiredText(),
      enabled: flag().required('is missing'),
      when: when(),
      then: then(),
    }),
  ).max(MOST_ROUTES, `must be ${MOST_ROUTES} routes at most`),
  lines: text(120),
  hopLimit: count(1, 100),
  schedules: list(scheduleSchema),
});

/**
 * Faults between the parts of a table that is right in form: ids that nothing has, and those that two things have. A
 * table that comes without schedules may ask for them: its routes for certain hours then do not act in a trace.
 */
export function tableFaults(table: RouteTable): Fault[] {
  const faults: Fault[] = [];
  const unique = (of: readonly { id: string }[], path: string) => {
    const seen = new Set<string>();
    of.forEach(({ id }, i) => {
      if (seen.has(id))
        faults.push({ path: `${path}[${i}].id`, message: `"${id}" stands twice`, code: 'twice' });
      seen.add(id);
    });
    return seen;
  };
  const peers = unique(table.peers, 'peers');
  const lists = unique(table.lists, 'lists');
  unique(table.routes, 'routes');
  const schedules = unique(table.schedules ?? [], 'schedules');
  const need = (set: ReadonlySet<string>, id: string | undefined, what: string, path: string) => {
    if (id !== undefined && !set.has(id)) faults.push({ path, message: `there is no ${what} "${id}"` });
  };
  need(peers, table.lines, 'peer', 'lines');
  table.routes.forEach(({ when: asks, then: does }, i) => {
    const path = `routes[${i}]`;
    asks.from?.forEach((id, n) => need(peers, id, 'peer', `${path}.when.from[${n}]`));
    need(lists, asks.list?.id, 'list', `${path}.when.list.id`);
    if (table.schedules) need(schedules, asks.schedule?.id, 'schedule', `${path}.when.schedule.id`);
    if ('send' in does) {
      need(peers, does.send.peer, 'peer', `${path}.then.send.peer`);
      does.send.orElse?.forEach((id, n) => need(peers, id, 'peer', `${path}.then.send.orElse[${n}]`));
    }
    if ('fork' in does)
      does.fork.branches.forEach(({ peer }, n) =>
        need(peers, peer, 'peer', `${path}.then.fork.branches[${n}].peer`),
      );
  });
  return faults;
}

/** Ids that two parts of a table have; such a table cannot be analysed. */
const isTwice = ({ code }: Fault): boolean => code === 'twice';

/**
 * Reads a value as a route table that is to be analysed: peers and lists that are not there are findings of the
 * analysis, not faults of the file.
 */
export function readTableForAnalysis(value: unknown): ReturnType<typeof readTable> {
  const form = faultsOf(tableSchema, value);
  if (form.length > 0) return { ok: false, faults: form };
  const table = value as RouteTable;
  const faults = tableFaults(table).filter(isTwice);
  return faults.length > 0 ? { ok: false, faults } : { ok: true, table };
}

/** Reads a value as a route table: first its form, then what its parts refer to. */
export function readTable(
  value: unknown,
):
  | { readonly ok: true; readonly table: RouteTable }
  | { readonly ok: false; readonly faults: readonly Fault[] } {
  const form = faultsOf(tableSchema, value);
  if (form.length > 0) return { ok: false, faults: form };
  const table = value as RouteTable;
  const faults = tableFaults(table);
  return faults.length > 0 ? { ok: false, faults } : { ok: true, table };
}
