import fc from 'fast-check';
import { readEstate } from '../estate';
import { columnsFault, matchColumns, refusedCsv, staffPlanner, type PlannedRow } from './staff-csv';
import { decodeText } from './text-file';
import { readCsv, safeCell, writeCsv } from './csv';
import { workedEstate } from '../tests/worked';

const estate = workedEstate();
const bytes = (text: string) => new TextEncoder().encode(text);

function plan(text: string): PlannedRow[] {
  const read = readCsv(text);
  if (!read.ok) throw new Error(read.faults[0]?.message);
  const planner = staffPlanner(estate, matchColumns(read.table.headings));
  return read.table.rows.map(planner.planRow);
}

describe('bytes to text', () => {
  test('a byte-order mark is taken off', () => {
    const decoded = decodeText(new Uint8Array([0xef, 0xbb, 0xbf, ...bytes('Name')]));
    expect(decoded).toMatchObject({ ok: true, text: 'Name', byteOrderMark: true });
  });
  test('UTF-16 with its mark is read', () => {
    expect(decodeText(new Uint8Array([0xff, 0xfe, 0x4e, 0, 0x61, 0]))).toMatchObject({
      ok: true,
      text: 'Na',
      encoding: 'utf-16',
    });
  });
  test('Latin-1 is told by line and character, and read when asked', () => {
    const latin = new Uint8Array([...bytes('Name\nSo'), 0xf8, ...bytes('ren')]);
    expect(decodeText(latin)).toEqual({
      ok: false,
      fault: {
        line: 2,
        column: 3,
        code: 'not-utf-8',
        message: expect.stringContaining('byte F8 is not UTF-8'),
      },
    });
    expect(decodeText(latin, 'latin-1')).toMatchObject({ ok: true, text: 'Name\nSoøren' });
  });
  test('a zero byte is no text', () => {
    expect(decodeText(bytes('a\nb\0c'))).toMatchObject({ ok: false, fault: { line: 2 } });
  });
  test('whatever the bytes, they are read or refused with a line', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 60 }), (some) => {
        const decoded = decodeText(some);
        if (!decoded.ok) expect(decoded.fault.line).toBeGreaterThan(0);
      }),
    );
  });
});

describe('CSV', () => {
  test.each([',', ';', '\t', '|'])('delimiter %j is told by the text', (d) => {
    const read = readCsv(['Name', 'Extension'].join(d) + '\n' + ['Odile Brackwater', '4230'].join(d));
    expect(read).toMatchObject({
      ok: true,
      table: { delimiter: d, rows: [{ line: 2, cells: ['Odile Brackwater', '4230'] }] },
    });
  });
  test('lines are counted through quoted line breaks and empty lines', () => {
    const read = readCsv('Name,Extension\r\n"A\nB",1\n\nC,2\n');
    expect(read.ok && read.table.rows.map((row) => row.line)).toEqual([2, 5]);
  });
  test('a quote never closed is told by line', () => {
    expect(readCsv('Name,Extension\nA,1\n"B,2\nC,3')).toMatchObject({
      ok: false,
      faults: [{ line: 3, message: expect.stringContaining('never closed') }],
    });
  });
  test('too many columns, a heading twice, and nothing at all are refused', () => {
    const wide = Array.from({ length: 200 }, (_, i) => `c${i}`).join(',');
    expect(readCsv(wide)).toMatchObject({
      ok: false,
      faults: [{ line: 1, column: 101, message: expect.stringContaining('200 columns') }],
    });
    expect(readCsv('Name,name\nA,B')).toMatchObject({ ok: false, faults: [{ column: 2 }] });
    expect(readCsv(' \n ')).toMatchObject({ ok: false });
  });
  test('a wrong delimiter is suspected where only one column is found', () => {
    const read = readCsv('Name^Extension\nA^4230');
    expect(read.ok && columnsFault(matchColumns(read.table.headings), read.table)).toMatch(
      /Only one column was found/,
    );
  });
  test('no cell that is written acts as a formula, but numbers stay', () => {
    expect(['=1+1', '+1+1', '-2', '@x', '\tx', 'x'].map(safeCell)).toEqual([
      "'=1+1",
      "'+1+1",
      "'-2",
      "'@x",
      "'\tx",
      'x',
    ]);
    expect(safeCell('+12505550101')).toBe('+12505550101');
    fc.assert(
      fc.property(fc.array(fc.string(), { minLength: 1, maxLength: 3 }), (row) => {
        const read = readCsv(
          writeCsv(
            row.map((_, i) => `h${i}`),
            [row],
          ),
        );
        const cells = read.ok ? (read.table.rows[0]?.cells ?? []) : [];
        for (const cell of cells) expect(/^[=@]/.test(cell)).toBe(false);
      }),
    );
  });
});

