import type { ReachPromise } from '../../estate';
import { seconds, shortName, type EstateIndex } from '../../calls/engine';

/** Finds the names that a promise's sentence needs. */
export interface PromiseNames {
  readonly person: (id: string) => string | undefined;
  readonly schedule: (id: string) => string | undefined;
  readonly status: (id: string) => string | undefined;
}

/** The names of an estate that is ready for running calls. */
export const promiseNames = ({
  people,
  schedules,
  statuses,
}: Pick<EstateIndex, 'people' | 'schedules' | 'statuses'>): PromiseNames => ({
  person: (id) => people.get(id)?.name,
  schedule: (id) => schedules.get(id)?.name,
  status: (id) => statuses.get(id),
});

/** A promise as a sentence. */
export function sayPromise(promise: ReachPromise, names: PromiseNames): string {
  switch (promise.kind) {
    case 'own-mailbox':
      return `A call that nobody answers is in the person’s own mailbox within ${seconds(promise.withinMs)}`;
    case 'no-carrier-voicemail':
      return promise.spread
        ? `No mobile carrier’s voicemail ever takes a call, even if carriers’ times lie ${Math.round(promise.spread * 100)} % off`
        : 'No mobile carrier’s voicemail ever takes a call';
    case 'no-cut-off':
      return `Nobody who answers within ${seconds(promise.withinMs)} of the first ring is cut off`;
    case 'only-inside':
      return `The mobile never rings outside ${names.schedule(promise.schedule) ?? promise.schedule}`;
    case 'rings-within':
      return `Something rings within ${seconds(promise.withinMs)}`;
    case 'no-silence':
      return `The caller never hears nothing for more than ${seconds(promise.longestMs)}`;
    case 'no-loop':
      return 'No call goes round';
    case 'one-lost':
      return 'With any one phone gone, another still rings';
    case 'wait-at-most':
      return `No caller waits longer than ${seconds(promise.longestMs)}`;
    case 'may-dial':
      return 'Nothing is to ring that may not be dialled';
    case 'no-leaver':
      return `Nothing of anybody who is “${names.status(promise.status) ?? promise.status}” ever rings`;
    case 'no-stranger':
      return promise.allowed.length === 0
        ? 'No message lands in somebody else’s mailbox'
        : `No message lands in a mailbox but the person’s own or that of ${promise.allowed.map((id) => shortName(names.person(id) ?? id)).join(', ')}`;
  }
}
