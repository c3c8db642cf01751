import type { Person } from '../../core/estate';
import { sayWish, twinningByCode, type Judged, type Wish } from '../../core/changes/own';
import type { CodeDialled, CodeReply } from '../../standins/system';
import { inTransaction } from '../db';
import type { LiveEstate } from '../estate';
import type { Services } from '../http';
import { changeDevice } from '../objects';
import { changePerson } from '../people';
import { addRecord } from '../record';
import { checkPin } from '../provisioning';
import { addRequest, mayAskMore, readLimits } from './queries';

type Needs = Pick<Services, 'db' | 'store' | 'now'>;
const told = (says: string): CodeReply => ({ says, asks: false });
const ask = (says: string): CodeReply => ({ says, asks: true });

/** Does what a code of the organisation is for, dialled or pressed at a phone. */
export async function actOnCode(services: Needs, { endpoint, act, typed }: CodeDialled): Promise<CodeReply> {
  const live = await services.store.current();
  if (act === 'sign-on') return signOn(services, live, endpoint, typed);
  const person = live.finder.ownerOf(endpoint);
  if (!person) return told('This phone is nobody’s.');
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
  if (wanted.kind === 'ask-number') return ask('Which number shall ring too? End with the hash key.');
  if (wanted.kind === 'not') return told(wanted.why);
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
    return told(`This cannot be: it ${judged.faults[0]?.message ?? 'is not possible'}.`);
  if (judged.may === 'now') {
    await changePerson(services, person.name, person.id, {
      kind: 'own-change',
      detail: how.detail,
      change: how.again,
    });
    return told(how.done);
  }
  if (how.wishes.length === 0) return told(judged.why);
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
  return told(
    isAsked
      ? `${judged.why} It has been asked for.`
      : 'You have many requests open. Wait until some are answered.',
  );
}

/** Signs somebody on at a shared desk, by their extension and PIN; whoever is on is signed off first. */
async function signOn(
  services: Needs,
  live: LiveEstate,
  endpoint: string,
  typed: readonly string[],
): Promise<CodeReply> {
  const device = live.estate.devices?.find((each) => each.endpoint === endpoint);
  const kind = live.finder.ownerOf(endpoint)?.endpoints.find(({ id }) => id === endpoint)?.kind;
  if (!device || kind !== 'hot-desk') return told('This phone is no shared desk.');
  const [extension, pin] = typed;
  if (device.signedOn && extension === undefined) {
    const who = live.finder.person(device.signedOn.person)?.name ?? device.signedOn.person;
    await changeDevice(services, device.id, ({ signedOn: _was, ...rest }) => rest, {
      why: `${who} signed off, by its code`,
    });
    return told(`${who} is signed off.`);
  }
  if (extension === undefined) return ask('Your extension, then the hash key.');
  if (pin === undefined) return ask('Your PIN, then the hash key.');
  const person = live.estate.people.find(({ lines }) => lines.some((line) => line.extension === extension));
  // An extension that is nobody's is counted and answered like a wrong PIN.
  const verdict = await checkPin(services, {
    person: person?.id ?? `extension ${extension}`,
    typed: pin,
    at: endpoint,
  });
  if (verdict === 'locked') return told('Too many wrong tries. Wait a quarter of an hour.');
  if (!person || verdict !== 'right') return told('This extension and PIN do not go together.');
  const since = services.now().toISOString();
  const signedOn = { person: person.id, since };
  await changeDevice(services, device.id, (stored) => ({ ...stored, signedOn }), {
    why: `${person.name} signed on, by its code`,
  });
  return told(`${person.name} is signed on.`);
}
