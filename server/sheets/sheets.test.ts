import { inflateSync } from 'node:zlib';
import { testServer, type TestServer } from '../test';
import { sheetAsPdf } from './pdf';

let server: TestServer;
beforeAll(async () => {
  server = await testServer();
});
afterAll(() => server.stop());

/** What is drawn on the pages of a PDF, unpacked. */
const drawn = (pdf: Buffer): readonly string[] => {
  const text = pdf.toString('latin1');
  return [...text.matchAll(/\/FlateDecode\n>>\nstream\n/g)].flatMap(({ index, 0: head }) => {
    const from = index + head.length;
    try {
      const page = inflateSync(Buffer.from(text.slice(from, text.indexOf('\nendstream', from)), 'latin1'));
      return page.includes(' re\n') || page.includes('BT') ? [page.toString('latin1')] : [];
    } catch {
      return [];
    }
  });
};
const dots = (pages: readonly string[]) => pages.join('').split(' re\n').length - 1;

test('a sheet has its code drawn on it, dot by dot, and goes on over pages', async () => {
  const code = 'sip:viggo-app@198.51.100.7;transport=tls';
  const steps = Array.from({ length: 60 }, (_, n) => ({
    says: `Step ${n + 1}`,
    menus: ['Settings', 'Account'],
    value: 'viggo-app',
    expect: 'It registers.',
  }));
  const [one, long] = [
    drawn(await sheetAsPdf({ title: 'Softphone of Viggo', code, steps: steps.slice(0, 2) })),
    drawn(await sheetAsPdf({ title: 'Softphone of Viggo', steps })),
  ];
  // Version 3 has 29 dots each way, about half of them dark.
  expect(dots(one)).toBeGreaterThan(29 * 29 * 0.35);
  expect(dots(one)).toBeLessThan(29 * 29 * 0.65);
  expect(one).toHaveLength(1);
  expect(dots(long)).toBe(0);
  expect(long.length).toBeGreaterThan(1);
});

test('parts are written one after the other, over as many pages as they take', async () => {
  const parts = Array.from({ length: 40 }, (_, n) => ({
    title: `Rule ${n + 1}`,
    lines: ['Rings Desk phone for 20 s.', 'x'.repeat(300)],
  }));
  const [one, long] = [
    drawn(await sheetAsPdf({ title: 'Set-up', steps: [], parts: parts.slice(0, 2) })),
    drawn(await sheetAsPdf({ title: 'Set-up', steps: [], parts })),
  ];
  expect([one.length, long.length > 2]).toEqual([1, true]);
});

const sheet = {
  title: 'Desk phone',
  steps: [{ says: 'Enter the user', menus: ['Account'], value: 'ines-desk' }],
};

test.each(['specialist', 'help-desk', 'manager', 'staff'] as const)('%s gets it as a file', async (as) => {
  const answer = await server.ask('POST', '/api/sheet', { as, body: sheet });
  expect(answer.status).toBe(200);
  expect(answer.headers.get('content-type')).toBe('application/pdf');
  expect(answer.text.slice(0, 5)).toBe('%PDF-');
});

test.each([
  ['no steps', { ...sheet, steps: [] }, 'steps'],
  ['no part either', { ...sheet, steps: [], parts: [] }, 'steps'],
  ['a part without a heading', { ...sheet, parts: [{ title: '', lines: ['a'] }] }, 'parts[0].title'],
  [
    'a line without end',
    { ...sheet, parts: [{ title: 'a', lines: ['x'.repeat(4001)] }] },
    'parts[0].lines[0]',
  ],
  [
    'more parts than paper',
    { ...sheet, parts: Array.from({ length: 101 }, () => ({ title: 'a', lines: [] })) },
    'parts',
  ],
  ['too many', { ...sheet, steps: Array.from({ length: 61 }, () => sheet.steps[0]) }, 'steps'],
  ['a code that no camera reads', { ...sheet, code: 'x'.repeat(601) }, 'code'],
  ['an empty code', { ...sheet, code: '' }, 'code'],
  ['a step that says nothing', { ...sheet, steps: [{ says: '' }] }, 'steps[0].says'],
])('%s is refused beside its field', async (_what, body, path) => {
  const answer = await server.ask('POST', '/api/sheet', { as: 'specialist', body });
  expect([answer.status, answer.body.faults[0].path]).toEqual([400, path]);
});

test('thirty-two at once are all made; megabytes are refused before they are read', async () => {
  const many = await Promise.all(
    Array.from({ length: 32 }, () =>
      server.ask('POST', '/api/sheet', { as: 'staff', body: { ...sheet, code: 'sip:ines@198.51.100.7' } }),
    ),
  );
  expect(many.every(({ status, text }) => status === 200 && text.startsWith('%PDF-'))).toBe(true);
  const huge = await server.ask('POST', '/api/sheet', {
    as: 'specialist',
    body: { ...sheet, note: 'x'.repeat(5 << 20) },
  });
  expect(huge.status).toBe(413);
});
