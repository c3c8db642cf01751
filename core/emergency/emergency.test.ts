import fc from 'fast-check';
import {
  CIVIC_ELEMENTS,
  faultsOf,
  isCidr,
  siteSchema,
  type Civic,
  type Endpoint,
  type Estate,
} from '../estate';
import { isInRange, placeFaults, placeOf, readPidfLo, sayCivic, writePidfLo } from '.';

const AT = Date.parse('2026-11-24T18:00:00Z');
const HALL: Civic = { country: 'CA', A1: 'BC', A3: 'Port Ansel', RD: 'Quay Street', HNO: '12', FLR: '1' };
const HOME: Civic = { country: 'CA', A3: 'North Landing', RD: 'Gull Lane', HNO: '3' };
const estate: Pick<Estate, 'sites' | 'devices' | 'desks'> = {
  sites: [
    {
      id: 'hall',
      name: 'Hall',
      kind: 'office',
      civic: HALL,
      addressRanges: ['203.0.113.0/28'],
      emergencyTrunk: 'quay',
    },
    { id: 'yard', name: 'Yard', kind: 'office' },
  ],
  devices: [
    { id: 'd1', name: 'Desk', model: 'gannet-20', endpoint: 'ada-desk', site: 'hall' },
    { id: 'd2', name: 'Shared', model: 'gannet-20', site: 'hall' },
    { id: 'd3', name: 'Yard', model: 'gannet-20', endpoint: 'ada-yard', site: 'yard' },
  ],
  desks: [{ id: 'k1', name: 'Desk 1', device: 'd2', area: 'Window' }],
};
const phone = (id: string, more: Partial<Endpoint> = {}): Endpoint => ({
  id,
  label: id,
  kind: 'mobile-app',
  ...more,
});
const ask = (endpoint: Endpoint, more: Partial<Parameters<typeof placeOf>[1]> = {}) =>
  placeOf(estate, { endpoint, desk: null, address: null, mark: null, atMs: AT, ...more });
const said = (saidOn: string, from?: string) => ({
  place: { civic: HOME, saidOn, by: 'Ada', ...(from === undefined ? {} : { from }) },
});

describe('where a phone is, and why that is believed', () => {
  test('a phone as a thing is at its site, whatever else is said', () => {
    expect(ask(phone('ada-desk', { kind: 'desk', ...said('2026-11-20') }))).toMatchObject({
      basis: 'site-of-phone',
      civic: HALL,
    });
    expect(ask(phone('ada-hot', { kind: 'hot-desk' }), { desk: 'k1' })).toMatchObject({
      basis: 'site-of-phone',
      civic: { ...HALL, LOC: 'Window' },
    });
    expect(ask(phone('ada-yard', { kind: 'desk' }))).toMatchObject({ basis: 'site-of-phone', civic: null });
  });
  test('else the site whose addresses it is registered from, else what was said, else nothing is known', () => {
    expect(ask(phone('app', said('2026-11-20')), { address: '203.0.113.9' })).toMatchObject({
      basis: 'address-range',
      civic: HALL,
    });
    expect(ask(phone('app', said('2026-11-20')), { address: '203.0.113.16' })).toMatchObject({
      basis: 'said',
      civic: HOME,
      isStale: false,
    });
    expect(ask(phone('app'))).toMatchObject({ basis: 'unknown', civic: null });
  });
  test('what was said is stale after 90 days, or from another outside address than then', () => {
    expect(ask(phone('app', said('2026-08-27'))).isStale).toBe(false);
    expect(ask(phone('app', said('2026-08-25'))).isStale).toBe(true);
    expect(ask(phone('app', said('2026-11-20', 'mark')), { mark: 'mark' }).isStale).toBe(false);
    expect(ask(phone('app', said('2026-11-20', 'mark')), { mark: 'other' }).isStale).toBe(true);
    expect(ask(phone('app', said('2026-11-20', 'mark')), { mark: null }).isStale).toBe(false);
  });
  test('each fault is told', () => {
    const faults = (endpoint: Endpoint, trunk = 'quay', ringsBack = true) =>
      placeFaults(ask(endpoint), { trunk, ringsBack });
    expect(faults(phone('ada-desk', { kind: 'desk' }))).toEqual([]);
    expect(faults(phone('ada-desk', { kind: 'desk' }), 'spare', false)).toEqual([
      'trunk-elsewhere',
      'call-back-elsewhere',
    ]);
    expect(faults(phone('app'))).toEqual(['unknown']);
    expect(faults(phone('app', said('2026-01-01')))).toEqual(['stale']);
    expect(faults(phone('ada-yard', { kind: 'desk' }))).toEqual(['no-civic']);
  });
});

