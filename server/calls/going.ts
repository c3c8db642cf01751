import type { CallGoing } from '../../api/calls';
import { endpointName, type EstateIndex } from '../../core/calls/engine';
import { calledAt } from '../collected';
import type { CallGoingOn, Services } from '../http';

const MOST = 300;

/** The calls that are going on now over this server’s phone system, those that began first first. */
export async function callsGoing({
  calls,
  store,
  now,
}: Pick<Services, 'calls' | 'store' | 'now'>): Promise<readonly CallGoing[]> {
  const { index } = await store.current();
  // The phone system’s clock is that of the machine.
  const nowMs = Math.max(Date.now(), now().getTime());
  return [...calls()]
    .sort((a, b) => a[1].startMs - b[1].startMs)
    .slice(0, MOST)
    .map(([id, call]) => told(index, id, call, nowMs));
}

/** Who or what has a number: of the organisation, or an access number. */
const nameOf = (index: EstateIndex, number: string): string | null =>
  index.estate.accessNumbers?.find((each) => each.number === number)?.name ??
  calledAt(index, number)?.name ??
  null;

const OUT_BY = { access: 'an access number', code: 'a code', back: 'a call back' } as const;

function told(index: EstateIndex, id: string, going: CallGoingOn, nowMs: number): CallGoing {
  const { startMs, call, settled, out } = going;
  if (out) {
    const { step, talksMs } = out;
    return {
      id,
      at: new Date(startMs).toISOString(),
      from: out.from,
      to: out.to,
      toName: nameOf(index, out.to),
      forMs: Math.max(0, nowMs - startMs),
      talkMs: talksMs === null ? null : Math.max(0, nowMs - talksMs),
      where: null,
      rule: OUT_BY[out.by],
      step,
    };
  }
  const trace = settled?.trace ?? going.trace;
  const outcome = settled?.trace.outcome ?? null;
  const rings = settled
    ? []
    : (trace?.legs ?? []).filter(
        ({ alertMs, endMs }) => alertMs !== null && alertMs <= nowMs - startMs && endMs > nowMs - startMs,
      );
  const step = trace?.path.at(-1);
  const person = step && 'person' in step ? index.people.get(step.person) : undefined;
  const rule = step && 'rule' in step ? person?.plan.rules.find((each) => each.id === step.rule) : undefined;
  return {
    id,
    at: new Date(startMs).toISOString(),
    from: call.from,
    to: call.to,
    toName: calledAt(index, call.to)?.name ?? null,
    forMs: Math.max(0, nowMs - startMs),
    talkMs: settled && outcome?.kind === 'answered' ? Math.max(0, nowMs - settled.atMs) : null,
    where:
      outcome && 'endpoint' in outcome
        ? endpointName(index, outcome.endpoint)
        : outcome?.kind === 'mailbox'
          ? 'Voicemail'
          : rings.map(({ endpoint }) => endpointName(index, endpoint)).join(', ') || null,
    rule: person ? `${person.name}: ${rule?.name ?? 'default rule'}` : null,
  };
}
