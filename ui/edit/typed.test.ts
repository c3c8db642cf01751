import { DateTime } from 'luxon';
import { shownMoment, typedMoment } from './typedMoment';
import { typedSip } from './typedSip';

test.each([
  ['sip:radio@quay.example', 'sip:radio@quay.example', /^“radio” at quay\.example;/],
  ['radio@quay.example', 'sip:radio@quay.example', /^“radio” at quay\.example;/],
  [
    'SIPS:radio@quay.example;transport=tcp',
    'SIPS:radio@quay.example;transport=tcp',
    /quay\.example, encrypted/,
  ],
])('%s is read as %s', (text, uri, shown) => {
  expect(typedSip(text)).toEqual({ uri, shown: expect.stringMatching(shown) as string, error: null });
});
test('what is begun says nothing yet; what is none says so', () => {
  for (const text of ['', '  ', 'sip:', 'SIPS:'])
    expect(typedSip(text)).toMatchObject({ uri: null, error: null });
  for (const text of ['radio', 'sip:radio', 'a b@c', '@quay'])
    expect(typedSip(text).error).toMatch(/such as/);
});

test('a day and hour is read in the zone and shown as it is typed', () => {
  const at = typedMoment(' 2026-11-23 14:20 ', 'America/Vancouver')!;
  expect(at.toUTC().toISO()).toBe('2026-11-23T21:20:00.000Z');
  expect(shownMoment(at)).toBe('2026-11-23 14:20');
  for (const text of ['', '2026-11-31 10:00', '2026-11-23', 'yesterday'])
    expect(typedMoment(text, 'America/Vancouver')).toBeNull();
  expect(shownMoment(DateTime.fromISO('2026-01-02T03:04:05Z', { zone: 'utc' }))).toBe('2026-01-02 03:04');
});
