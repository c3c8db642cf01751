import type { SeatSitting } from '../../api/seats';
import { percent, readBetween, sayLine, saySeconds, sayState } from './words';

const sitting: SeatSitting = {
  person: 'ines',
  name: 'Ines Okafor',
  at: { endpoint: 'ines-desk' },
  phone: 'Dock office phone',
  since: '2026-11-24T18:00:00Z',
  state: 'on-call',
  why: null,
  leaving: false,
  next: null,
  misses: 0,
  calls: 1,
  idleSince: '2026-11-24T18:00:00Z',
  wrapUntil: null,
  line: null,
};

test('a share is said as finely as it is worth', () => {
  expect([0, 0.0012, 0.034, 0.5, 0.963, 0.9991, 1].map(percent)).toEqual([
    '0 %',
    '0.12 %',
    '3.4 %',
    '50 %',
    '96.3 %',
    '99.91 %',
    '100 %',
  ]);
  expect([0.34, 12.4, 89, 150].map(saySeconds)).toEqual(['0.3 s', '12 s', '89 s', '2.5 min']);
});

test('whoever leaves once the call has ended is told so, with who comes then', () => {
  expect(sayState(sitting, 'UTC')).toBe('on a call');
  expect(sayState({ ...sitting, leaving: true }, 'UTC')).toBe('on a call, signed off when it ends');
  expect(sayState({ ...sitting, leaving: true, next: 'Ruth Adeyemi' }, 'UTC')).toBe(
    'on a call, signed off when it ends; then Ruth Adeyemi',
  );
  expect(sayState({ ...sitting, state: 'paused', why: 'Break' }, 'UTC')).toBe('paused: Break');
});

test('a number is read with a comma or a dot, and only between its bounds', () => {
  expect(
    ['7', ' 7,5 ', '0.25', '', 'many', '-1', '601', '1.234'].map((text) => readBetween(text, 0, 600)),
  ).toEqual([7, 7.5, 0.25, null, null, null, null, null]);
});

test('how a phone stands that is to stay connected is said, with why it is not', () => {
  expect(sayLine(sitting)).toBe('');
  expect(sayLine({ line: { state: 'held', why: null } })).toMatch(/stays connected/);
  expect(sayLine({ line: { state: 'calling', why: null } })).toMatch(/is being called/);
  expect(sayLine({ line: { state: 'rings', why: 'they hung up' } })).toBe(
    'Their phone is not connected (they hung up): it rings for each call.',
  );
});
