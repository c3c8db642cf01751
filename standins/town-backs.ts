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

/** Calls back that are under way, and how the phones at both ends do meanwhile. */
export function townBacks(tell: (message: FromStandins) => void) {
  const mine = new Set<string>();
  const theirs = new Set<string>();
  return {
    /** How the stand-in of a number does while it is part of a call back; null: as it does otherwise. */
    mannerOf: (number: string, does: Manner['behaviour'], times: EndpointTimes | null): Manner | null => {
      const common = {
        times: times ?? endpointTimes({ kind: 'mobile' }),
        isPublic: true,
        says: `hello from ${number}`,
      };
      const isFree = (does.state ?? 'ready') === 'ready';
      if (mine.has(number) && isFree) return { ...common, behaviour: { answerAfterMs: WAITS_MS, ...does } };
      if (!theirs.has(number) || times !== null) return null;
      return {
        ...common,
        behaviour: { setupMs: 600, answerAfterMs: ANSWERS_MS, mailboxAfterMs: null },
        onMessage: { afterMs: TALKS_MS, press: null },
      };
    },
    call: (system: PhoneSystem, order: CallBack): void => {
      mine.add(order.mobile);
      theirs.add(order.number);
      system.callBack(order, (at) => {
        if (at.step === 'over') {
          mine.delete(order.mobile);
          theirs.delete(order.number);
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
