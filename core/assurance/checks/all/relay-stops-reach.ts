import { settingOf, andList } from '../../../estate';
import { whenRelayStops } from '../../../devices/relay';
import type { Check } from '../types';

export const relayStopsReach: Check = {
  id: 'relay-stops-reach',
  of: 'organisation',
  weight: 'risk',
  title: 'A branch relay on which somebody’s reach hangs',
  looksFor:
    'People whose calls nobody answers any more when the branch relay of their site stops, though every phone of theirs that still rings is answered.',
  why: 'One device that stops takes away all that they can be reached on.',
  run: ({ estate, index, nowMs }) =>
    (estate.sites ?? []).flatMap((site) => {
      const relay = estate.devices?.find(({ id }) => id === site.relay?.device);
      const lost = relay ? whenRelayStops(index, site, nowMs).filter(({ isSilent }) => isSilent) : [];
      const [first] = lost;
      if (!relay || !first) return [];
      return [
        {
          subject: { kind: 'site' as const, id: site.id, name: site.name },
          says: `When ${relay.name} stops, nobody reaches ${andList(lost.map(({ person }) => person.name))} any more.`,
          evidence: [{ text: 'The relay', setting: settingOf('sites', site.id, 'relay') }],
          call: first.call,
        },
      ];
    }),
};
