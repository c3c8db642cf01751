import { endpointTimes, type EndpointTimes } from '../core/estate';
import type { KnownEndpoint } from '../core/calls/engine';
import type { FromStandins, PhoneSetting } from './messages';
import type { Manner } from './phones/answering';
import { subscriber } from './phones/subscriber';
import type { CallBack, PhoneSystem } from './system';
import { behaviourOf } from './town-phones';

/** Whoever asked to be called back waits for it; whoever is called then answers soon, and talks for a while. */
const WAITS_MS = 2500;
const ANSWERS_MS = 1500;
const TALKS_MS = 5000;
const PRESSES_MS = 1000;
/** So long a number that is called over an access number answers as somebody does who is there. */
const EXPECTED_MS = 120_000;
const EXPECTED_TALKS_MS = 2000;

/** Calls back that are under way, and how the phones at both ends do meanwhile. */
export function townBacks(tell: (message: FromStandins) => void) {
  const mine = new Set<string>();
  /** Until when each number is somebody's who is there, ms. */
  const theirs = new Map<string, number>();
  /** Numbers of those who have just signed on to a seat whose phone stays connected. */
  let holding: ReadonlySet<string> = new Set();
  const types = new Map<string, readonly string[]>();
  const isTheirs = (number: string): boolean => (theirs.get(number) ?? 0) > Date.now();
  return {
    /** How the stand-in of a number does while it is part of a call back; null: as it does otherwise. */
    mannerOf: (number: string, does: Manner['behaviour'], times: EndpointTimes | null): Manner | null => {
      const common = {
        times: times ?? endpointTimes({ kind: 'mobile' }),
        isPublic: true,
        says: `hello from ${number}`,
      };
      const isFree = (does.state ?? 'ready') === 'ready';
      if (holding.has(number) && isFree)
        return { ...common, behaviour: { answerAfterMs: WAITS_MS, pressAfterMs: PRESSES_MS, ...does } };
      if (mine.has(number) && isFree)
        return {
          ...common,
          behaviour: { answerAfterMs: WAITS_MS, ...does },
          types: types.get(number) ?? [],
        };
      if (!isTheirs(number) || times !== null) return null;
      return {
        ...common,
        behaviour: { setupMs: 600, answerAfterMs: ANSWERS_MS, mailboxAfterMs: null },
        onMessage: { afterMs: theirs.get(number) === Infinity ? TALKS_MS : EXPECTED_TALKS_MS, press: null },
      };
    },
    /** A number that somebody calls over an access number: it answers soon, and talks for a while. */
    expect: (number: string): void => {
      for (const [each, until] of theirs) if (until <= Date.now()) theirs.delete(each);
      theirs.set(number, Date.now() + EXPECTED_MS);
    },
    isTheirs,
    setHolding: (numbers: readonly string[]): void => {
      holding = new Set(numbers);
    },
    /** What is typed at a mobile that is called back and asked for a number. */
    willType: (mobile: string, typed: readonly string[]): void => {
      types.set(mobile, typed);
    },
    call: (system: PhoneSystem, order: CallBack): void => {
      const { number } = order;
      mine.add(order.mobile);
      if (number !== null) theirs.set(number, Infinity);
      system.callBack(order, (at) => {
        if (at.step === 'over') {
          mine.delete(order.mobile);
          types.delete(order.mobile);
          if (number !== null) theirs.delete(number);
        }
        tell({ kind: 'call-back', id: order.id, at });
      });
    },
  };
}

/** How the stand-in of a number of the public network takes a call. */
export function atCarrier(
  number: string,
  {
    known,
    settingOf,
    isListed,
    backs,
  }: {
    readonly known: KnownEndpoint | null;
    readonly settingOf: (endpoint: string) => PhoneSetting | undefined;
    readonly isListed: (number: string) => boolean;
    readonly backs: ReturnType<typeof townBacks>;
  },
): Manner {
  // Whoever is called by a round is a subscriber who does as the last digit of the number says.
  if (isListed(number)) return subscriber(number);
  const does = behaviourOf(known ? settingOf(known.endpoint.id) : undefined);
  return (
    backs.mannerOf(number, does, known?.times ?? null) ?? {
      behaviour: does,
      times: known?.times ?? endpointTimes({ kind: 'mobile' }),
      isPublic: true,
      says: `hello from ${number}`,
    }
  );
}
