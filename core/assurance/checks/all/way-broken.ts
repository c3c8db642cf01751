import {
  bestWays,
  failWords,
  nameIn,
  networkOf,
  pathWith,
  siteAnswers,
  verdictWords,
} from '../../../network';
import { METHOD_WORDS } from '../devices';
import { settingOf, type Estate } from '../../../estate';
import type { Check, CheckResult, Subject } from '../types';

export const wayBroken: Check = {
  id: 'way-broken',
  of: 'organisation',
  weight: 'fault',
  title: 'A way on which packets die',
  looksFor:
    'Phones at sites whose network is known that do not register, stop ringing, have sound one way only or lose their calls: each packet is sent through the boxes on its way.',
  why: 'Outside the office everything looks right on the phone, and calls do not come or nobody hears anything.',
  run: ({ estate, keep }) => {
    const { sites, devices = [], servers, people } = estate;
    if (!sites?.some(({ network }) => network)) return [];
    const isDevice = new Set(devices.map(({ endpoint }) => endpoint));
    // Who has nothing at a site whose network is known changes nothing of what is found there.
    const placed = people.filter(({ endpoints }) =>
      endpoints.some(({ id, path }) => path?.site !== undefined || isDevice.has(id)),
    );
    return keep('ways that are broken', [sites, devices, servers, ...placed], () =>
      waysBroken({ ...estate, people: placed }),
    );
  },
};

type Found = CheckResult & { readonly subject: Subject };
const waysBroken = (estate: Estate): readonly Found[] =>
  (estate.sites ?? []).flatMap((site): readonly Found[] => {
    const of = networkOf(estate, site.id);
    if (typeof of === 'string') return [];
    const best = bestWays(of);
    return siteAnswers(of).flatMap(({ placed, phone, answers, worksUntil }) => {
      const broken = answers.find(({ works, id }) => !works && id !== 'addressChange');
      if (!broken?.verdict || broken.id === 'addressChange') return [];
      const device =
        placed.kind === 'device' ? (estate.devices ?? []).find(({ id }) => id === placed.of) : undefined;
      const way = device ? best(phone, ({ opens }) => opens.length === 0) : null;
      const who =
        placed.person && placed.kind === 'endpoint' ? `${placed.person.name}’s ${placed.name}` : placed.name;
      return [
        {
          subject: device
            ? { kind: 'device' as const, id: device.id, name: device.name }
            : { kind: 'person' as const, id: placed.person?.id ?? '', name: placed.person?.name ?? '' },
          detail: `${placed.id} ${broken.id}`,
          says: `${who} ${failWords(broken.id, worksUntil)} at ${site.name}: ${verdictWords(broken.verdict, nameIn(of))}.`,
          evidence: [
            {
              text: 'Its way',
              setting: device
                ? settingOf('devices', device.id, 'path')
                : settingOf('sites', site.id, 'network'),
            },
          ],
          mend:
            device && way
              ? {
                  says: `Let it get out by ${METHOD_WORDS[way.method]} over ${way.transport.toUpperCase()}${
                    way.keepAliveS === null ? '' : `, with a keep-alive every ${way.keepAliveS} s`
                  }`,
                  entries: [
                    {
                      kind: 'device' as const,
                      id: device.id,
                      name: device.name,
                      base: device,
                      after: { ...device, natMethod: way.method, path: pathWith(device.path, way) },
                    },
                  ],
                }
              : null,
        },
      ];
    });
  });
