import { settingOf } from '../../../estate';
import type { Check } from '../types';

export const relayAddress: Check = {
  id: 'relay-address',
  of: 'organisation',
  weight: 'risk',
  title: 'Branch relay without a stable address',
  looksFor: 'Sites with a branch relay, whose outside address may change.',
  why: 'When it changes, every phone of the site is unreachable until the relay has found its way back.',
  run: ({ estate }) =>
    (estate.sites ?? []).flatMap((site) =>
      site.relay && site.stableAddress !== true
        ? [
            {
              subject: { kind: 'site' as const, id: site.id, name: site.name },
              says: `The phones at ${site.name} reach the phone system through one device there, and the site’s address may change.`,
              evidence: [
                { text: 'Whether it stays the same', setting: settingOf('sites', site.id, 'stableAddress') },
              ],
            },
          ]
        : [],
    ),
};
