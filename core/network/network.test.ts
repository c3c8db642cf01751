import worked from '../golden/networks.json';
import { readNetwork, topologyOf, verdictsOf } from '.';

/** A verdict without the way its packets took. */
const bare = (value: unknown): unknown =>
  Array.isArray(value)
    ? value.map(bare)
    : value !== null && typeof value === 'object'
      ? Object.fromEntries(
          Object.entries(value)
            .filter(([key]) => key !== 'trace')
            .map(([key, each]) => [key, bare(each)]),
        )
      : value;

describe('The worked networks', () => {
  test.each(worked.map((each) => [each.name, each] as const))('%s', (_name, each) => {
    const read = readNetwork(each.network);
    expect(read).toMatchObject({ ok: true });
    if (!read.ok) return;
    const named = (id: string | undefined) => read.network.phones.find((phone) => phone.id === id);
    const phone = named(each.phone);
    if (!phone) throw new Error(`no phone ${each.phone}`);
    expect(
      bare(verdictsOf(topologyOf(read.network), phone, named('with' in each ? each.with : undefined))),
    ).toEqual(each.expect);
  });
});
