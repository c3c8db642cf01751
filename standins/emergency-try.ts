import type { Trace } from '../core/calls/engine';
import { openEmergencyDesk, type EmergencyArrived } from './phones/emergency-desk';
import { oneByOne } from './one-by-one';
import { placeCall } from './phones/caller';
import type { EmergencyTried } from './messages';
import type { Phone } from './phones/phone';
import type { Clock } from './sip/clock';
import { newToken } from './sip/token';
import type { Peer } from './sip/transport';
import type { SystemAccount } from './system';

const DESK_ADDRESS = '127.0.50.3';
const TALK_MS = 600;
/** A call back is given up after so long: by then it has shown which phones it rings. */
const PATIENCE_MS = 9000;
/** Within this after a call is over the phone system tells what became of it. */
const SETTLED_WITHIN_MS = 5000;

export interface TriedAt {
  readonly phone: Phone;
  readonly account: { readonly user: string; readonly password: string };
  readonly number: string;
  /** Where the phone finds the phone system; `system`: where it is. */
  readonly server: Peer;
  readonly system: Peer;
}

/** The emergency desk of the carrier, and calls to it that are tried one after the other. */
export async function openEmergency(clock: Clock) {
  // By this account, which no other process knows, the desk calls back.
  const own: SystemAccount = { user: `emergency-${newToken(8)}`, password: newToken(18), endpoint: null };
  let arrived: EmergencyArrived | null = null;
  /** Who waits for the outcome of which call. */
  const waiting = new Map<string, (trace: Trace) => void>();
  const desk = await openEmergencyDesk(DESK_ADDRESS, clock, (call) => {
    arrived = call;
  });
  const next = oneByOne();

  async function callBack(number: string, from: string, server: Peer): Promise<readonly string[]> {
    const placed = await placeCall({
      phone: desk,
      clock,
      account: own,
      server,
      from,
      to: number,
      patienceMs: PATIENCE_MS,
      talkMs: TALK_MS,
    });
    // The desk may have put down before the phone system is through with the call.
    const trace = await new Promise<Trace | null>((resolve) => {
      waiting.set(placed.callId, resolve);
      const late = () => void clock.after(SETTLED_WITHIN_MS, () => resolve(null));
      void placed.over.then(late, late);
    });
    waiting.delete(placed.callId);
    return trace?.legs.flatMap(({ endpoint, alertMs }) => (alertMs === null ? [] : [endpoint])) ?? [];
  }

  async function tryOnce({ phone, account, number, server, system }: TriedAt): Promise<EmergencyTried> {
    arrived = null;
    const placed = await placeCall({
      phone,
      clock,
      account,
      server,
      from: account.user,
      to: number,
      patienceMs: PATIENCE_MS,
      talkMs: TALK_MS,
    });
    await placed.over;
    const came = arrived as EmergencyArrived | null;
    const back = came?.callerId ?? null;
    return { arrived: came, rang: back === null ? null : await callBack(back, number, system) };
  }

  return {
    place: desk.node.transport.local.udp,
    account: (user: string): SystemAccount | null => (user === own.user ? own : null),
    /** A call of the phone system that came to its outcome. */
    settled: (id: string, trace: Trace): void => {
      waiting.get(id)?.(trace);
    },
    tryAt: (at: TriedAt): Promise<EmergencyTried> => next(() => tryOnce(at)),
    close: () => desk.close(),
  };
}
