import { insideOf, settingOf } from '../../../estate';
import { lineAdvice } from '../../../quality';
import { isOn, labelOf, targetsOf } from '../walk';
import type { Check } from '../types';

export const appPoorLine: Check = {
  id: 'app-poor-line',
  of: 'person',
  weight: 'risk',
  title: 'An app that rings first over a poor line',
  looksFor:
    'Softphones that ring in the first step although the line of their site was measured as one over which many are not content (MOS under 3.6).',
  why: 'The call is answered on the app and sounds poor, while the mobile number beside it would sound well.',
  run: (person, { endpoint, lineScores }) =>
    targetsOf(person)
      .filter(isOn)
      .flatMap(({ target, stage, setting, where }) => {
        const app = endpoint(target.endpoint);
        const score = lineScores.get(target.endpoint);
        if (!app || stage !== 0 || target.onlyQuality !== undefined || score === undefined) return [];
        if (lineAdvice(score) !== 'mobile') return [];
        return [
          {
            detail: insideOf(setting),
            says: `The ${labelOf(app)} rings first in ${where}, over a line measured at MOS ${score.toFixed(1)}.`,
            evidence: [
              { text: 'Rung here', setting },
              { text: 'The measured line', setting: settingOf('sites', app.path?.site ?? '', 'line') },
            ],
          },
        ];
      }),
};
