import type { RowDataPacket } from 'mysql2/promise';
import type { Shown } from '../../core/calls/out';
import type { E164, Ms, Person } from '../../core/estate';
import { refusal } from '../base';
import { inTransaction } from '../db';
import type { LiveEstate } from '../estate';
import type { Services } from '../http';
import { addRecord } from '../record';
import { dayOf } from './limits';

/** Open at a time, and in a day, of one person. */
export const MOST_OPEN = 3;
const MOST_A_DAY = 60;

/** Somebody who is to be called back at a phone of theirs. */
export interface Back {
  readonly id: string;
  readonly who: string;
  readonly person: Person;
  readonly phone: { readonly id: string; readonly number: E164 };
  /** null: it is asked for there, as the access number does. */
  readonly number: E164 | null;
  readonly access?: string;
  readonly shown: Shown;
  readonly mostMs: Ms | null;
}

const beingAsked = new Map<string, number>();

/**
 * Calls somebody back, where not too many such calls are under way or were today.
 * @throws a refusal
 */
export async function placeBack(
  services: Pick<Services, 'db' | 'now' | 'phones'>,
  live: LiveEstate,
  { id, who, person, phone, number, access, shown, mostMs }: Back,
): Promise<void> {
  const open = services.phones.callsBack(person.id).filter(({ overMs }) => overMs === null).length;
  const asking = beingAsked.get(person.id) ?? 0;
  if (open + asking >= MOST_OPEN)
    throw refusal(429, `${MOST_OPEN} calls back are under way already. Wait until one has ended.`);
  // From here to the placing it counts as one that is under way.
  beingAsked.set(person.id, asking + 1);
  try {
    const today = dayOf(live, services.now()).toJSDate();
    await inTransaction(services.db, async (tx) => {
      const [[row]] = await tx.query<RowDataPacket[]>(
        "SELECT COUNT(*) AS n FROM record_entry WHERE person_id = ? AND kind = 'called-back' AND at >= ?",
        [person.id, today],
      );
      if (Number(row?.n) >= MOST_A_DAY)
        throw refusal(
          429,
          `You have been called back ${MOST_A_DAY} times today. Ask your mobility specialist.`,
        );
      await addRecord(tx, {
        who,
        kind: 'called-back',
        personId: person.id,
        subject: person.name,
        detail:
          number === null ? 'by the access number' : shown.isWithheld ? `${number}, number withheld` : number,
      });
    });
    const placed = services.phones.callBack({
      id,
      person: person.id,
      extension: person.lines[0]?.extension ?? '',
      endpoint: phone.id,
      mobile: phone.number,
      number,
      ...(access === undefined ? {} : { access }),
      callerId: shown.number,
      isWithheld: shown.isWithheld,
      mostMs,
    });
    if (!placed) throw refusal(503, 'The phone system is not up. Try again in a moment.');
  } finally {
    const left = (beingAsked.get(person.id) ?? 1) - 1;
    if (left > 0) beingAsked.set(person.id, left);
    else beingAsked.delete(person.id);
  }
}
