import { editTarget } from '../../../editing';
import { isOn, labelOf, mendOf, targetsOf } from '../walk';
import type { Check } from '../types';

export const outsideHours: Check = {
  id: 'outside-hours',
  of: 'person',
  weight: 'risk',
  title: 'Mobile rings outside its person’s hours',
  looksFor: 'People whose plan knows their hours, and whose own mobile rings at any hour all the same.',
  why: 'It rings at night, and sooner or later the person switches twinning off altogether.',
  run: (person, context) => {
    const hours = person.plan.rules.flatMap(({ when }) => (when.schedule?.inside ? [when.schedule.id] : []));
    const [schedule] = hours;
    if (schedule === undefined) return [];
    const name = context.estate.schedules.find(({ id }) => id === schedule)?.name ?? schedule;
    return targetsOf(person).flatMap((place, _, all) => {
      const { target, rule, where, setting, stage, treatment } = place;
      const endpoint = person.endpoints.find(({ id }) => id === target.endpoint);
      if (!isOn(place) || endpoint?.kind !== 'mobile' || target.schedule || rule?.when.schedule) return [];
      if (rule?.when.status || rule?.when.caller) return [];
      const inStage = all.filter((each) => each.treatment === treatment && each.stage === stage);
      const at = { treatment, stage, target: inStage.indexOf(place) };
      return [
        {
          detail: `${treatment}/${endpoint.id}`,
          says: `The ${labelOf(endpoint)} rings at any hour in ${where}, though the plan knows “${name}”.`,
          evidence: [{ text: 'The mobile has no hours of its own here', setting }],
          mend: mendOf(
            `Ring it in “${name}” only`,
            'person',
            person,
            editTarget(person, at, { schedule: { id: schedule, inside: true } }),
          ),
        },
      ];
    });
  },
};
