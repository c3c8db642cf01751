import type { ToStandins } from '../../standins/messages';
import type { Network, TriedWay } from '../../core/network';
import { triedThere } from './tried';

const network = { name: 'A home', boxes: [], servers: [], phones: [] } as Network;
const DONE = { registers: { works: true, lost: null } } as unknown as TriedWay;

function standins(isUp = true) {
  const sent: Extract<ToStandins, { kind: 'way-try' }>[] = [];
  const there = triedThere(
    (message) => void (message.kind === 'way-try' && sent.push(message)),
    () => isUp,
    () => Promise.resolve(),
  );
  return { sent, there };
}

test('of thirty-two tries at once five wait, each gets its own answer, the others are told to wait', async () => {
  const { sent, there } = standins();
  const asked = Array.from({ length: 32 }, (_each, n) => {
    try {
      return there.tryWay(network, `phone ${n}`);
    } catch (error) {
      return error as { readonly status: number };
    }
  });
  const waiting = asked.filter((each) => each instanceof Promise);
  const refused = asked.filter((each) => !(each instanceof Promise));
  expect([waiting.length, refused.length, sent.length]).toEqual([5, 27, 5]);
  for (const each of refused) expect(each).toMatchObject({ status: 429 });
  for (const [n, { id }] of [...sent.entries()].reverse())
    there.told({ kind: 'way-tried', id, tried: n === 2 ? null : DONE });
  expect(await Promise.all(waiting)).toEqual([DONE, DONE, null, DONE, DONE]);
  // Whose answer came makes room for the next.
  void there.tryWay(network, 'once more');
  expect(sent).toHaveLength(6);
});

test('a try whose stand-ins end in the middle is over, and without stand-ins none begins', async () => {
  const { there } = standins();
  const tried = there.tryWay(network, 'ann');
  there.systemEnded();
  expect(await tried).toBeNull();
  expect(await standins(false).there.tryWay(network, 'ann')).toBeNull();
});
