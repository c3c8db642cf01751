import { insideOf, settingOf, endpointTimes } from '../../../estate';
import { seconds } from '../../../calls/engine';
import { isOn, labelOf, targetsOf } from '../walk';
import type { Check } from '../types';

export const appAsleep: Check = {
  id: 'app-asleep',
  of: 'person',
  weight: 'risk',
  title: 'An app that is not woken in time',
  looksFor:
    'Softphones on mobiles that are not allowed to wake, or whose ring time is over before they are awake and ringing.',
  why: 'An app that may not notify, or wakes too late, stays silent in the pocket.',
  run: (person, { endpoint }) =>
    targetsOf(person)
      .filter(isOn)
      .flatMap(({ target, forMs, setting, where }) => {
        const app = endpoint(target.endpoint);
        if (app?.kind !== 'mobile-app') return [];
        const { wakes, wakeMs, setupMs } = endpointTimes(app);
        const leftMs =
          Math.min(target.giveUpAfterMs ?? Infinity, forMs - (target.delayMs ?? 0)) - wakeMs - setupMs;
        if (wakes && leftMs >= 5000) return [];
        return [
          {
            detail: insideOf(setting),
            says: wakes
              ? `The ${labelOf(app)}, once woken, has ${seconds(Math.max(0, leftMs))} left to ring in ${where}.`
              : `The ${labelOf(app)} is not woken when it sleeps, and does not ring then in ${where}.`,
            evidence: [
              { text: 'Rung here', setting },
              { text: app.label, setting: settingOf('people', person.id, ['endpoints', app.id]) },
            ],
          },
        ];
      }),
};
