import { confirming, type Confirming, type PinVerdict } from './confirm';

/** A phone at which a call is to be taken on purpose, and what has come of it. */
function phone(
  more: Partial<Confirming> & { readonly pin?: string | null; readonly verdict?: PinVerdict } = {},
) {
  const said: string[] = [];
  const done: string[] = [];
  const asked: string[] = [];
  const { pin = null, verdict = 'wrong', ...rest } = more;
  const press = confirming({
    how: 'pin',
    person: 'ines',
    at: 'ines-mobile',
    pins: {
      isSet: () => Promise.resolve(pin !== null),
      check: (person, typed) => {
        asked.push(`${person} ${typed}`);
        return Promise.resolve(typed === pin ? 'right' : verdict);
      },
    },
    isOpen: () => done.length === 0,
    caller: '+16045550199',
    say: (text) => said.push(text),
    onAccept: () => done.push('accepted'),
    onRefuse: () => done.push('refused'),
    ...rest,
  });
  /** Presses keys one after the other, and waits until they are dealt with. */
  const keys = async (all: string) => {
    for (const key of all) press(key);
    await new Promise((resolve) => setImmediate(resolve));
  };
  return { keys, said, done, asked };
}

test.each([
  ['1', ['accepted'], ['confirm key']],
  ['2', ['refused'], ['confirm key']],
  ['31', ['accepted'], ['confirm key', 'call from +16045550199']],
  ['45*#', [], ['confirm key']],
  ['12', ['accepted'], ['confirm key']],
])('by key: %s', async (all, done, said) => {
  const at = phone({ how: 'key' });
  await at.keys(all);
  expect([at.done, at.said]).toEqual([done, said]);
});

test('by PIN, whose digits mean nothing else; the key alone takes nothing', async () => {
  const at = phone({ pin: '123123' });
  await at.keys('1');
  expect([at.done, at.asked, at.said]).toEqual([[], [], ['confirm pin']]);
  await at.keys('23123#');
  expect([at.done, at.asked]).toEqual([['accepted'], ['ines 123123']]);
});

test('a wrong PIN is told, and may be typed again; the star refuses', async () => {
  const at = phone({ pin: '480263' });
  await at.keys('480264#');
  expect([at.done, at.said.at(-1)]).toEqual([[], 'This PIN is not right. Once more, then the hash key.']);
  await at.keys('4802*');
  expect(at.done).toEqual(['refused']);
});

test('after too many wrong ones it says so', async () => {
  const at = phone({ pin: '480263', verdict: 'locked' });
  await at.keys('1111#');
  expect(at.said.at(-1)).toBe('Too many wrong tries. This call cannot be taken here.');
});

test('who has no PIN, or where nobody knows it, is asked for the key', async () => {
  for (const at of [phone({ pin: null }), phone({ pins: undefined }), phone({ person: null, pin: '1' })]) {
    await at.keys('1');
    expect([at.done, at.said]).toEqual([['accepted'], ['confirm key']]);
  }
});

test('nothing is taken when the PIN cannot be checked, or the call has gone meanwhile', async () => {
  const broken = phone({
    pins: { isSet: () => Promise.reject(new Error('gone')), check: () => Promise.reject(new Error('gone')) },
  });
  await broken.keys('480263#');
  expect([broken.done, broken.said.at(-1)]).toEqual([
    [],
    'This PIN is not right. Once more, then the hash key.',
  ]);
  let isOpen = true;
  const late = phone({
    isOpen: () => isOpen,
    pins: {
      isSet: () => Promise.resolve(true),
      check: () => {
        isOpen = false;
        return Promise.resolve('right');
      },
    },
  });
  await late.keys('480263#');
  expect(late.done).toEqual([]);
});
