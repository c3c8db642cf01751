import { fold } from '../search';
import { TERMS, type Term, type TermId } from './terms';

export { TERMS, type Term, type TermId };
export { findTasks, TASKS, type Task } from './tasks';

const byId = new Map<string, Term>(TERMS.map((each) => [each.id, each]));
export const termOf = (id: TermId): Term => byId.get(id)!;

/** The terms that a query finds, by their words and by what others call them, in the order of the alphabet. */
export function findTerms(query: string): readonly Term[] {
  const words = fold(query.trim()).split(/\s+/).filter(Boolean);
  return (TERMS as readonly Term[])
    .filter((each) => {
      const text = fold([each.term, each.means, ...(each.also ?? [])].join(' '));
      return words.every((word) => text.includes(word));
    })
    .sort((a, b) => a.term.localeCompare(b.term, 'en'));
}
