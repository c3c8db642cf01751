import { settingOf } from '../../../estate';
import type { Check } from '../types';

export const placeNotSent: Check = {
  id: 'place-not-sent',
  of: 'organisation',
  weight: 'fault',
  title: 'No address to send in an emergency',
  looksFor: 'Sites with phones and without an address that can be sent.',
  why: 'Whoever calls for help there and cannot speak is found by nobody.',
  run: ({ estate }) => {
    const standing = new Map<string, number>();
    for (const { site } of estate.devices ?? [])
      if (site !== undefined) standing.set(site, (standing.get(site) ?? 0) + 1);
    return (estate.sites ?? []).flatMap((site) => {
      const phones = standing.get(site.id) ?? 0;
      return phones === 0 || site.civic || site.kind === 'home'
        ? []
        : [
            {
              subject: { kind: 'site' as const, id: site.id, name: site.name },
              says: `${phones === 1 ? 'One phone stands' : `${phones} phones stand`} at ${site.name}, and no address is sent with an emergency call from there.`,
              evidence: [{ text: 'Where it is', setting: settingOf('sites', site.id, 'civic') }],
            },
          ];
    });
  },
};
