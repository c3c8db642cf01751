import type { Person } from '../../core/estate';
import { sayWish, twinningByCode, type Judged, type Wish } from '../../core/changes/own';
import { codeAsks, codeTells } from '../../standins/messages';
import type { CodeDialled, CodeReply } from '../../standins/system';
import { inTransaction } from '../db';
import type { LiveEstate } from '../estate';
import type { Services } from '../http';
import { callWithheld } from '../calls';
import { signOnByCode } from '../desks';
import { changePerson } from '../people';
import { seatByCode } from '../seats';
import { addRecord } from '../record';
import { addRequest, mayAskMore, readLimits } from './queries';

type Needs = Pick<Services, 'db' | 'store' | 'now' | 'phones' | 'secrets' | 'self'>;

/** Does what a code of the organisation is for, dialled or pressed at a phone. */
export async function actOnCode(
  services: Needs,
  { call, endpoint, desk, act, typed }: CodeDialled,
): Promise<CodeReply> {
  const live = await services.store.current();
  if (act === 'sign-on') return signOnByCode(services, live, desk, typed);
  const person = live.finder.ownerOf(endpoint);
  if (!person) return codeTells('This phone is nobody’s.');
  if (act === 'seat') return seatByCode(services, { live, person, endpoint }, typed);
  if (act === 'withhold') return callWithheld(services, live, { call, person, typed: typed[0] });
  return twinning(services, live, person, typed);
}

async function twinning(
  services: Needs,
  live: LiveEstate,
  person: Person,
  typed: readonly string[],
): Promise<CodeReply> {
  const { limits } = await readLimits(services.db, person.id);
  const wanted = twinningByCode(live.estate, person, limits, typed[0], services.now().getTime());
  if (wanted.kind === 'ask-number') return codeAsks('Which number shall ring too? End with the hash key.');
  if (wanted.kind === 'not') return codeTells(wanted.why);
  const detail =
    wanted.kind === 'switch'
      ? `twinning ${wanted.on ? 'on' : 'off'}, by its code`
      : `${wanted.number} rings too, by the twinning code`;
  return carryOut(services, person, wanted.judged, {
    detail,
    done:
      wanted.kind === 'switch'
        ? `Twinning is ${wanted.on ? 'on' : 'off'}.`
        : `Twinning is on, with ${wanted.number}.`,
    wishes:
      wanted.kind === 'switch'
        ? wanted.phones.map(({ id }): Wish => ({ kind: 'twinning', endpoint: id, on: wanted.on }))
        : [],
    again: (stored) => {
      const anew = twinningByCode(live.estate, stored, limits, typed[0], services.now().getTime());
      return 'judged' in anew && anew.judged.may !== 'not' ? anew.judged.after : stored;
    },
  });
}

/** Does it where the person may; asks the specialist where they may not. */
async function carryOut(
  services: Needs,
  person: Person,
  judged: Judged,
  how: {
    readonly detail: string;
    readonly done: string;
    readonly wishes: readonly Wish[];
    readonly again: (stored: Person) => Person;
  },
): Promise<CodeReply> {
  if (judged.may === 'not')
    return codeTells(`This cannot be: it ${judged.faults[0]?.message ?? 'is not possible'}.`);
  if (judged.may === 'now') {
    await changePerson(services, person.name, person.id, {
      kind: 'own-change',
      detail: how.detail,
      change: how.again,
    });
    return codeTells(how.done);
  }
  if (how.wishes.length === 0) return codeTells(judged.why);
  const { estate } = await services.store.current();
  const isAsked = await inTransaction(services.db, async (db) => {
    for (const wish of how.wishes) {
      if (!(await mayAskMore(db, person.id))) return false;
      await addRequest(db, person.id, wish, 'by its code', services.now());
      await addRecord(db, {
        who: person.name,
        kind: 'own-asked',
        personId: person.id,
        subject: person.name,
        detail: sayWish(estate, person, wish),
      });
    }
    return true;
  });
  return codeTells(
    isAsked
      ? `${judged.why} It has been asked for.`
      : 'You have many requests open. Wait until some are answered.',
  );
}
