import { showNumber } from '../../../calls/dialling';
import { settingOf, type Permission } from '../../../estate';
import { isOn, labelOf, mendOf, targetsOf } from '../walk';
import type { Check } from '../types';

/** A leg to an outside number that the person's permission does not allow fails silently. */
export const noPermissionOutside: Check = {
  id: 'no-permission-outside',
  of: 'person',
  weight: 'fault',
  title: 'No permission for the outgoing leg',
  looksFor: 'Phones outside that a plan rings and that the person’s permission does not allow to be called.',
  why: 'The leg fails silently: the mobile never rings, and nobody is told.',
  run: (person, context) => {
    const own = context.permission(person.permission);
    const seen = new Set<string>();
    return targetsOf(person)
      .filter(isOn)
      .flatMap(({ target, setting, where }) => {
        const endpoint = context.endpoint(target.endpoint);
        if (!endpoint?.number || seen.has(endpoint.id)) return [];
        if (context.noWayOut(own, endpoint.number) !== 'not-permitted') return [];
        seen.add(endpoint.id);
        const better = smallestFor(
          context.estate.permissions,
          (each) => context.noWayOut(each, endpoint.number!) === null,
        );
        return [
          {
            detail: endpoint.id,
            says: `The ${labelOf(endpoint)} (${showNumber(endpoint.number)}) never rings: “${own?.name ?? person.permission}” does not allow its number.`,
            evidence: [
              { text: `It stands in ${where}.`, setting },
              {
                text: `Permission: ${own?.name ?? person.permission}`,
                setting: settingOf('people', person.id, 'permission'),
              },
            ],
            mend: better
              ? mendOf(`Give the permission “${better.name}”`, 'person', person, {
                  ...person,
                  permission: better.id,
                })
              : null,
          },
        ];
      });
  },
};

/** The permission that allows it with the fewest classes. */
const smallestFor = (all: readonly Permission[], allows: (permission: Permission) => boolean) =>
  all.filter(allows).sort((a, b) => a.allow.length - b.allow.length)[0];
