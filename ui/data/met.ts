import type { PersonPage } from '../../api/people';
import { create } from 'zustand';
import { mergeSlices } from '../../core/editing';
import type { Estate } from '../../core/estate';
import { api } from './api';
import { personKey } from './data';
import { forgetWithAccount } from './session';

type Part = Pick<Estate, 'people' | 'groups' | 'menus'>;

interface MetState {
  /** Parts of the estate that edits have come to need: those behind colleagues, groups and menus that were chosen. */
  readonly part: Part;
  readonly meet: (slice: Estate) => void;
}

const NOBODY: Part = { people: [], groups: [], menus: [] };
/** What the plan in work leads to, beyond what its page came with. */
export const useMet = create<MetState>((set) => ({
  part: NOBODY,
  meet: (slice) =>
    set(({ part }) => {
      // What was read last is what counts.
      const { people, groups, menus } = mergeSlices(slice, part);
      return { part: { people, groups, menus } };
    }),
}));

// Whoever signs in next may not be one who is told private numbers.
forgetWithAccount(() => useMet.setState({ part: NOBODY }));

/** Reads a colleague, with all that calls for them can come to. */
export async function meetPerson(id: string): Promise<PersonPage> {
  const page = await api<PersonPage>('GET', personKey(id));
  useMet.getState().meet(page.slice);
  return page;
}

/** Reads a group or menu likewise. */
export async function meetObject(kind: 'group' | 'menu', id: string): Promise<void> {
  const { slice } = await api<{ slice: Estate }>('GET', `/api/objects/${kind}/${encodeURIComponent(id)}`);
  useMet.getState().meet(slice);
}

/** Reads what a template leads to, without the somebody who stands for those who follow it. */
export async function meetTemplate(id: string): Promise<void> {
  const { slice } = await api<{ slice: Estate }>('GET', `/api/objects/template/${encodeURIComponent(id)}`);
  useMet.getState().meet({ ...slice, people: slice.people.filter((person) => person.id !== `own:${id}`) });
}
