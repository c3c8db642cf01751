import { X509Certificate } from 'node:crypto';
import { existsSync } from 'node:fs';
import { statfs } from 'node:fs/promises';
import { dirname } from 'node:path';
import type { Authority } from '../../api/provisioning';
import type { ServerAlert, ServerJob, ServerRun } from '../../api/server';

const DAY_MS = 86_400_000;
/** A certificate that ends within so many days is told of. */
const SOON_DAYS = 30;
/** Free parts of a disk below which it is told of, and below which it is a fault. */
const LITTLE = 0.1;
const HARDLY = 0.02;
/** Servers whose clocks differ from the database’s by more do timed work at the wrong moment. */
const CLOCK_MS = 5000;
/** A server that went away without a word is told of for so long. */
const LOST_MS = DAY_MS;

const gib = (bytes: number) => (bytes / 1024 ** 3).toFixed(1);

/** How full the disk is that a folder lies on; null: it is not told. */
export async function diskAlert(folder: string, stat = statfs): Promise<ServerAlert | null> {
  let at = folder;
  while (!existsSync(at) && dirname(at) !== at) at = dirname(at);
  const { bavail, blocks, bsize } = await stat(at);
  const free = bavail / blocks;
  if (!(free < LITTLE)) return null;
  return {
    kind: 'disk',
    weight: free < HARDLY ? 'fault' : 'risk',
    says: `The disk of ${folder} is nearly full: ${gib(bavail * bsize)} GiB, ${Math.floor(free * 100)} %, are free. Records of calls that cannot be written are lost.`,
    href: null,
  };
}

const until = (at: number, now: number) => {
  const days = Math.ceil((at - now) / DAY_MS);
  return days <= 0 ? 'has run out' : days === 1 ? 'runs out within a day' : `runs out in ${days} days`;
};

/** Certificates that run out soon: that of the service of phones, and those that phones are trusted by. */
export function certificateAlerts(
  own: string | null,
  authorities: readonly Authority[],
  nowMs: number,
): readonly ServerAlert[] {
  const ends: readonly (readonly [string, number])[] = [
    ...(own === null
      ? []
      : [
          [
            'The certificate that phones know this server by',
            Date.parse(new X509Certificate(own).validTo),
          ] as const,
        ]),
    ...authorities.map(
      ({ name, until: at }) => [`The certificate authority “${name}”`, Date.parse(at)] as const,
    ),
  ];
  return ends.flatMap(([what, at]) =>
    at - nowMs > SOON_DAYS * DAY_MS
      ? []
      : [
          {
            kind: 'certificate' as const,
            weight: at <= nowMs ? ('fault' as const) : ('risk' as const),
            says: `${what} ${until(at, nowMs)}.`,
            href: '/provisioning',
          },
        ],
  );
}

export const jobAlerts = (jobs: readonly ServerJob[]): readonly ServerAlert[] =>
  jobs.flatMap(({ kind, name, state, href }) =>
    state !== 'failed'
      ? []
      : [
          {
            kind: 'job' as const,
            weight: 'fault' as const,
            says:
              kind === 'slate'
                ? `The slate “${name}” was held back when it was due.`
                : `${kind === 'staff-import' ? 'A staff list was not taken in' : `“${name}” was not taken in`}.`,
            href,
          },
        ],
  );

/** Servers that went away without saying so, while none was started anew on that machine since. */
export const serverAlerts = (runs: readonly ServerRun[], nowMs: number): readonly ServerAlert[] =>
  runs.flatMap((run) => {
    const again = runs.some(({ host, port, id }) => host === run.host && port === run.port && id > run.id);
    return run.state !== 'lost' || again || nowMs - Date.parse(run.seenAt) > LOST_MS
      ? []
      : [
          {
            kind: 'server' as const,
            weight: 'fault' as const,
            says: `The server on ${run.host}, port ${run.port}, was not heard of any more since ${run.seenAt.slice(11, 19)} UTC.`,
            href: '/server',
          },
        ];
  });

/** Who has called as much today as their permission allows. */
export const limitAlerts = (
  reached: readonly { readonly person: string; readonly name: string }[],
): readonly ServerAlert[] =>
  reached.map(({ person, name }) => ({
    kind: 'limit',
    weight: 'risk',
    says: `${name} has called as much today as their permission allows: further calls out are refused.`,
    href: `/people/${encodeURIComponent(person)}`,
  }));

export const clockAlert = (aheadMs: number): ServerAlert | null =>
  Math.abs(aheadMs) <= CLOCK_MS
    ? null
    : {
        kind: 'clock',
        weight: 'fault',
        says: `The clocks of this server and of the database differ by ${Math.round(Math.abs(aheadMs) / 1000)} s: what is set for a time happens at another.`,
        href: null,
      };
