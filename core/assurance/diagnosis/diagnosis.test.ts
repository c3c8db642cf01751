import type { Estate, Person, Rule } from '../../estate';
import { compileEstate, runInDetail } from '../../calls/engine';
import { personOf, ringing, smallEstate } from '../../tests/small';
import { complaintsOf, diagnose } from './diagnose';
import { COMPLAINTS } from './complaints';

const NOW = Date.parse('2026-11-25T18:00:00Z');
const safe = { endpoint: 'ada-mobile', acceptAfterMs: 3000, giveUpAfterMs: 18_000 };
const both = (target: object = {}) => ({
  otherwise: ringing([{ endpoint: 'ada-desk' }, { ...safe, ...target }], 25_000),
});
const of = (ada: Person, more: Partial<Estate> = {}) => smallEstate([ada, personOf('ben', 2, {})], more);
const causes = (estate: Estate, complaint: string, behind: Parameters<typeof diagnose>[3] = []) =>
  diagnose(estate, 'ada', complaint, behind, NOW)?.causes ?? [];
const ids = (estate: Estate, complaint: string) => causes(estate, complaint).map(({ id }) => id);
const well = of(personOf('ada', 1, both()));

describe('complaints', () => {
  test('there are at least twelve, each put as people do', () => {
    expect(COMPLAINTS.length).toBeGreaterThanOrEqual(12);
    expect(new Set(COMPLAINTS.map(({ id }) => id)).size).toBe(COMPLAINTS.length);
    const noPhones = personOf('ada', 1, {}, { endpoints: [] });
    expect(complaintsOf(noPhones).map(({ id }) => id)).not.toContain('mobile-silent');
    expect(complaintsOf(personOf('ada', 1, {})).map(({ id }) => id)).toContain('mobile-silent');
  });

  test('as set: the permission is missing, and the finding brings the mend', () => {
    const [first] = causes(of(personOf('ada', 1, both(), { permission: 'none' })), 'mobile-silent');
    expect(first).toMatchObject({ id: 'as-set', isSet: true, because: expect.stringMatching(/permission/i) });
    expect(first!.findings.map(({ check }) => check)).toEqual(['no-permission-outside']);
    expect(first!.findings[0]!.mend?.says).toBe('Give the permission “All”');
  });

  test('where all is set well, states are found, the likeliest first', () => {
    expect(ids(well, 'mobile-silent')).toEqual(
      expect.arrayContaining(['off/ada-mobile', 'busy/ada-mobile', 'trunk-full', 'engaged']),
    );
    expect(ids(well, 'mobile-silent')[0]).toBe('off/ada-mobile');
    expect(ids(well, 'desk-silent')).toEqual(expect.arrayContaining(['signed-out/ada-desk', 'dnd/ada-desk']));
    expect(ids(well, 'private-voicemail')).toEqual(['late-off-answer/ada-mobile']);
    expect(ids(well, 'lost')).toEqual([]);
  });

  test('a phone that was not restarted is the likeliest of all', () => {
    const behind = [
      {
        endpoint: 'ada-desk',
        running: { kind: 'desk', extensions: ['4999'], wakes: true, wakeMs: 3600 } as const,
      },
    ];
    expect(causes(well, 'desk-silent', behind)[0]).toMatchObject({
      id: 'restart/ada-desk',
      says: expect.stringContaining('registers as 4999 until restarted'),
      mend: 'Restart it.',
    });
  });

  test('a status that was left on explains it', () => {
    const leave: Rule = {
      id: 'l',
      name: 'Leave',
      when: { status: ['leave'] },
      stages: [],
      ending: { kind: 'mailbox' },
    };
    const estate = of(personOf('ada', 1, { ...both(), rules: [leave] }));
    expect(ids(estate, 'straight-to-mailbox')).toContain('status/leave');
  });

  test.each<[string, Estate, string]>([
    ['rings-once', of(personOf('ada', 1, both({ giveUpAfterMs: 8000 }))), 'as-set'],
    [
      'private-voicemail',
      of(personOf('ada', 1, { otherwise: ringing([{ endpoint: 'ada-mobile' }], 40_000) })),
      'as-set',
    ],
    ['cut-off', of(personOf('ada', 1, both({ acceptAfterMs: 9000 }))), 'as-set'],
    ['night', well, 'as-set'],
    [
      'silence',
      of(
        personOf('ada', 1, both(), {
          endpoints: personOf('ada', 1, {}).endpoints.slice(1),
          plan: {
            rules: [],
            otherwise: ringing([{ ...safe, delayMs: 9000, giveUpAfterMs: 20_000 }], 30_000),
          },
        }),
      ),
      'as-set',
    ],
    [
      'colleague',
      of(personOf('ada', 1, { otherwise: { stages: [], ending: { kind: 'person', person: 'ben' } } })),
      'as-set',
    ],
    [
      'too-long',
      of(personOf('ada', 1, { otherwise: ringing([{ endpoint: 'ada-desk' }], 90_000) })),
      'as-set',
    ],
    [
      'lost',
      of(
        personOf(
          'ada',
          1,
          { otherwise: { stages: [], ending: { kind: 'mailbox' } } },
          { mailbox: { enabled: false } },
        ),
      ),
      'as-set',
    ],
    ['wrong-number', well, 'shows/ada-mobile'],
    [
      'app-silent',
      of(
        personOf(
          'ada',
          1,
          {},
          { endpoints: [{ id: 'ada-desk', label: 'App', kind: 'mobile-app', wakes: false }] },
        ),
      ),
      'asleep/ada-desk',
    ],
    [
      'home-dead',
      of(
        personOf(
          'ada',
          1,
          {},
          { endpoints: [{ id: 'ada-desk', label: 'Phone at home', kind: 'remote-desk' }] },
        ),
      ),
      'signed-out/ada-desk',
    ],
  ])('%s is found', (complaint, estate, id) => {
    expect(ids(estate, complaint)).toContain(id);
  });

  test('which number shows is answered with the number, whose it is, and where it is set', () => {
    const shown = (present: string) =>
      causes(
        of(personOf('ada', 1, { otherwise: ringing([{ endpoint: 'ada-mobile', present }]) })),
        'wrong-number',
      );
    const own = of(personOf('ada', 1, {})).people[0]!.lines[0]!.numbers[0]!;
    expect(shown(own)[0]!.says).toMatch(/^.+ is set to show .+, .+’s direct number, for each call$/);
    const [foreign] = shown('+19995550123');
    expect(foreign!.says).toContain('no number of the organisation');
    expect(foreign!.setting).toMatch(/ring\[0\]$/);
    expect(foreign!.findings.map(({ check }) => check)).toEqual(['shows-foreign-number']);
    expect(shown('caller')[0]!.mend).toContain('Have the carrier pass');
  });

  test('every cause comes with a call that shows it, when it is run', () => {
    for (const complaint of COMPLAINTS) {
      for (const { call, status } of causes(well, complaint.id)) {
        const people = well.people.map((each) =>
          each.id === 'ada' && status !== null ? { ...each, status } : each,
        );
        const index = compileEstate({ ...well, people });
        expect(complaint.shows(runInDetail(index, call), index.people.get('ada')!, index)).toBe(true);
      }
    }
    expect(diagnose(well, 'ada', 'nothing', [], NOW)).toBeNull();
    expect(diagnose(well, 'zoe', 'lost', [], NOW)).toBeNull();
  });
});
