// A process that does one piece of work and asks before each statement whether it may go on, so that a test can end
// it at any of them: `slate ID` puts a slate live, `person JSON` adds somebody, `phone JSON` gives Ines
// a phone, `sign-on JSON` signs somebody on at a shared desk, `seat JSON` to a seat, `pause ID` pauses a seat,
// `many JSON` changes several people at once, `round FILE` calls what is due of rounds and notes it in a file. Run with
// the database in the environment.
import type { NewPerson, OrganisationBeginning } from '../../core/editing';
import { appendFileSync } from 'node:fs';
import type { PoolConnection } from 'mysql2/promise';
import pino from 'pino';
import { dbConfig, openDb, type Db } from '../db';
import { signOn, type Wanted } from '../desks/sign-on';
import { noSwitchboard, type Switchboard } from '../switchboard/switchboard';
import type { Services } from '../http';
import { estateStore } from '../estate/store';
import { beginOrganisation } from '../organisation/begin';
import { addPerson } from '../people/add';
import { givePhone, type GivenPhone } from '../people/phones';
import { changeMany, type Many } from '../many/routes';
import { applyPlanned } from '../planned-status/plan';
import { pauseSeat, signOnToSeat, type SeatWanted } from '../seats/sign-on';
import { runRounds } from '../rounds/run';
import { PLACE } from './place';
import { applySlate } from '../slates/apply';

/** Answered by the test for each statement; a process that is ended hears no answer. */
let asked = 0;
const mayGoOn = () =>
  new Promise<void>((resolve) => {
    process.once('message', () => resolve());
    asked += 1;
    process.send?.({ asked });
  });

const WATCHED = ['query', 'execute', 'commit'] as const;

function watched(connection: PoolConnection): PoolConnection {
  return new Proxy(connection, {
    get: (target, name) => {
      const value: unknown = Reflect.get(target, name);
      if (typeof value !== 'function') return value;
      const bound = (value as (...args: unknown[]) => unknown).bind(target);
      if (!WATCHED.some((each) => each === name)) return bound;
      return async (...args: unknown[]) => {
        await mayGoOn();
        return bound(...args);
      };
    },
  });
}

/** Calls what is due of the rounds that run, noting each number before anything else can happen. */
async function callOnce(services: Pick<Services, 'db' | 'store' | 'now'>, file: string): Promise<void> {
  const phones: Switchboard = {
    ...noSwitchboard,
    place: () => PLACE,
    callListed: ({ id, number }) => {
      appendFileSync(file, `${number}\n`);
      setImmediate(() => runs.ended(id, { end: 'busy', playedMs: 0 }));
      return true;
    },
  };
  const runs = runRounds(() => ({ ...services, phones }), pino({ level: 'silent' }));
  await runs.look();
  await runs.close();
}

async function main(): Promise<void> {
  const db = openDb(dbConfig());
  const slow: Db = new Proxy(db, {
    get: (target, name) => {
      if (name === 'connection') return async () => watched(await target.connection());
      const value: unknown = Reflect.get(target, name);
      return typeof value === 'function' ? (value as (...args: unknown[]) => unknown).bind(target) : value;
    },
  });
  const services = { db: slow, store: estateStore(db), now: () => new Date(process.env.HOSTLER_NOW ?? '') };
  const [what, given = ''] = process.argv.slice(2);
  const done =
    what === 'slate'
      ? await applySlate(services, Number(given), 'specialist', null)
      : what === 'many'
        ? await changeMany(services, 'specialist', JSON.parse(given) as Many)
        : what === 'phone'
          ? await givePhone(services, 'specialist', 'ines', JSON.parse(given) as GivenPhone)
          : what === 'planned'
            ? await applyPlanned(services)
            : what === 'sign-on'
              ? await signOn({ ...services, phones: noSwitchboard }, JSON.parse(given) as Wanted)
              : what === 'seat'
                ? await signOnToSeat({ ...services, phones: noSwitchboard }, JSON.parse(given) as SeatWanted)
                : what === 'pause'
                  ? await pauseSeat({ ...services, phones: noSwitchboard }, given, 'lunch', 'a test')
                  : what === 'round'
                    ? await callOnce({ ...services, store: estateStore(db) }, given)
                    : what === 'begin'
                      ? await beginOrganisation(
                          services,
                          'specialist',
                          JSON.parse(given) as OrganisationBeginning,
                        )
                      : await addPerson(services, 'specialist', JSON.parse(given) as NewPerson);
  process.send?.({ done });
  await db.end();
  process.disconnect();
}

void main();
