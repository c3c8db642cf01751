import { settingOf } from '../../../estate';
import { devicesAt } from '../devices';
import type { Check } from '../types';

export const relayNotAlwaysOn: Check = {
  id: 'relay-not-always-on',
  of: 'organisation',
  weight: 'risk',
  title: 'Branch relay that is not always on',
  looksFor: 'Sites whose branch relay is switched off at times.',
  why: 'While it is off no phone of the site rings.',
  run: ({ estate }) =>
    (estate.sites ?? []).flatMap((site) => {
      const relay = estate.devices?.find(({ id }) => id === site.relay?.device);
      if (!site.relay || !relay || site.relay.alwaysOn) return [];
      const others = devicesAt(estate, site.id).length - 1;
      return [
        {
          subject: { kind: 'site' as const, id: site.id, name: site.name },
          says: `${relay.name} relays for ${others} ${others === 1 ? 'phone' : 'phones'} at ${site.name} and is not always on.`,
          evidence: [{ text: 'The relay', setting: settingOf('sites', site.id, 'relay') }],
        },
      ];
    }),
};
