import { deskOfEndpoint, hotDeskOf } from '../../core/desks';
import type { Estate } from '../../core/estate';
import type { Trace } from '../../core/calls/engine';
import type { AccountOf } from '../../standins/messages';

/** An account as the phone system has it: a shared desk’s phone is that of whoever is signed on there. */
export function asSignedOn(account: AccountOf, estate: Estate, on: ReadonlyMap<string, string>): AccountOf {
  const desk = account.endpoint === null ? null : deskOfEndpoint(account.endpoint);
  if (desk === null) return account;
  const person = estate.people.find(({ id }) => id === on.get(desk));
  const endpoint = person && hotDeskOf(person);
  return { ...account, desk, ...(endpoint ? { endpoint } : {}) };
}

/** The endpoints of each call in progress, as the phone system tells of them. */
export function callsInProgress() {
  const calls = new Map<string, Set<string>>();
  return {
    /** @param by the endpoint that it is placed from; null: it came by a trunk */
    began: (id: string, by: string | null): void => {
      if (by !== null) calls.set(id, new Set([by]));
    },
    settled: (id: string, { legs }: Pick<Trace, 'legs'>): void => {
      for (const { endpoint, end } of legs)
        if (end === 'connected') calls.set(id, (calls.get(id) ?? new Set()).add(endpoint));
    },
    /** @returns the endpoints that it was at */
    over: (id: string): readonly string[] => {
      const endpoints = [...(calls.get(id) ?? [])];
      calls.delete(id);
      return endpoints;
    },
    clear: (): void => calls.clear(),
    endpoints: (): ReadonlySet<string> => new Set([...calls.values()].flatMap((each) => [...each])),
  };
}
