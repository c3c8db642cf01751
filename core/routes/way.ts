import { dialReader, inForm, mayDial, type Interpreted, type MayDial } from '../calls/dialling';
import type { Estate, Person } from '../estate';
import { endsOf, traceRoute } from './trace';
import type { CompiledTable, RouteTrace } from './types';

/** The whole way of something typed at a person's line, as far as it gets. */
export interface NumberWay {
  readonly typed: string;
  readonly understood: Interpreted;
  readonly permission?: MayDial;
  /** How the call enters the route table: from which peer, and the number in that peer's form. */
  readonly enters?: { readonly peer: string; readonly number: string };
  readonly trace?: RouteTrace;
  /** The trunk by which it leaves, and what is sent there. */
  readonly trunk?: string;
  readonly sent?: string;
  /** Where the way ends: at an extension, outside, or refused at one of the steps. */
  readonly end: 'inside' | 'outside' | 'not-understood' | 'not-permitted' | 'not-routed';
}

/** The first step of a trace at which the call ends at a peer. */
function sentOut(trace: RouteTrace): { readonly peer: string; readonly number: string } | null {
  if (trace.end?.kind === 'peer') return { peer: trace.end.peer, number: trace.number };
  for (const branch of trace.branches) {
    const found = sentOut(branch);
    if (found) return found;
  }
  return null;
}

/**
 * Follows what somebody types from the keys to the trunk: what it is understood as, whether the line may call it,
 * the way through the route table where there is one, and the digits that leave.
 * @param table the route table made ready; null: there is none, and the estate's trunks carry calls themselves
 * @param atMs ms since 1970
 */
export function wayOfNumber(
  typed: string,
  person: Person,
  estate: Pick<Estate, 'dialling' | 'trunks' | 'permissions'>,
  extensions: ReadonlySet<string>,
  table: CompiledTable | null,
  atMs: number,
): NumberWay {
  const understood = dialReader(estate.dialling, extensions).interpret(typed);
  if (understood.kind === 'invalid') return { typed, understood, end: 'not-understood' };
  if (understood.kind !== 'number' || understood.e164 === undefined)
    return { typed, understood, end: 'inside' };
  const { e164 } = understood;
  const permission = mayDial(person, e164, estate);
  if (!permission.ok) return { typed, understood, permission, end: 'not-permitted' };
  const lines = table?.table.lines;
  const peer = lines === undefined ? undefined : table?.peers.get(lines);
  if (!table || !peer)
    return {
      typed,
      understood,
      permission,
      ...(permission.trunk === undefined ? {} : { trunk: permission.trunk }),
      sent: inForm(e164, 'dialled', estate.dialling),
      end: 'outside',
    };
  const number = inForm(e164, peer.expects, estate.dialling);
  const trace = traceRoute(table, {
    from: peer.id,
    dialled: number,
    atMs,
    ...(person.lines[0] ? { caller: person.lines[0].numbers?.[0] ?? person.lines[0].extension } : {}),
  });
  const out = sentOut(trace);
  const base = { typed, understood, permission, enters: { peer: peer.id, number }, trace };
  if (!out || !endsOf(trace).some(({ kind }) => kind === 'peer')) return { ...base, end: 'not-routed' };
  const trunk = table.peers.get(out.peer)?.trunk ?? permission.trunk;
  return { ...base, ...(trunk === undefined ? {} : { trunk }), sent: out.number, end: 'outside' };
}
