import type { DeskPhone } from '../../api/provisioning';
import { restartsForMs, settingsFor, startsUntil } from '../../core/devices/provisioning';
import { deskEndpoint } from '../../core/desks';
import { openAt } from '../desks';
import { refusal, ROLES } from '../base';
import type { Route, SignedIn } from '../http';
import { readPinDates } from '../pins';
import { shown } from './page';
import { readPolicy, readProvisionedPhone } from './queries';
import { gather, sha256, subjectOf } from './settings';

/** Stands for what a look at a phone is not shown. */
const NOT_SHOWN = { user: '', password: '' };
const NOWHERE = { realm: '', server: '', port: 1, transport: 'udp' } as const;

/** What stands on the phone of a shared desk now, and whether it has that already. */
async function deskPhone(context: SignedIn): Promise<{ body: DeskPhone }> {
  const { services, params, account } = context;
  const live = await services.store.current();
  const desk = live.estate.desks?.find(({ id }) => id === params.id);
  if (!desk) throw refusal(404, 'There is no such desk.');
  const [here] = await openAt(services.db, desk.id, '');
  const signedOn = new Map(here ? [[here.desk, here.person]] : []);
  const subject = subjectOf(live, desk.device, signedOn);
  if ('why' in subject) throw refusal(409, `${subject.why}.`);
  const { device, model, person, endpoint } = subject;
  const {
    display = '',
    language,
    accounts,
    keys,
  } = settingsFor(
    {
      device,
      model,
      person,
      desk,
      account: NOT_SHOWN,
      system: NOWHERE,
      estate: live.estate,
      firmware: model.firmwareLeast,
      image: null,
      again: { token: '', everyS: 0 },
      before: null,
    },
    sha256,
  );
  const address = device.macAddress ?? null;
  const phone = address === null ? null : await readProvisionedPhone(services.db, address);
  const row =
    phone?.device === device.id && address !== null
      ? shown(
          context,
          live,
          phone,
          await readPolicy(services.db),
          await readPinDates(services.db),
          await gather(services.db, services, { address, endpoint }),
          signedOn,
        )
      : null;
  const until = here ? startsUntil(model, here.since.getTime(), services.now().getTime()) : null;
  return {
    body: {
      model: model.name,
      keyCount: model.keys,
      display,
      label: accounts[0]?.label ?? '',
      language: language ?? null,
      lacksLanguage: person?.language !== undefined && language === undefined ? person.language : null,
      keys: keys.map(({ at, use, label }) => ({
        at,
        label: use === 'call' && account.role !== 'specialist' ? 'A number' : label,
      })),
      messages: person ? services.phones.waiting(person.id) : null,
      isLit: services.phones.isLit(deskEndpoint(desk.id)),
      restartS: restartsForMs(model) === 0 ? null : model.restartS,
      startsUntil: until === null ? null : new Date(until).toISOString(),
      state: row?.state ?? null,
      isBehind: row?.isBehind ?? false,
      fetchedAt: row?.fetchedAt ?? null,
    },
  };
}

export const deskPhoneRoutes: readonly Route[] = [
  { method: 'GET', path: '/api/provisioning/desks/:id', roles: ROLES, handle: deskPhone },
];
