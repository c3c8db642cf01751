import fc from 'fast-check';
import { NAT_METHODS, type Device } from '../../estate';
import { accountUri, APP_PERMISSIONS, handoverSteps, handoverText } from './handover';
import { backInOffice, keypadSteps, officeAndHome, prerequisites, type AccountValues } from './steps';
import { MODELS, modelOf } from './catalogue';
import { parseUri } from '../../wire/sip';

const account: AccountValues = {
  user: 'ada-desk',
  password: 'p4ss',
  server: '127.0.0.1',
  port: 5061,
  transport: 'TLS',
};
const device: Device = {
  id: 'd1',
  name: 'A phone',
  model: 'gannet-20',
  site: 'home',
  firmware: '3.4.0',
  passwordChanged: true,
  natMethod: 'border-controller',
  remoteRegistration: true,
};
const home = { id: 'home', name: 'Home', kind: 'home' as const };
const gannet = modelOf('gannet-20')!;

test('the steps at the keypad hold every value once, in the order of the model’s menus, and end with its finish', () => {
  for (const model of MODELS) {
    const way = {
      method: 'vpn',
      helper: { name: 'VPN server', address: '198.51.100.31', port: 1194 },
      keepAliveS: 55,
    } as const;
    const steps = keypadSteps(model, account, way, false);
    expect(steps.map(({ setting }) => setting)).toEqual([
      'password',
      'user',
      'secret',
      'server',
      'port',
      'transport',
      'nat',
      'helper',
      'keep-alive',
      'finish',
    ]);
    for (const { setting, menus } of steps.slice(0, -1)) {
      const where = setting === 'helper' || setting === 'keep-alive' ? 'nat' : setting;
      expect(menus).toEqual(model.menus[where as keyof typeof model.menus]);
    }
    expect(steps.map(({ value }) => value)).toEqual(
      expect.arrayContaining([
        'ada-desk',
        'p4ss',
        '127.0.0.1',
        '5061',
        'TLS',
        'VPN',
        '198.51.100.31:1194',
        '55',
      ]),
    );
    expect(steps.at(-1)!.says).toBe(model.finish);
  }
  const inside = keypadSteps(gannet, { ...account, password: null }, null, true);
  expect(inside.map(({ setting }) => setting)).not.toContain('nat');
  expect(inside.map(({ setting }) => setting)).not.toContain('password');
  expect(inside.find(({ setting }) => setting === 'secret')).toMatchObject({ value: null });
});

test.each<[string, Partial<Device>, Parameters<typeof prerequisites>[2], object]>([
  ['firmware', { firmware: '3.3' }, 'border-controller', {}],
  ['firmware', { firmware: undefined }, 'border-controller', {}],
  ['password', { passwordChanged: false }, 'border-controller', {}],
  ['let-in', { remoteRegistration: false }, 'border-controller', {}],
  ['method', {}, 'turn', {}],
  ['media', {}, 'direct', {}],
  ['sip-helper', {}, 'stun', { sipAlg: 'breaks-sdp' }],
])('%s is checked before a phone goes home', (id, more, method, site) => {
  const all = prerequisites({ ...device, ...more } as Device, gannet, method, { ...home, ...site });
  expect(all.filter(({ holds }) => !holds).map((each) => each.id)).toEqual([id]);
});

test('what nobody has said is not known, and not claimed to hold', () => {
  const { firmware: _f, passwordChanged: _p, ...bare } = device;
  const all = prerequisites(bare as Device, gannet, 'stun', undefined);
  expect(all.filter(({ holds }) => holds === null).map(({ id }) => id)).toEqual([
    'firmware',
    'password',
    'sip-helper',
  ]);
  expect(all.find(({ id }) => id === 'sip-helper')!.says).toMatch(/is not known: say at which site/);
  // Through a VPN the router does not matter.
  expect(prerequisites(device, gannet, 'vpn', undefined).every(({ holds }) => holds === true)).toBe(true);
});

test('with everything in place every prerequisite holds; a VPN needs neither letting in nor an honest router', () => {
  const failing = (method: Parameters<typeof prerequisites>[2], more: Partial<Device> = {}) =>
    prerequisites({ ...device, ...more }, gannet, method, { ...home, sipAlg: 'breaks-contact' }).filter(
      ({ holds }) => !holds,
    );
  expect(failing('vpn', { remoteRegistration: false })).toEqual([]);
  expect(failing('border-controller').map(({ id }) => id)).toEqual(['sip-helper']);
});

test('office and home stand side by side with only what differs', () => {
  const office = { server: '127.0.0.1', port: 5060, transport: 'UDP' as const };
  const differ = officeAndHome(office, { ...account, method: 'border-controller', keepAliveS: 55 });
  expect(differ.map(({ setting }) => setting)).toEqual([
    'Port',
    'Carried by',
    'Through the router',
    'Keep-alive',
    'Remote registration allowed',
  ]);
});

test('back in the office nothing is left of what was for outside', () => {
  fc.assert(
    fc.property(fc.constantFrom(...NAT_METHODS), fc.boolean(), (natMethod, remoteRegistration) => {
      const back = backInOffice(
        {
          ...device,
          natMethod,
          remoteRegistration,
          path: { in: 'router', transport: 'tls', keepAliveS: 55, manual: null },
        },
        { sites: [home] },
      );
      expect(back).toEqual({
        id: 'd1',
        name: 'A phone',
        model: 'gannet-20',
        firmware: '3.4.0',
        passwordChanged: true,
      });
    }),
  );
  expect(
    backInOffice({ ...device, site: 'yard' }, { sites: [{ ...home, id: 'yard', kind: 'office' }] }).site,
  ).toBe('yard');
  const path = { rtpPort: 20_000, transport: 'tls' } as const;
  expect(backInOffice({ ...device, path }, { sites: [home] }).path).toEqual({ rtpPort: 20_000 });
});

test('a hand-over sheet has the account’s values, the permissions of a mobile’s system, and a call with the screen locked', () => {
  const steps = handoverSteps('mobile-app', account, '4101');
  const text = handoverText('Softphone of Ada', steps, accountUri(account));
  for (const value of ['ada-desk', 'p4ss', '5061', 'TLS']) expect(text).toContain(value);
  expect(steps.length).toBeGreaterThan(7 + APP_PERMISSIONS.length);
  expect(text).toMatch(/screen locked/);
  expect(handoverText('', handoverSteps('desktop-app', account, '4101'), '')).not.toMatch(/battery|locked/);
});

test('the code on the sheet is a SIP URI without the password', () => {
  const uri = accountUri(account);
  expect(parseUri(uri)).toMatchObject({
    user: 'ada-desk',
    host: '127.0.0.1',
    port: 5061,
    params: { transport: 'tls' },
  });
  expect(uri).not.toContain('p4ss');
});
