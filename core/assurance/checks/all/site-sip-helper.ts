import { settingOf } from '../../../estate';
import { devicesAt } from '../devices';
import type { Check } from '../types';

export const siteSipHelper: Check = {
  id: 'site-sip-helper',
  of: 'organisation',
  weight: 'fault',
  title: 'SIP helper in the router',
  looksFor: 'Sites whose router rewrites SIP and breaks it, with phones that register through it.',
  why: 'It changes addresses inside messages: calls do not arrive, or have no sound.',
  run: ({ estate }) =>
    (estate.sites ?? []).flatMap((site) => {
      const { sipAlg } = site;
      const phones = devicesAt(estate, site.id).filter(({ natMethod }) => natMethod !== 'vpn');
      if ((sipAlg !== 'breaks-contact' && sipAlg !== 'breaks-sdp') || phones.length === 0) return [];
      return [
        {
          subject: { kind: 'site' as const, id: site.id, name: site.name },
          says: `The router at ${site.name} breaks ${sipAlg === 'breaks-contact' ? 'the addresses that phones register with' : 'the addresses that sound goes to'}, for ${phones.map(({ name }) => name).join(', ')}. Its SIP helper must be switched off, or SIP carried over TLS.`,
          evidence: [{ text: 'What the router does', setting: settingOf('sites', site.id, 'sipAlg') }],
        },
      ];
    }),
};
