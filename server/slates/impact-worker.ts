import { applyEntries } from '../../core/changes/slate';
import { finderOf } from '../../core/editing';
import { changesOf, versionsOf, type Change, type Versions } from '../../core/assurance/impact';
import { readShared } from '../base';
import type { Prepared, ImpactTask } from './impact';

/** What was read last: the tasks of one impact come one after another. */
let kept: { readonly key: string; readonly versions: Versions } | null = null;

function versionsFor({ key, shared, fromMs }: ImpactTask): Versions {
  if (kept?.key === key) return kept.versions;
  const { estate, entries } = readShared<Prepared>(shared);
  const after = applyEntries(estate, entries);
  const versions = versionsOf(
    { estate, finder: finderOf(estate) },
    { estate: after, finder: finderOf(after) },
    fromMs,
  );
  kept = { key, versions };
  return versions;
}

export = (task: ImpactTask): readonly Change[] => {
  const versions = versionsFor(task);
  return task.starts.flatMap((start) => changesOf(versions, start));
};
