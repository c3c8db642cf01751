import { settingOf, endpointTimes } from '../../../estate';
import { seconds } from '../../../calls/engine';
import { mendOf } from '../walk';
import type { Check } from '../types';

const LEAST_MS = 8000;

export const groupRingsTooShort: Check = {
  id: 'group-rings-too-short',
  of: 'group',
  weight: 'risk',
  title: 'The group rings too short for a member’s phone',
  looksFor: 'Groups whose ring time leaves a member’s phone less than eight seconds once the call is set up.',
  why: 'The group goes on before the phone has rung.',
  run: (group, { finder, owner }) =>
    group.members.flatMap((member) => {
      const person =
        'person' in member
          ? finder.person(member.person)
          : 'endpoint' in member
            ? owner(member.endpoint)
            : undefined;
      const first = person?.plan.otherwise.stages.find((stage) => 'ring' in stage);
      const ids =
        'endpoint' in member
          ? [member.endpoint]
          : first && 'ring' in first
            ? first.ring.filter(({ enabled }) => enabled !== false).map(({ endpoint }) => endpoint)
            : [];
      const phones = (person?.endpoints ?? []).filter(({ id }) => ids.includes(id));
      const slowest = phones
        .map((each) => ({ each, leftMs: group.ringMs - endpointTimes(each).setupMs }))
        .filter(({ leftMs }) => leftMs < LEAST_MS);
      const [worst] = slowest;
      if (!person || !worst || slowest.length < phones.length) return [];
      const ringMs = Math.ceil((group.ringMs + LEAST_MS - worst.leftMs) / 1000) * 1000;
      return [
        {
          detail: person.id,
          says: `${person.name}’s ${worst.each.label.toLowerCase()} rings for ${seconds(Math.max(0, worst.leftMs))} before the group goes on.`,
          evidence: [{ text: 'Rings for', setting: settingOf('groups', group.id, 'ringMs') }],
          mend: mendOf(`Ring for ${seconds(ringMs)}`, 'group', group, { ...group, ringMs }),
        },
      ];
    }),
};
