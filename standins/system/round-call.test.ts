import type { CallEnd } from '../../core/rounds';
import { parseRtp, toneMuLaw } from '../../core/wire/rtp';
import { workedEstate } from '../../core/tests/worked';
import { openMedia } from '../media/port';
import type { FromStandins } from '../messages';
import { openTown, type Town } from '../town';
import { MOST_SOUNDS } from '../town-rounds';
import { until } from '../tests/until';

const worked = workedEstate();
const estate = { ...worked, trunks: worked.trunks.map((each) => ({ ...each, channels: 20 })) };
const [trunk] = estate.trunks;
/** Two tones one after the other, 0.8 s: no voicemail's beep. */
const SOUND = Uint8Array.from([...toneMuLaw(500, 400), ...toneMuLaw(700, 400)]);
let town: Town;
const ended = new Map<string, { readonly end: CallEnd; readonly playedMs: number; readonly keys?: string }>();
let wake: () => void = () => undefined;
beforeEach(async () => {
  ended.clear();
  town = await openTown({
    port: 0,
    tell: (message: FromStandins) => {
      if (message.kind !== 'round-called') return;
      ended.set(message.id, message.ended);
      wake();
    },
  });
  await town.setEstate(estate);
  town.setSound('a', SOUND);
});
afterEach(() => town.close());
const call = (
  number: string,
  more: { ringMs?: number; keepFree?: number } = {},
  sound = 'a',
  keys: Readonly<Record<string, string | null>> = {},
) =>
  town.callListed(
    { id: number, number, callerId: '+12505550100', ringMs: 2500, keepFree: 0, ...more },
    { message: sound, keys },
  );
async function all(count: number) {
  while (ended.size < count) await new Promise<void>((resolve) => (wake = resolve));
  return Object.fromEntries([...ended].map(([id, { end }]) => [id.slice(-2), end]));
}

test('over real SIP and RTP: keys, the end of the recording, a voicemail’s tone, and whoever is not reached', async () => {
  for (const digit of [0, 4, 5, 6, 7, 8, 9]) call(`+1236555016${digit}`);
  // The ring time is long enough for a voicemail to pick up only where it is.
  expect(await all(6)).toMatchObject({ 60: 'key-1', 67: 'busy', 68: 'no-answer', 69: 'key-9' });
  expect(await all(7)).toEqual({
    60: 'key-1',
    64: 'listened',
    65: 'hung-up',
    66: 'no-answer',
    67: 'busy',
    68: 'no-answer',
    69: 'key-9',
  });
  // It is rung longer, the voicemail answers, and hears the recording whole after its tone.
  ended.clear();
  call('+12365550166', { ringMs: 6000 });
  expect(await all(1)).toEqual({ 66: 'voicemail' });
  expect(ended.get('+12365550166')?.playedMs).toBe(800);
});

test('keys play what they are for, and the message goes on where it was not heard to its end', async () => {
  town.setSound('b', toneMuLaw(600, 300));
  call('+12365550163', {}, 'a', { '2': 'b' });
  expect(await all(1)).toEqual({ 63: 'key-1' });
  expect(ended.get('+12365550163')).toEqual({ end: 'key-1', keys: '2', playedMs: 800 });
  // The message again.
  ended.clear();
  call('+12365550163', {}, 'a', { '2': null });
  await all(1);
  expect(ended.get('+12365550163')).toEqual({ end: 'key-1', keys: '2', playedMs: 800 });
  // A key without a meaning does nothing; one whose sound is not there is called with nobody unawares.
  ended.clear();
  call('+12365550163', {}, 'a', { '3': 'b' });
  call('+12365550160', {}, 'a', { '2': 'gone' });
  expect(await all(2)).toEqual({ 63: 'key-1', 60: 'no-channel' });
  expect(ended.get('+12365550163')?.keys).toBeUndefined();
});

test('of more recordings than are kept the oldest go, and one that comes again is as new', async () => {
  for (const id of ['old', 'again', ...Array.from({ length: MOST_SOUNDS - 2 }, (_each, n) => `other ${n}`)])
    town.setSound(id, SOUND);
  for (const id of ['again', 'b', 'c']) town.setSound(id, SOUND);
  call('+12365550160', {}, 'again', { '2': 'c' });
  call('+12365550161', {}, 'old');
  expect(await all(2)).toEqual({ 60: 'key-1', 61: 'no-channel' });
});

test('channels kept free for people are left free, and a call that is not placed says so', async () => {
  const channels = trunk!.channels;
  call('+12365550160', { keepFree: channels });
  call('+12365550161', {}, 'gone');
  expect(await all(2)).toEqual({ 60: 'no-channel', 61: 'no-channel' });
  ended.clear();
  call('+12365550168', { keepFree: channels - 1 });
  call('+12365550178', { keepFree: channels - 1 });
  expect(await all(2)).toEqual({ 68: 'no-answer', 78: 'no-channel' });
  // The channel is free again after the call.
  ended.clear();
  call('+12365550167', { keepFree: channels - 1 });
  expect(await all(1)).toEqual({ 67: 'busy' });
});

test('what a phone system that ends was calling is told as not known', async () => {
  call('+12365550168', { ringMs: 60_000 });
  // Another call goes from its beginning to its end meanwhile.
  call('+12365550167');
  await all(1);
  await town.close();
  expect(await all(2)).toEqual({ 67: 'busy', 68: 'lost' });
  town = await openTown({ port: 0, tell: () => undefined });
});

test('sound arrives as it was sent', async () => {
  const heard: Uint8Array[] = [];
  const there = await openMedia({
    address: '127.0.44.1',
    onPacket: (bytes) => heard.push(parseRtp(bytes)!.payload.slice()),
  });
  const here = await openMedia({ address: '127.0.44.2' });
  there.aim({ address: '127.0.44.2', port: here.port, codecs: [0], eventType: 101 });
  here.aim({ address: '127.0.44.1', port: there.port, codecs: [0], eventType: 101 });
  await new Promise<void>((resolve) => {
    here.play(SOUND, resolve, 10);
  });
  await until(() => heard.length >= SOUND.length / 160);
  expect(heard.flatMap((each) => [...each])).toEqual([...SOUND]);
  here.close();
  there.close();
});