describe('a staff list against the estate', () => {
  test('columns are matched by usual headings', () => {
    expect(matchColumns(['Last name', 'First_Name', 'Ext.', 'Cell phone', 'Shoe size'])).toEqual({
      familyName: 0,
      givenName: 1,
      extension: 2,
      mobile: 3,
    });
  });
  test('a new person can be reached at the desk; the mobile stands ready, switched off', () => {
    const [row] = plan('Name;Extension;Direct;Mobile\nÓdile  Brackwater;4230;250 555 0181;9 1 778 555 0181');
    expect(row).toMatchObject({
      action: 'create',
      person: {
        id: 'odile-brackwater',
        name: 'Ódile Brackwater',
        lines: [{ extension: '4230', numbers: ['+12505550181'] }],
      },
    });
    if (row?.action !== 'create') return;
    expect(readEstate({ ...estate, people: [...estate.people, row.person] })).toMatchObject({ ok: true });
    expect(row.person.plan.otherwise.stages[0]).toMatchObject({
      ring: [{ endpoint: 'odile-brackwater-desk' }, { enabled: false }],
    });
  });
  test('another person at a known extension is a conflict, not a new name for who has it', () => {
    const [other, married, accents] = plan(
      'Name,Extension\nOdile Brackwater,4101\nTomasz Lund,4102\nRÚTH ADEYEMI,4103',
    );
    expect(other).toMatchObject({
      action: 'refuse',
      faults: [
        { field: 'name', message: expect.stringMatching(/^4101 is Ines Okafor’s, who would be renamed/) },
      ],
    });
    expect(married).toMatchObject({ action: 'change', changes: [{ field: 'name', after: 'Tomasz Lund' }] });
    expect(accents?.action).toBe('change');
  });
  test('where there is no status or permission yet, that is said beside each row', () => {
    const read = readCsv('Name,Extension\nOdile Brackwater,4230');
    if (!read.ok) throw new Error('not read');
    const bare = { ...estate, statuses: [], permissions: [], people: [], groups: [], menus: [] };
    const [row] = read.table.rows.map(staffPlanner(bare, matchColumns(read.table.headings)).planRow);
    expect(row).toMatchObject({ action: 'refuse', faults: [{ field: 'status' }, { field: 'permission' }] });
  });
  test('a known extension changes what the row says and keeps the plan', () => {
    const [changed, same] = plan(
      'Name,Extension,Mobile,Status\nInes Okafor,4101,778 555 0191,at sea\nTomasz Bright,4102,,',
    );
    expect(changed).toMatchObject({
      action: 'change',
      changes: [
        { field: 'mobile', before: '+17785550101', after: '+17785550191' },
        { field: 'status', before: 'on-shift', after: 'at-sea' },
      ],
    });
    expect(changed?.action === 'change' && changed.person.plan).toEqual(estate.people[0]!.plan);
    expect(same?.action).toBe('same');
  });
  test.each([
    ['Name,Extension\n,4230', 'no name'],
    ['Name,Extension\n=HYPERLINK(x),4230', 'begins like a formula'],
    ['Name,Extension\nA,', 'no extension'],
    ['Name,Extension\nA,42', 'has 2 digits; extensions here have 4'],
    ['Name,Extension\nA,4200', 'belongs to Bookings'],
    ['Name,Extension,Direct\nA,4230,250 555 0101', 'belongs to Ines Okafor already'],
    ['Name,Extension,Mobile\nA,4230,ask her', 'in digits, not letters'],
    ['Name,Extension,Status\nA,4230,Sailing', 'there is no status "Sailing"'],
    ['Name,Extension,Permission\nA,4230,All', 'there is no permission "All"'],
  ])('%j is refused', (text, reason) => {
    const [row] = plan(text);
    expect(row?.action === 'refuse' && row.faults.map((f) => f.message).join(' ')).toContain(reason);
  });
  test('an extension twice in the list is refused the second time, with the line of the first', () => {
    const rows = plan('Name,Extension\nA,4230\nB,4230');
    expect(rows.map((row) => row.action)).toEqual(['create', 'refuse']);
    expect(refusedCsv(rows)).toBe(
      'Line,Column,Field,Name,Extension,Reason\r\n3,2,Extension,B,4230,4230 stands in line 2 already\r\n',
    );
  });
  test('whatever the list, what is to be created is valid all together', () => {
    const name = fc.constantFrom('A B', 'A b', 'Ines', 'ines', '日本', 'x'.repeat(300), '-', 'Ruth Desk');
    const digits = fc.constantFrom('4230', '4231', '4101', '4200', '1', '');
    const mobile = fc.constantFrom('', '778 555 0101', '+44 7400 123456', '000');
    fc.assert(
      fc.property(fc.array(fc.tuple(name, digits, mobile), { maxLength: 6 }), (rows) => {
        const planned = plan(['Name,Extension,Mobile', ...rows.map((row) => row.join(','))].join('\n'));
        const created = planned.flatMap((row) => (row.action === 'create' ? [row.person] : []));
        const changed = new Map(
          planned.flatMap((row) => (row.action === 'change' ? [[row.person.id, row.person] as const] : [])),
        );
        const people = [...estate.people.map((p) => changed.get(p.id) ?? p), ...created];
        expect(readEstate({ ...estate, people })).toMatchObject({ ok: true });
      }),
      { numRuns: 60 },
    );
  });
});
