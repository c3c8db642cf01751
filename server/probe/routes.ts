import { isIPv4 } from 'node:net';
import { advised, probe } from './probe';
import { parts } from '../../core/estate';
import { parseHostPort } from '../../core/wire/sip';
import { inTransaction, type Queryable } from '../db';
import { checkedBody, type Route } from '../http';
import { notRight, refusal } from '../base';
import { addRecord } from '../record';
import { mayTry } from '../auth';
import { addressFault, addressOf, readRange } from './address';
import {
  allowAddress,
  allowRange,
  readAddress,
  readAddresses,
  readRanges,
  removeAddress,
  removeRange,
} from './queries';

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

const MOST_RANGES = 20;
const rangeSchema = parts.closed({ name: parts.requiredText(80), range: parts.requiredText(40) });
const rangesOf = async (db: Queryable) => (await readRanges(db)).map(({ range }) => range);

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
      return {
        body: {
          addresses: [...(own ? [own] : []), ...(await readAddresses(db))],
          ranges: await readRanges(db),
        },
      };
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
        throw notRight([{ path: 'host', message: 'must be a name or an IPv4 address, without a port' }]);
      const fault = isIPv4(host) ? addressFault(host, await rangesOf(db)) : null;
      if (fault !== null) throw notRight([{ path: 'host', message: fault }]);
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
    /** Allows a range of addresses inside the organisation, by name. */
    method: 'POST',
    path: '/api/probe-ranges',
    roles: ['specialist'],
    handle: async ({ services: { db, now }, account, body }) => {
      const wanted = checkedBody<{ name: string; range: string }>(body, rangeSchema);
      const read = readRange(wanted.range);
      if (!read)
        throw notRight([
          {
            path: 'range',
            message: 'must be a range inside, from /16 to /32, such as 10.20.0.0/16 or 127.0.0.1/32',
          },
        ]);
      const range = `${read.network}/${read.bits}`;
      await inTransaction(db, async (tx) => {
        if ((await readRanges(tx)).length >= MOST_RANGES)
          throw refusal(409, `There are ${MOST_RANGES} ranges already. Take one away first.`);
        await allowRange(tx, { name: wanted.name, range }, account.name, now());
        await addRecord(tx, {
          who: account.name,
          kind: 'probe-range-allowed',
          subject: wanted.name,
          detail: range,
        });
      });
      return { status: 201, body: { ranges: await readRanges(db) } };
    },
  },
  {
    method: 'DELETE',
    path: '/api/probe-ranges/:id',
    roles: ['specialist'],
    handle: async ({ services: { db }, params }) => {
      if (!(await removeRange(db, Number(params.id)))) throw refusal(404, 'This range is not on the list.');
      return { body: { ranges: await readRanges(db) } };
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
    handle: async ({ services: { db, phones }, params, account }) => {
      const place = phones.place();
      const address =
        params.id === '0'
          ? place && { host: place.address, port: place.udp, tlsPort: place.tls }
          : await readAddress(db, Number(params.id));
      if (!address) throw refusal(404, 'This address is not on the list.');
      if (!(await mayTry(db, [{ subject: `probes of ${account.name}`, most: MOST_PROBES }], 60)))
        throw refusal(429, 'That is enough for a minute. Wait, and ask again.');
      // Our own phone system is where it is; every other name is looked up once, and what it leads to is checked.
      const found =
        params.id === '0' ? { address: address.host } : await addressOf(address.host, await rangesOf(db));
      if ('why' in found)
        throw refusal(409, `${address.host} ${found.why}.`, { extra: { needsRange: true } });
      const results = await probe(address.host, address.port, address.tlsPort, found.address);
      return { body: { results, advised: advised(results) } };
    },
  },
];
