import type { Person } from '../../estate';
import { compileEstate, runCall } from '../../calls/engine';
import { personOf, ringing, smallEstate } from '../../tests/small';
import { asRun, leftBehind, sayBehind, shouldRun, type Behind, type RunSettings } from '.';

const ada = personOf('ada', 1, {});
const desk = ada.endpoints[0]!;
const none = new Map<string, RunSettings | null>();
const withExtension = (extension: string): Person => ({ ...ada, lines: [{ ...ada.lines[0]!, extension }] });

describe('what a phone runs', () => {
  test('a desk phone should run its lines’ extensions; a mobile of the public network nothing from here', () => {
    expect(shouldRun(ada, desk)).toMatchObject({ kind: 'desk', extensions: ['4101'] });
    expect(shouldRun(ada, ada.endpoints[1]!)).toBeNull();
  });

  test('a changed extension leaves the desk phone behind, with what it ran; a changed name leaves nothing', () => {
    expect(leftBehind(ada, { ...ada, name: 'Other' }, none)).toMatchObject({ behind: [] });
    expect(leftBehind(ada, withExtension('4199'), none).behind).toEqual([
      { endpoint: 'ada-desk', running: shouldRun(ada, desk) },
    ]);
  });

  test('what it ran first stays known over several changes, and coming back to it needs no restart', () => {
    const known = new Map([['ada-desk', shouldRun(ada, desk)]]);
    expect(leftBehind(withExtension('4199'), withExtension('4198'), known)).toEqual({
      behind: [],
      settled: ['ada-mobile'],
    });
    expect(leftBehind(withExtension('4199'), ada, known).settled).toContain('ada-desk');
  });

  test('a phone that is new has never been set up; one that is gone needs nothing', () => {
    const more: Person = {
      ...ada,
      endpoints: [...ada.endpoints, { id: 'ada-app', label: 'App', kind: 'mobile-app' }],
    };
    expect(leftBehind(ada, more, none).behind).toEqual([{ endpoint: 'ada-app', running: null }]);
    expect(leftBehind(null, ada, none).behind).toEqual([{ endpoint: 'ada-desk', running: null }]);
    expect(leftBehind(more, ada, none).settled).toContain('ada-app');
    expect(leftBehind(ada, null, none).settled).toEqual(['ada-desk', 'ada-mobile']);
  });

  test.each<[Partial<RunSettings>, RegExp]>([
    [{ extensions: ['4199'] }, /registers as 4199 until restarted, then as 4101/],
    [{ extensions: [] }, /registers as nobody until restarted/],
    [{ wakes: false }, /is not woken until restarted/],
    [{ wakeMs: 9000 }, /wakes in 9 s, then in 3.6 s/],
    [{ kind: 'hot-desk' }, /another kind of phone/],
  ])('what is different is said (%#)', (different, says) => {
    const should = shouldRun(ada, desk)!;
    expect(sayBehind({ ...should, ...different }, should)).toMatch(says);
    expect(sayBehind(null, should)).toMatch(/not set up yet/);
  });
});

describe('a call to a phone that is behind', () => {
  const estate = smallEstate([
    ada,
    personOf('ben', 2, { otherwise: ringing([{ endpoint: 'ben-desk' }, { endpoint: 'ada-desk' }]) }),
  ]);
  const index = compileEstate(estate);
  const owner = (id: string) => index.endpoints.get(id)?.owner ?? undefined;
  const legs = (to: string, behind: readonly Behind[]) =>
    runCall(index, {
      from: '+0',
      to,
      at: '2026-11-25T10:00:00-07:00',
      world: { endpoints: asRun(behind, owner, to) },
    }).legs.map(({ endpoint, end }) => `${endpoint} ${end}`);
  const behind = [{ endpoint: 'ada-desk', running: { ...shouldRun(ada, desk)!, extensions: ['4199'] } }];

  test('does not reach it while it registers as somebody else, from its own line or a colleague’s', () => {
    expect(legs('4101', [])).toEqual(['ada-desk no-answer']);
    expect(legs('4101', behind)).toEqual(['ada-desk unregistered']);
    expect(legs('4102', behind)).toEqual(['ben-desk no-answer', 'ada-desk unregistered']);
    expect(legs('4101', [{ endpoint: 'ada-desk', running: null }])).toEqual(['ada-desk unregistered']);
  });

  test('rings it where only something else is behind', () => {
    const slow = [{ endpoint: 'ada-desk', running: { ...shouldRun(ada, desk)!, wakeMs: 1 } }];
    expect(legs('4101', slow)).toEqual(['ada-desk no-answer']);
    expect(legs('4101', [{ endpoint: 'gone', running: null }])).toEqual(['ada-desk no-answer']);
  });
});
