import { mixed } from 'yup';
import { faultsOf } from './schema';
import { closed, list, maybe, requiredText, text, count } from './yup-parts';

const told = (schema: Parameters<typeof faultsOf>[0], value: unknown) =>
  faultsOf(schema, value)
    .map(({ path, message }) => `${path}: ${message}`)
    .toSorted();

describe('what may be left out, and what may not', () => {
  const shared = text(3);
  const schema = closed({
    name: requiredText(),
    short: shared,
    shorts: list(shared),
    times: maybe(list(count(1))),
    inner: maybe(closed({ id: requiredText(), note: text() })),
    told: mixed().test('told', 'must be told', (value) => value !== undefined),
  });
  test('a field that must be there is asked for, by its own rule too', () => {
    expect(told(schema, {})).toEqual(['name: is missing', 'told: must be told']);
    expect(told(schema, { name: 'n', told: 1, inner: {} })).toEqual(['inner.id: is missing']);
  });
  test('a field that is there is looked at, and each place of a list', () => {
    const value = { name: 'n', told: 1, short: 'long', shorts: ['abc', 'abcd'], times: [0] };
    expect(told(schema, value)).toEqual([
      'short: must be 3 characters or fewer',
      'shorts[1]: must be 3 characters or fewer',
      'times[0]: must be a whole number, 1 or more',
    ]);
  });
  test('null is not left out', () => {
    expect(told(schema, { name: 'n', told: 1, short: null, times: null })).toHaveLength(2);
  });
});
