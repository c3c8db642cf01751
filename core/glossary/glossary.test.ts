import { findTerms, TERMS, termOf, type Term } from '.';

test.each((TERMS as readonly Term[]).map((each) => [each.term, each] as const))(
  '%s is told in one short sentence, with an example',
  (_term, { means, example }) => {
    expect(means).toMatch(/^[A-Z][^!?]*\.$/);
    expect(means.split(/\s+/).length).toBeLessThanOrEqual(24);
    expect(example.trim()).not.toBe('');
    // One sentence: no full stop but the last, save those within a number.
    expect(means.replace(/\d\.\d/g, '').slice(0, -1)).not.toMatch(/\.\s/);
  },
);
test('no two terms have one id or one name', () => {
  expect(new Set(TERMS.map(({ id }) => id)).size).toBe(TERMS.length);
  expect(new Set(TERMS.map(({ term }) => term.toLowerCase())).size).toBe(TERMS.length);
});
test('a term is found by what others call it, whatever the case and the accents', () => {
  expect(findTerms('TWINNING').map(({ id }) => id)).toContain('simultaneous-ring');
  expect(findTerms('class of sérvice').map(({ id }) => id)).toEqual(['permission']);
  expect(findTerms('').length).toBe(TERMS.length);
  expect(findTerms('no such thing')).toEqual([]);
  expect(termOf('slate').term).toBe('Slate');
});
