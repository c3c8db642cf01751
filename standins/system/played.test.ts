import { compileEstate } from '../../core/calls/engine';
import { workedEstate } from '../../core/tests/worked';
import { toneMuLaw } from '../../core/wire/rtp';
import { placeCall } from '../phones/caller';
import { openPhone } from '../phones/phone';
import { clockAt } from '../sip/clock';
import { openSystem } from '.';

const TRUNK = { user: 'trunk', password: 'trunk-password' };

test.each([
  ['as it was recorded, and ends after it', toneMuLaw(600, 500), 2],
  ['by its name where its sound is not here, until the caller hangs up', null, 0],
])('a seat that needs nobody plays its recording %s', async (_how, sound, least) => {
  const worked = workedEstate();
  const clock = clockAt(4);
  const index = compileEstate({
    ...worked,
    seats: [{ id: 'night', name: 'Night', extension: '4555', unattended: { play: '7', thenMs: 400 } }],
    groups: [
      {
        id: 'line',
        name: 'Line',
        extension: '4990',
        mode: 'by-rank',
        members: [{ seat: 'night' }],
        ringMs: 5000,
        permission: 'coast',
        ending: { kind: 'hang-up', message: 'nobody' },
      },
    ],
  });
  const system = await openSystem({
    address: '127.0.43.1',
    port: 0,
    transports: ['udp', 'tcp'],
    estate: () => index,
    account: (user) => (user === TRUNK.user ? { ...TRUNK, endpoint: null } : null),
    userOf: (endpoint) => endpoint,
    carrier: null,
    clock,
    at: () => '2026-11-24T14:20:00-07:00',
    soundOf: (recording) => (recording === '7' ? sound : null),
  });
  const phone = await openPhone({ address: '127.0.43.3', clock, manner: () => null });
  const placed = await placeCall({
    phone,
    clock,
    account: TRUNK,
    server: system.node.transport.local.udp,
    from: '+16045550199',
    to: '4990',
    // Without an end of its own the call lasts until the caller hangs up.
    talkMs: sound ? 60_000 : 300,
  });
  const { heard } = await placed.over;
  const left = system.callsInProgress();
  await phone.close();
  await system.close();
  if (sound) expect(heard.length).toBeGreaterThan(least);
  else expect(new Set(heard)).toEqual(new Set(['recording of Night']));
  expect(left).toBe(0);
});
