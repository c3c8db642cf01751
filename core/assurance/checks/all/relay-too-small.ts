import { settingOf } from '../../../estate';
import { modelOf } from '../../../devices/phones';
import { devicesAt } from '../devices';
import type { Check } from '../types';

export const relayTooSmall: Check = {
  id: 'relay-too-small',
  of: 'organisation',
  weight: 'fault',
  title: 'Branch relay that cannot carry its site',
  looksFor: 'Branch relays of a model that relays for fewer phones than stand there, or for none.',
  why: 'The phones beyond its number do not register.',
  run: ({ estate }) =>
    (estate.sites ?? []).flatMap((site) => {
      const relay = estate.devices?.find(({ id }) => id === site.relay?.device);
      const model = relay && modelOf(relay.model);
      const others = devicesAt(estate, site.id).filter(({ id }) => id !== relay?.id).length;
      if (!relay || !model || others <= model.relaysFor) return [];
      return [
        {
          subject: { kind: 'site' as const, id: site.id, name: site.name },
          says:
            model.relaysFor === 0
              ? `${relay.name} is to relay at ${site.name}, and a ${model.name} cannot.`
              : `${relay.name} relays for ${model.relaysFor} phones at most; ${others} stand at ${site.name}.`,
          evidence: [{ text: 'The relay', setting: settingOf('sites', site.id, 'relay') }],
        },
      ];
    }),
};
