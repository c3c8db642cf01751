import { compileEstate, runCall } from '../core/calls/engine';
import {
  carrierTimesOf,
  explainCall,
  patternsOf,
  readRecords,
  recordLine,
  trafficOf,
  whyNotRung,
  type CallRecord,
  type Then,
} from '../core/records';
import { skerrowSoundFerries } from './skerrow';
import { demoPast, PAST_DAYS } from './calls';

const NOW = Date.parse('2026-11-24T21:20:00Z');
const past = demoPast(skerrowSoundFerries(), NOW);
const indexes = past.versions.map(({ estate }) => compileEstate(estate));
const nthAt = (ms: number) =>
  Math.max(
    0,
    past.versions.findLastIndex(({ fromMs }) => fromMs <= ms),
  );
const { wrong } = past;
const RECEPTION = past.versions[1]!.estate.people.find(({ id }) => id === 'noor')!.lines[0]!.extension;
/** What a server would know of then, but for how phones did. */
function thenOf(record: CallRecord): Then {
  const nth = nthAt(record.startMs);
  const { endpoint } = wrong.forgotten;
  const isFirst = record.startMs < wrong.forgotten.toMs;
  const running = indexes[isFirst ? 0 : 1]!.endpoints.get(endpoint)!.owner!;
  const isBehind = record.startMs >= wrong.forgotten.fromMs && isFirst;
  return {
    index: indexes[nth]!,
    registered: new Map([[endpoint, true]]),
    behind: isBehind
      ? [
          {
            endpoint,
            running: {
              kind: 'desk',
              extensions: running.lines.map((line) => line.extension),
              wakes: false,
              wakeMs: 0,
            },
          },
        ]
      : [],
  };
}
const explained = past.records.map((record) => ({ record, is: explainCall(thenOf(record), record) }));

test('the same calls each time, all of them readable as call records, over six weeks', () => {
  const [once, again] = [1, 2].map(() => demoPast(skerrowSoundFerries(), NOW, 2).records);
  expect(once).toEqual(again);
  expect(past.records.length).toBeGreaterThan(5000);
  expect(new Set(past.records.map(({ id }) => id)).size).toBe(past.records.length);
  const read = readRecords(past.records.map((record) => JSON.parse(recordLine(record)) as unknown));
  expect(read).toMatchObject({ ok: true });
  const [first, last] = [past.records[0]!, past.records.at(-1)!];
  expect((last.startMs - first.startMs) / 86_400_000).toBeGreaterThan(PAST_DAYS - 1);
  expect(last.startMs).toBeLessThan(NOW);
});

test('calls to which nothing happened went as planned, all of them', () => {
  const usual = explained.filter(
    ({ record: { startMs } }) =>
      !(startMs >= wrong.forgotten.fromMs && startMs < wrong.forgotten.toMs) &&
      !(startMs >= wrong.trunkDown.fromMs && startMs < wrong.trunkDown.toMs),
  );
  const odd = usual.filter(({ is }) => is.went !== 'planned');
  expect(odd.map(({ record, is }) => `${record.id}: ${is.says}`)).toEqual([]);
});

test('the restart that was forgotten is found, call by call and over many', () => {
  const during = explained.filter(
    ({ record: { startMs, to }, is }) =>
      startMs >= wrong.forgotten.fromMs &&
      startMs < wrong.forgotten.toMs &&
      to === RECEPTION &&
      is.went !== 'planned',
  );
  expect(during.length).toBeGreaterThan(10);
  for (const { is } of during) {
    expect(is.reason?.id).toBe(`restart/${wrong.forgotten.endpoint}`);
    expect(is.says).toContain('had not been restarted since it was changed');
  }
  const patterns = patternsOf(
    explained
      .filter(
        ({ record: { startMs } }) => startMs >= wrong.forgotten.fromMs && startMs < wrong.forgotten.toMs,
      )
      .map(({ record, is }) => ({
        isOdd: is.went === 'otherwise',
        traits: is.legs
          .map(({ endpoint }) => ({ kind: 'phone', id: endpoint, name: endpoint }))
          .concat([{ kind: 'hour', id: String(new Date(record.startMs).getUTCHours()), name: '' }]),
      })),
  );
  expect(patterns[0]).toMatchObject({ kind: 'phone', id: wrong.forgotten.endpoint });
});

test('the evening on which the trunk was down is found: in the calls, and in what it carried', () => {
  const during = explained.filter(
    ({ record: { startMs }, is }) =>
      startMs >= wrong.trunkDown.fromMs && startMs < wrong.trunkDown.toMs && is.went === 'otherwise',
  );
  expect(during.length).toBeGreaterThan(3);
  const others = during.filter(({ is }) => is.reason?.id !== `trunk/${wrong.trunkDown.trunk}`);
  expect(others.map(({ is }) => is.says)).toEqual([]);
  const [terminal] = trafficOf(indexes[1]!, past.records);
  expect(terminal).toMatchObject({ trunk: wrong.trunkDown.trunk });
  expect(terminal!.blocked).toBeGreaterThan(3);
});

test('the carrier whose voicemail became quicker is found, since when, and no other', () => {
  const index = indexes[1]!;
  const times = carrierTimesOf(
    past.records,
    (endpoint) => index.endpoints.get(endpoint)?.number?.slice(0, 5) ?? null,
  );
  const changed = times.filter(
    ({ pickUp, setup, offAnswer }) => pickUp?.changed ?? setup?.changed ?? offAnswer?.changed,
  );
  expect(changed.map(({ prefix }) => prefix)).toEqual([wrong.quicker.prefix]);
  const { sinceMs, before, after } = changed[0]!.pickUp!.changed!;
  expect(Math.abs(sinceMs - wrong.quicker.sinceMs)).toBeLessThan(3 * 86_400_000);
  // Before, it took no call for as long as phones rang.
  expect(before).toBeNull();
  expect(after! / 1000).toBeCloseTo(15.5, 0);
});

test('the call that Ines asks about: it went as it was set, and by which rule', () => {
  const record = past.records.find(({ id }) => id === 'demo-at-three')!;
  const index = indexes[nthAt(record.startMs)]!;
  const is = explainCall(thenOf(record), record);
  expect(is.went).toBe('planned');
  expect(whyNotRung(index, is, 'ines-mobile')).toContain('On leave: Ruth covers');
  expect(
    runCall(index, { from: record.from, to: '4101', at: new Date(record.startMs).toISOString() }).path[0],
  ).toMatchObject({
    person: 'ines',
    rule: 'r-leave',
  });
});
