import worked from '../core/golden/networks.json';
import { hostler } from './tests/command-line';

test('path answers for each phone, for one, with a second one, for many networks, and names each fault', () => {
  const many = hostler(
    ['path', '--network', '-', '--json'],
    JSON.stringify(worked.map(({ network }) => network)),
  );
  expect(many.code).toBe(0);
  const answers = JSON.parse(many.out) as { phone: string }[][];
  answers.forEach((phones, at) => {
    const { phone, expect: expected } = worked[at]!;
    expect(phones.map((each) => each.phone)).toEqual(worked[at]!.network.phones.map(({ id }) => id));
    const { phoneToPhone: _both, ...own } = expected as { phoneToPhone?: object };
    expect(phones.find((each) => each.phone === phone)).toMatchObject(own);
  });
  const pair = worked.find((each) => each.with)!;
  const one = hostler(
    ['path', '--network', '-', '--phone', pair.phone, '--with', pair.with!, '--json'],
    JSON.stringify(pair.network),
  );
  expect(JSON.parse(one.out)).toMatchObject([pair.expect]);
  expect(hostler(['path', '--network', '-', '--recommend'], JSON.stringify(pair.network)).out).toContain(
    '1. ',
  );
  const wrong = [worked[0]!.network, { ...worked[0]!.network, colour: 'red' }];
  expect(hostler(['path', '--network', '-'], JSON.stringify(wrong))).toMatchObject({
    code: 2,
    out: '',
    err: expect.stringMatching(/^\[1\]\.colour: is not a known field/),
  });
  expect(
    hostler(['path', '--network', '-', '--phone', 'nobody'], JSON.stringify(pair.network)),
  ).toMatchObject({
    code: 2,
    err: expect.stringContaining('there is no phone “nobody”'),
  });
});

test('quality gives R and MOS, and says of each wrong number what it must be', () => {
  const line = ['quality', '--delay', '40', '--jitter', '0', '--loss', '0', '--codec', 'G.711'];
  const { R, mos } = JSON.parse(hostler([...line, '--json']).out) as { R: number; mos: number };
  expect(R).toBeGreaterThan(90);
  expect(hostler(line).out).toBe(`R ${R.toFixed(1)}, MOS ${mos.toFixed(2)}\n`);
  expect(hostler(['quality', '--delay=-1', '--loss', '101', '--codec', 'opus'])).toMatchObject({
    code: 2,
    out: '',
    err:
      '--delay: must be a number from 0 to 60000\n--jitter: is missing\n--loss: must be a number from 0 to 100\n' +
      '--codec: must be one of G.711, G.711-plc, G.729A\n',
  });
});
