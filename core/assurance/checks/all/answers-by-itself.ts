import { insideOf } from '../../../estate';
import { editTarget } from '../../../editing';
import { isOn, labelOf, mendOf, targetsOf } from '../walk';
import type { Check } from '../types';

export const answersByItself: Check = {
  id: 'answers-by-itself',
  of: 'person',
  weight: 'note',
  title: 'The far end may answer by itself',
  looksFor:
    'Landlines and SIP addresses outside that are rung without press 1 to accept, whose answering machine is not known.',
  why: 'An answering machine at home takes the call, and with it the message.',
  run: (person, { endpoint }) =>
    targetsOf(person).flatMap((place, _, all) => {
      const { target, where, setting, treatment, stage } = place;
      const known = endpoint(target.endpoint);
      if (!isOn(place) || !known || !['landline', 'sip'].includes(known.kind)) return [];
      if ((target.confirm ?? 'none') !== 'none' || known.mailboxAfterMs !== undefined) return [];
      const at = {
        treatment,
        stage,
        target: all.filter((each) => each.treatment === treatment && each.stage === stage).indexOf(place),
      };
      return [
        {
          detail: insideOf(setting),
          says: `The ${labelOf(known)} is rung in ${where} without press 1 to accept; whether a machine answers there is not known.`,
          evidence: [{ text: 'Rung here', setting }],
          mend: mendOf(
            'Let whoever answers confirm with a key',
            'person',
            person,
            editTarget(person, at, { confirm: 'key' }),
          ),
        },
      ];
    }),
};
