import { rateLimitOf } from './rate';
import { advised, probe } from './probe';
import { parts } from '../../core/estate';
import { parseHostPort } from '../../core/sip';
import { inTransaction } from '../db';
import { checkedBody, refusal, type Route } from '../http/routes';
import { addRecord } from '../record/queries';
import { allowAddress, readAddress, readAddresses, removeAddress } from './queries';

const MOST_ADDRESSES = 50;
/** Probes of one account within a minute. */
const MOST_PROBES = 20;
const port = () => parts.count(1, 65_535).required('is missing');
const schema = parts.closed({
  name: parts.requiredText(80),
  host: parts.requiredText(255),
  port: port(),
  tlsPort: port(),
});
interface Wanted {
  readonly name: string;
  readonly host: string;
  readonly port: number;
  readonly tlsPort: number;
}

const limited = rateLimitOf(MOST_PROBES, 60_000);

/** The transport probe: it asks only addresses that a specialist has allowed, and never scans. */
export const probeRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/probe',
    roles: ['specialist', 'help-desk'],
    handle: async ({ services: { db, phones } }) => {
      const place = phones.place();
      const own = place && {
        id: 0,
        name: 'Our phone system',
        host: place.address,
        port: place.udp,
        tlsPort: place.tls,
      };
      return { body: { addresses: [...(own ? [own] : []), ...(await readAddresses(db))] } };
    },
  },
  {
    method: 'POST',
    path: '/api/probe',
    roles: ['specialist'],
    handle: async ({ services: { db, now }, account, body }) => {
      const wanted = checkedBody<Wanted>(body, schema);
      const host = wanted.host.trim();
      if (parseHostPort(host)?.port !== null || /[:[\]]/.test(host))
        throw refusal(400, 'Some of this is not right.', {
          faults: [{ path: 'host', message: 'must be a name or an IPv4 address, without a port' }],
        });
      await inTransaction(db, async (connection) => {
        if ((await readAddresses(connection)).length >= MOST_ADDRESSES)
          throw refusal(409, `There are ${MOST_ADDRESSES} addresses already. Take one away first.`);
        await allowAddress(connection, { ...wanted, host }, account.name, now());
        await addRecord(connection, {
          who: account.name,
          kind: 'probe-allowed',
          subject: wanted.name,
          detail: `${host}:${wanted.port}`,
        });
      });
      return { status: 201, body: { addresses: await readAddresses(db) } };
    },
  },
  {
    method: 'DELETE',
    path: '/api/probe/:id',
    roles: ['specialist'],
    handle: async ({ services: { db }, params }) => {
      if (!(await removeAddress(db, Number(params.id))))
        throw refusal(404, 'This address is not on the list.');
      return { status: 204 };
    },
  },
  {
    method: 'POST',
    path: '/api/probe/:id',
    roles: ['specialist', 'help-desk'],
    handle: async ({ services: { db, phones, now }, params, account }) => {
      const place = phones.place();
      const address =
        params.id === '0'
          ? place && { host: place.address, port: place.udp, tlsPort: place.tls }
          : await readAddress(db, Number(params.id));
      if (!address) throw refusal(404, 'This address is not on the list.');
      if (!limited(account.name, now().getTime()))
        throw refusal(429, 'That is enough for a minute. Wait, and ask again.');
      const results = await probe(address.host, address.port, address.tlsPort);
      return { body: { results, advised: advised(results) } };
    },
  },
];
