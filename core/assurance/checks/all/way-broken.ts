import {
  bestWays,
  failWords,
  nameIn,
  networkOf,
  pathWith,
  siteAnswers,
  verdictWords,
} from '../../../network';
import { devicesOf, METHOD_WORDS } from '../devices';
import { settingOf, type Estate, type Person } from '../../../estate';
import { foundIn } from '../parts';
import type { Check, CheckResult, Subject } from '../types';

export const wayBroken: Check = {
  id: 'way-broken',
  of: 'organisation',
  weight: 'fault',
  title: 'A way on which packets die',
  looksFor:
    'Phones at sites whose network is known that do not register, stop ringing, have sound one way only or lose their calls: each packet is sent through the boxes on its way.',
  why: 'Outside the office everything looks right on the phone, and calls do not come or nobody hears anything.',
  run: ({ estate, keep, parts }) => {
    const { sites = [], devices, servers } = estate;
    const known = sites.filter(({ network }) => network);
    if (known.length === 0) return [];
    // Who has nothing at a site whose network is known changes nothing of what is found there.
    const placed = parts('phones at sites', (person) => {
      const at = person.endpoints.flatMap(({ id, path }) =>
        [path?.site, ...devicesOf(estate, id).map(({ site }) => site)].flatMap((site) => site ?? []),
      );
      return at.length > 0 ? { person, at: new Set(at) } : null;
    });
    const there = new Map<string, Person[]>(known.map(({ id }) => [id, []]));
    for (const { at, person } of foundIn(placed)) for (const id of at) there.get(id)?.push(person);
    return known.flatMap(({ id }) => {
      const people = there.get(id)!;
      return keep(`ways that are broken at ${id}`, [sites, devices, servers, ...people], () =>
        waysBroken({ ...estate, people }, id),
      );
    });
  },
};

type Found = CheckResult & { readonly subject: Subject };
function waysBroken(estate: Estate, at: string): readonly Found[] {
  const of = networkOf(estate, at);
  const site = estate.sites?.find(({ id }) => id === at);
  if (typeof of === 'string' || !site) return [];
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
}
