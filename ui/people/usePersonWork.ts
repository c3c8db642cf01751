import type { PersonPage } from '../../api/people';
import { useCallback, useEffect, useMemo, useState } from 'react';
import type { Person } from '../../core/estate';
import { isApiError, messageOf } from '../data/api';
import { useChangePerson } from '../data/data';
import { changeCount, draftPerson, useDrafts } from '../data/draft';

interface Conflict {
  readonly base: Person;
  readonly mine: Person;
  readonly theirs: { readonly person: Person; readonly version: number };
}

/** What can be undone after it was put live. */
interface Applied {
  readonly before: Person;
}

/** The work on one person: edits that are not live, putting them live, taking them back, and conflicts. */
export function usePersonWork(page: PersonPage) {
  const { id } = page.person;
  const draft = useDrafts((state) => state.drafts[id]);
  const { edit, undo, discard, rebase } = useDrafts();
  const put = useChangePerson<{ version: number; person: Person }>(id, 'PUT', '');
  const [conflict, setConflict] = useState<Conflict | null>(null);
  const [applied, setApplied] = useState<Applied | null>(null);
  const person = draftPerson(draft) ?? page.person;
  const changed = changeCount(draft) > 0;

  useEffect(() => {
    if (!changed) return;
    const warn = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener('beforeunload', warn);
    return () => window.removeEventListener('beforeunload', warn);
  }, [changed]);

  const { person: base, version: readVersion } = page;
  const editBase = useCallback(
    (change: (person: Person) => Person, merge?: string) => edit(base, readVersion, change, merge),
    [edit, base, readVersion],
  );
  const save = (mine: Person, base: Person, version: number) =>
    put.mutate(
      { version, person: mine },
      {
        onSuccess: () => {
          discard(id);
          setApplied({ before: base });
        },
        onError: (error) => {
          if (isApiError(error) && error.status === 409 && error.body.theirs)
            setConflict({ base, mine, theirs: error.body.theirs as Conflict['theirs'] });
        },
      },
    );

  return useMemo(
    () => ({
      draft,
      person,
      conflict,
      applied,
      busy: put.isPending,
      trouble: put.isError && !conflict ? messageOf(put.error) : null,
      edit: editBase,
      undo: () => undo(id),
      discard: () => {
        put.reset();
        discard(id);
      },
      apply: () => {
        if (!draft) return;
        if (!changed) discard(id);
        else save(person, draft.base, draft.version);
      },
      takeBackApplied: () => {
        if (applied) save(applied.before, page.person, page.version);
        setApplied(null);
      },
      forgetApplied: () => setApplied(null),
      keepMine: () => {
        if (!conflict) return;
        rebase(id, conflict.theirs.person, conflict.theirs.version);
        save(conflict.mine, conflict.theirs.person, conflict.theirs.version);
        setConflict(null);
      },
      takeTheirs: () => {
        discard(id);
        setConflict(null);
        put.reset();
      },
      closeConflict: () => setConflict(null),
    }),
    // `save` and the store's functions are the same throughout; what they work on is listed.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [draft, person, conflict, applied, put.isPending, put.isError, put.error, page, changed],
  );
}
