import type { CallBack, CallBackAt } from '../../standins/system';
import type { ToStandins } from '../../standins/messages';

/** A call back with how far it has come. */
export interface CallBackNow {
  readonly order: CallBack;
  readonly at: CallBackAt;
  /** When it ended, ms since 1970; null: it goes on. */
  readonly overMs: number | null;
}

/** So long it is told how one ended. */
const TOLD_MS = 120_000;
const MOST = 500;

/** The calls back that the phone system has, and how those ended that it had of late. */
export function callsBack(send: (message: ToStandins) => void, onOver: (id: string) => void) {
  const known = new Map<string, CallBackNow>();
  const forget = () => {
    const nowMs = Date.now();
    for (const [id, { overMs }] of known) if (overMs !== null && nowMs - overMs > TOLD_MS) known.delete(id);
    for (const id of known.keys()) if (known.size > MOST) known.delete(id);
  };
  const put = (id: string, at: CallBackAt) => {
    const before = known.get(id);
    if (before && before.overMs === null)
      known.set(id, { ...before, at, overMs: at.step === 'over' ? Date.now() : null });
    if (at.step === 'over') onOver(id);
  };
  const begun = ({ order, ...more }: Pick<CallBackNow, 'order'> & Partial<CallBackNow>): void => {
    forget();
    if (!known.has(order.id))
      known.set(order.id, { at: { step: 'rings-you', why: null }, overMs: null, ...more, order });
  };
  return {
    place: (order: CallBack): true => {
      begun({ order });
      send({ kind: 'call-back', order });
      return true;
    },
    /** One that another server has placed. */
    begun,
    all: (): readonly CallBackNow[] => [...known.values()],
    told: put,
    systemEnded: (): void => {
      for (const id of known.keys()) put(id, { step: 'over', why: 'The phone system ended.' });
    },
    of: (person: string): readonly CallBackNow[] => {
      forget();
      return [...known.values()].filter(({ order }) => order.person === person);
    },
  };
}
