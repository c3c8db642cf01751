import { toneMuLaw } from '../../core/wire/rtp';
import { openLine } from '../tests/line';

test.each([
  ['as it was recorded, and ends after it', toneMuLaw(600, 500), 2],
  ['by its name where its sound is not here, until the caller hangs up', null, 0],
])('a seat that needs nobody plays its recording %s', async (_how, sound, least) => {
  const line = await openLine(
    '127.0.43.1',
    4,
    {
      mode: 'by-rank',
      members: [{ seat: 'night' }],
      ending: { kind: 'hang-up', message: 'nobody' },
    },
    {
      estate: {
        seats: [{ id: 'night', name: 'Night', extension: '4555', unattended: { play: '7', thenMs: 400 } }],
      },
      options: { soundOf: (recording) => (recording === '7' ? sound : null) },
    },
  );
  // Without an end of its own the call lasts until the caller hangs up.
  const { heard } = await line.call('127.0.43.3', { talkMs: sound ? 60_000 : 300 });
  const left = line.callsInProgress();
  await line.close();
  if (sound) expect(heard.length).toBeGreaterThan(least);
  else expect(new Set(heard)).toEqual(new Set(['recording of Night']));
  expect(left).toBe(0);
});
