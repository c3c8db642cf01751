import * as fc from 'fast-check';
import worked from '../../core/golden/networks.json';
import { networks } from '../../core/tests/networks';
import {
  readNetwork,
  topologyOf,
  triedBeside,
  verdictsOf,
  whyNotTried,
  type Network,
  type NotTried,
} from '../../core/network';
import { selfSigned } from '../certificate';
import { tryHome } from '.';

const certificate = selfSigned();

/** What goes otherwise with real packets than computed. */
async function departures(network: Network, id: string) {
  const phone = network.phones.find((each) => each.id === id)!;
  const verdicts = verdictsOf(topologyOf(network), phone);
  return triedBeside(verdicts, await tryHome(network, id, await certificate))
    .filter(({ computed, tried }) => computed !== tried.works)
    .map(({ question, silence }) => `${question} ${silence ?? ''}`.trim());
}
/** One after the other, as many at once. */
async function each<T>(items: readonly T[], atOnce: number, act: (item: T) => Promise<void>): Promise<void> {
  const left = [...items];
  const work = async () => {
    for (let item = left.shift(); item !== undefined; item = left.shift()) await act(item);
  };
  await Promise.all(Array.from({ length: atOnce }, work));
}

test('real phones behind real routers do what the worked networks say', async () => {
  const seen: Record<string, readonly string[]> = {};
  const left: Partial<Record<NotTried, number>> = {};
  await each(worked, 4, async ({ name, network: file, phone }) => {
    const read = readNetwork(file);
    if (!read.ok) throw new Error(name);
    const why = whyNotTried(read.network, phone);
    if (why === null) seen[name] = await departures(read.network, phone);
    else left[why] = (left[why] ?? 0) + 1;
  });
  expect(seen).toEqual(Object.fromEntries(Object.keys(seen).map((name) => [name, []])));
  expect(Object.keys(seen)).toHaveLength(20);
  expect(left).toEqual({ near: 2, tunnel: 1, 'branch-relay': 1 });
}, 120_000);

test('a try leaves nothing open behind it', async () => {
  const read = readNetwork(worked.find(({ name }) => name === 'STUN behind a symmetric NAT')!.network);
  if (!read.ok) throw new Error('no network');
  const sockets = () => process.getActiveResourcesInfo().filter((each) => each === 'UDPWrap').length;
  const before = sockets();
  for (let time = 0; time < 3; time += 1)
    await tryHome(read.network, read.network.phones[0]!.id, await certificate);
  // What was closed last is gone with the next rounds of the loop of events.
  for (let turns = 0; turns < 1000 && sockets() > before; turns += 1)
    await new Promise<void>((resolve) => setTimeout(resolve, 1));
  expect(sockets()).toBeLessThanOrEqual(before);
}, 60_000);

test('so do networks drawn at random', async () => {
  const drawn = fc
    .sample(networks, { seed: 20_261_130, numRuns: 60 })
    .filter((network) => whyNotTried(network, 'ann') === null)
    .slice(0, 8);
  expect(drawn).toHaveLength(8);
  const seen: (readonly string[])[] = [];
  await each(drawn, 4, async (network) => {
    const others = await departures(network, 'ann');
    if (others.length > 0) seen.push([JSON.stringify(network.phones[0]), ...others]);
  });
  expect(seen).toEqual([]);
}, 120_000);
