import { writePidfLo } from '../core/emergency';
import type { Civic, Estate } from '../core/estate';
import { workedEstate } from '../core/tests/worked';
import { arrivedOf } from './phones/emergency-desk';
import { parseSip } from '../core/wire/sip';
import { openTown, type Town } from './town';

/** Ines is reached in the same way at every hour, whenever this is run. */
const estate: Estate = {
  ...workedEstate(),
  people: workedEstate().people.map((person) =>
    person.id === 'ines' ? { ...person, plan: { ...person.plan, rules: [] } } : person,
  ),
};
const CIVIC: Civic = {
  country: 'CA',
  A1: 'BC',
  A3: 'Port Ansel',
  RD: 'Quai de l’Été',
  HNO: '12',
  LOC: 'Hall',
};
const pidf = writePidfLo({
  entity: 'pres:ines@organisation.invalid',
  device: 'phone-1',
  civic: CIVIC,
  at: '2026-11-24T14:20:00-07:00',
});
const NUMBER = '+12505550101';
const accounts = ['ines-desk', 'tomasz-app'].map((id) => ({
  user: id,
  endpoint: id,
  password: `secret of ${id}`,
}));
let town: Town;
beforeAll(async () => {
  town = await openTown({
    port: 0,
    tell: () => undefined,
    placeOf: (endpoint) => {
      if (endpoint === 'tomasz-app') return Promise.reject(new Error('nothing is known'));
      return Promise.resolve({ callerId: NUMBER, pidf });
    },
  });
  await town.setEstate(estate);
  await town.setAccounts(accounts);
});
afterAll(() => town.close());

test('an emergency call carries the place and the number to call back, and the call back rings the phone', async () => {
  const tried = await town.tryEmergency({ endpoint: 'ines-desk', number: '911' });
  expect(tried?.arrived).toMatchObject({
    number: '911',
    callerId: NUMBER,
    civic: CIVIC,
    fault: null,
    routing: 'no',
  });
  expect(tried?.arrived?.geolocation).toMatch(/^<cid:place-.*>$/);
  expect(tried?.rang).toContain('ines-desk');
});

test('where nothing is known the call goes out all the same, and a phone that is not there calls nobody', async () => {
  const tried = await town.tryEmergency({ endpoint: 'tomasz-app', number: '112' });
  expect(tried).toEqual({
    arrived: { number: '112', callerId: null, civic: null, fault: null, geolocation: null, routing: null },
    rang: null,
  });
  expect(await town.tryEmergency({ endpoint: 'nobody', number: '911' })).toBeNull();
});

test('a place that cannot be read is told, and the call is none the worse', () => {
  const invite = (type: string, body: string, geolocation = '<cid:a@b>') => {
    const parsed = parseSip(
      [
        'INVITE sip:911@127.0.50.3 SIP/2.0',
        'Via: SIP/2.0/UDP 127.0.0.1:5060;branch=z9hG4bK1',
        `From: <sip:${NUMBER}@hostler>;tag=1`,
        'To: <sip:911@127.0.50.3>',
        'Call-ID: 1',
        'CSeq: 1 INVITE',
        'Max-Forwards: 70',
        `Geolocation: ${geolocation}`,
        `Content-Type: ${type}`,
        `Content-Length: ${body.length}`,
        '',
        body,
      ].join('\r\n'),
    );
    if (!parsed.ok || parsed.message.kind !== 'request') throw new Error('no request');
    return arrivedOf('911', parsed.message);
  };
  const part = (id: string, body: string) =>
    `--x\r\nContent-Type: application/pidf+xml\r\nContent-ID: <${id}>\r\n\r\n${body}\r\n--x--\r\n`;
  const type = 'multipart/mixed;boundary=x';
  expect(invite(type, part('other@b', '<a/>')).fault).toContain('a part that is not there');
  expect(invite(type, part('a@b', '<a/>'))).toMatchObject({ callerId: NUMBER, civic: null });
  expect(invite(type, part('a@b', '<a/>')).fault).toContain('the place has no presence element');
  expect(invite(type, part('a@b', 'no XML')).fault).toContain('the place');
  expect(invite('application/sdp', 'v=0', 'sip:elsewhere')).toMatchObject({ civic: null, fault: null });
});