test('ranges are exact, and only real ones are taken', () => {
  expect(['10.0.0.0/8', '203.0.113.0/28', '0.0.0.0/0', '192.0.2.7/32'].map(isCidr)).toEqual([
    true,
    true,
    true,
    true,
  ]);
  expect(['10.0.0.1/8', '256.0.0.0/8', '10.0.0.0', '10.0.0.0/33', 'x'].map(isCidr)).toEqual(
    Array.from({ length: 5 }, () => false),
  );
  expect([isInRange('203.0.113.15', '203.0.113.0/28'), isInRange('203.0.113.16', '203.0.113.0/28')]).toEqual([
    true,
    false,
  ]);
  expect(isInRange('::1', '0.0.0.0/0')).toBe(false);
  const faults = faultsOf(siteSchema, {
    id: 'a',
    name: 'A',
    kind: 'office',
    civic: { country: 'Canada', COLOUR: 'red' },
    addressRanges: ['1.2.3.4/8'],
  });
  expect(faults.map(({ path }) => path).sort()).toEqual([
    'addressRanges[0]',
    'civic.COLOUR',
    'civic.country',
  ]);
});

describe('PIDF-LO', () => {
  const text = writePidfLo({
    entity: 'pres:ada@organisation.invalid',
    device: 'phone-1',
    civic: { ...HALL, LOC: 'Window' },
    at: '2026-11-24T10:00:00-08:00',
  });
  test('has the elements of RFC 4119 and 5139 in their order, one device, by hand, not to be passed on', () => {
    const order = [...text.matchAll(/<(cl|gp|dm):([\w-]+)/g)].map(([, prefix, name]) => `${prefix}:${name}`);
    expect(order).toEqual([
      'dm:device',
      'gp:geopriv',
      'gp:location-info',
      'cl:civicAddress',
      ...['country', 'A1', 'A3', 'RD', 'HNO', 'LOC', 'FLR'].map((name) => `cl:${name}`),
      'gp:usage-rules',
      'gp:retransmission-allowed',
      'gp:method',
      'dm:deviceID',
      'dm:timestamp',
    ]);
    expect(text).toContain('<gp:retransmission-allowed>no</gp:retransmission-allowed>');
    expect(text).toContain('<gp:method>Manual</gp:method>');
    expect(text).toContain('xmlns="urn:ietf:params:xml:ns:pidf"');
  });
  test('reads back what it wrote, whatever stands in the address', () => {
    const civic = fc.dictionary(
      fc.constantFrom(...CIVIC_ELEMENTS.slice(1)),
      fc.stringMatching(/^[A-Za-z0-9][A-Za-z0-9 <>&"'éü.-]{0,30}[A-Za-z0-9]$/),
      { minKeys: 1 },
    );
    fc.assert(
      fc.property(civic, (given) => {
        const read = readPidfLo(
          writePidfLo({ entity: 'sip:a@b', device: 'd', civic: given as Civic, at: '2026-11-24T10:00:00Z' }),
        );
        expect(read).toMatchObject({ ok: true, location: { entity: 'sip:a@b', device: 'd' } });
        if (read.ok) expect(Object.keys(read.location.civic).sort()).toEqual(Object.keys(given).sort());
      }),
      { numRuns: 200 },
    );
  });
  test('a location in a tuple’s status, with other prefixes and elements that are not ours, is read', () => {
    const read = readPidfLo(`<?xml version="1.0"?>
<presence xmlns="urn:ietf:params:xml:ns:pidf" xmlns:g="urn:ietf:params:xml:ns:pidf:geopriv10"
  xmlns:a="urn:ietf:params:xml:ns:pidf:geopriv10:civicAddr" entity="pres:b@c.example">
  <tuple id="t1"><status><g:geopriv><g:location-info>
    <a:civicAddress xml:lang="en"><a:country>CA</a:country><a:RD>Quay</a:RD><a:POLE>7</a:POLE></a:civicAddress>
  </g:location-info><g:usage-rules/></g:geopriv></status><timestamp>2026-11-24T10:00:00Z</timestamp></tuple>
</presence>`);
    expect(read).toEqual({
      ok: true,
      location: {
        entity: 'pres:b@c.example',
        device: 't1',
        civic: { country: 'CA', RD: 'Quay' },
        at: '2026-11-24T10:00:00Z',
      },
    });
  });
  test.each([
    ['no XML', 'x', /^has no presence element|is not XML/],
    ['a document type', '<!DOCTYPE a><presence/>', /document type/],
    ['another namespace', '<presence xmlns="urn:x" entity="a"/>', /is not in the namespace/],
    ['no address', '<presence xmlns="urn:ietf:params:xml:ns:pidf" entity="a"/>', /has no civic address/],
    ['too long', ' '.repeat(70_000), /more than 65536/],
  ])('%s is told', (_name, given, why) => {
    const read = readPidfLo(given);
    expect(read.ok ? '' : read.message).toMatch(why);
  });
});

test('an address is said on one line', () => {
  expect(sayCivic({ ...HALL, LOC: 'Window', PC: 'V0N 1A0' })).toBe(
    '12 Quay Street, Window, floor 1, Port Ansel, BC, V0N 1A0, CA',
  );
});
