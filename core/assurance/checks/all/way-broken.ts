import {
  failWords,
  networkOf,
  pathAnswers,
  recommend,
  topologyOf,
  verdictWords,
  verdictsOf,
  type Way,
} from '../../../network';
import type { NetworkPhone, PathSettings } from '../../../estate';
import { METHOD_WORDS } from '../devices';
import type { Check } from '../types';

const set = (
  path: PathSettings | undefined,
  { transport, keepAliveS, turnTransport }: Way,
): PathSettings => ({
  ...path,
  transport,
  keepAliveS,
  rport: true,
  ...(turnTransport ? { turnTransport } : {}),
});

export const wayBroken: Check = {
  id: 'way-broken',
  of: 'organisation',
  weight: 'fault',
  title: 'A way on which packets die',
  looksFor:
    'Phones at sites whose network is known that do not register, stop ringing, have sound one way only or lose their calls: each packet is sent through the boxes on its way.',
  why: 'Outside the office everything looks right on the phone, and calls do not come or nobody hears anything.',
  run: ({ estate }) =>
    (estate.sites ?? []).flatMap((site) => {
      const of = networkOf(estate, site.id);
      if (typeof of === 'string') return [];
      const topology = topologyOf(of.network);
      const names = new Map(
        [...of.network.boxes, ...of.network.servers, ...of.network.phones].map((each) => [
          each.id,
          each.name,
        ]),
      );
      const nameOf = (id: string) => (id === 'internet' ? 'the internet' : (names.get(id) ?? id));
      return of.network.phones.flatMap((phone: NetworkPhone) => {
        const verdicts = verdictsOf(topology, phone);
        const broken = pathAnswers(verdicts, nameOf).find(
          ({ works, id }) => !works && id !== 'addressChange',
        );
        const placed = of.phones.find(({ id }) => id === phone.id);
        if (!broken || broken.id === 'addressChange' || !placed) return [];
        const device =
          placed.kind === 'device' ? (estate.devices ?? []).find(({ id }) => id === placed.of) : undefined;
        const best = device && recommend(of.network, phone).ways.find(({ opens }) => opens.length === 0);
        const who =
          placed.person && placed.kind === 'endpoint'
            ? `${placed.person.name}’s ${placed.name}`
            : placed.name;
        return [
          {
            subject: device
              ? { kind: 'device' as const, id: device.id, name: device.name }
              : { kind: 'person' as const, id: placed.person?.id ?? '', name: placed.person?.name ?? '' },
            detail: `${placed.id} ${broken.id}`,
            says: `${who} ${failWords(broken.id, verdicts.worksUntil)} at ${site.name}: ${broken.verdict ? verdictWords(broken.verdict, nameOf) : broken.says}.`,
            evidence: [
              {
                text: 'Its way',
                setting: device ? `devices[${device.id}].path` : `sites[${site.id}].network`,
              },
            ],
            mend:
              device && best
                ? {
                    says: `Let it get out by ${METHOD_WORDS[best.method]} over ${best.transport.toUpperCase()}${
                      best.keepAliveS === null ? '' : `, with a keep-alive every ${best.keepAliveS} s`
                    }`,
                    entries: [
                      {
                        kind: 'device' as const,
                        id: device.id,
                        name: device.name,
                        base: device,
                        after: { ...device, natMethod: best.method, path: set(device.path, best) },
                      },
                    ],
                  }
                : null,
          },
        ];
      });
    }),
};
