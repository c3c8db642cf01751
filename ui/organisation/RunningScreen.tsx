import type { ReactNode } from 'react';
import { View } from 'react-native';
import { DateTime } from 'luxon';
import type { ServerJob, ServerRun } from '../../api/server';
import { zoneNamed } from '../../core/zones';
import { messageOf } from '../data/api';
import { useServerPage } from '../data/server';
import { useZone } from '../data/session';
import { MarkedItem } from '../kit/Marked';
import { PageFrame } from '../kit/PageFrame';
import { LinkRow, LinkRows, Section, Skeleton, Trouble } from '../kit/parts';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';

const JOB_WORDS: Record<ServerJob['kind'], string> = {
  'staff-import': 'Import of staff',
  'call-import': 'Import of calls',
  round: 'Round of calls',
  slate: 'Slate set for a time',
  night: 'Look through a day’s calls',
};
const STATE_WORDS = { 'under-way': 'under way', waits: 'waits', failed: 'failed' } as const;
const SYSTEM_WORDS = {
  here: 'runs at this server',
  elsewhere: 'runs at another server of this machine',
  none: 'does not run',
} as const;
const RUN_WORDS = { running: '▰ runs', ended: 'ended', lost: '▱ lost' } as const;

/** What the servers are doing: which run, what long work is at, and what should be seen to. */
export function RunningScreen() {
  const zone = useZone();
  const page = useServerPage(true);
  if (page.isError) return <Trouble message={messageOf(page.error)} retry={() => void page.refetch()} />;
  if (page.isPending) return <Skeleton />;
  const { servers, jobs, alerts, database, memoryMib, streams, phoneSystem, registrations, calls } =
    page.data;
  const when = (at: string) =>
    DateTime.fromISO(at, { zone: zoneNamed(zone) })
      .setLocale('en')
      .toFormat('ccc d LLL, HH:mm:ss');
  return (
    <PageFrame
      title="Servers"
      text="Which run, what they are at, and what should be seen to"
      back={{ path: '/organisation', label: 'Back to Organisation' }}
    >
      <Section title="To be seen to">
        <AlertRows
          alerts={alerts}
          none="Nothing. Looked at: this server’s clock and the disk of its call records, certificates, long work, and whether every server is heard of."
        />
      </Section>
      <Section title="Long work">
        {jobs.length === 0 ? (
          <Words tone="soft">None is under way.</Words>
        ) : (
          <LinkRows>
            {jobs.map((job) => (
              <LinkRow
                key={`${job.kind} ${job.href} ${job.at ?? ''}`}
                title={`${JOB_WORDS[job.kind]}: ${job.name}`}
                text={sayJob(job, when)}
                mark={
                  <Words size="small" strong tone={job.state === 'failed' ? 'rust' : 'soft'}>
                    {STATE_WORDS[job.state]}
                  </Words>
                }
                href={job.href}
              />
            ))}
          </LinkRows>
        )}
      </Section>
      <Section title="Servers on this database">
        <View role="list">
          {servers.map((run) => (
            <RunRow key={run.id} run={run} when={when} />
          ))}
        </View>
      </Section>
      <Section title="This server now">
        <Row label="Database">{`${database.version}, answers in ${database.roundTripMs} ms`}</Row>
        <Row label="Memory">{`${memoryMib} MiB`}</Row>
        <Row label="Phone system">{SYSTEM_WORDS[phoneSystem ?? 'none']}</Row>
        <Row label="Phones registered">{String(registrations)}</Row>
        <Row label="Calls going on">{String(calls)}</Row>
        <Row label="Pages that follow what happens">{String(streams)}</Row>
        <Words size="small" tone="soft">
          For a monitoring system: /api/health/live, /api/health/ready, and /api/metrics in the format of
          Prometheus.
        </Words>
      </Section>
    </PageFrame>
  );
}

function sayJob({ state, done, total, at }: ServerJob, when: (at: string) => string): string {
  const far = done === null ? '' : total === null ? `${done} rows` : `${done} of ${total}`;
  return [far, at === null ? '' : state === 'waits' ? `for ${when(at)}` : when(at)]
    .filter(Boolean)
    .join(', ');
}

function Row({ label, children }: { readonly label: string; readonly children: ReactNode }) {
  return (
    <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
      <Words tone="soft" style={{ minWidth: 250 }}>
        {label}
      </Words>
      <Words mono>{children}</Words>
    </View>
  );
}

function RunRow({ run, when }: { readonly run: ServerRun; readonly when: (at: string) => string }) {
  const palette = usePalette();
  return (
    <View
      role="listitem"
      style={{
        flexDirection: 'row',
        flexWrap: 'wrap',
        gap: space(2),
        paddingVertical: space(2),
        borderBottomWidth: 1,
        borderColor: palette.line,
      }}
    >
      <View style={{ flex: 1, minWidth: 240 }}>
        <Words strong>{`${run.host}, port ${run.port}${run.isThis ? ' (this one)' : ''}`}</Words>
        <Words size="small" tone="soft">
          {`Version ${run.version}, started ${when(run.startedAt)}${
            run.state === 'running' ? '' : `, last heard of ${when(run.seenAt)}`
          }`}
        </Words>
      </View>
      <Words
        size="small"
        strong
        tone={run.state === 'running' ? 'kelp' : run.state === 'lost' ? 'rust' : 'soft'}
      >
        {RUN_WORDS[run.state]}
      </Words>
    </View>
  );
}

/** Alerts, each leading to where it is seen to. */
export function AlertRows({
  alerts,
  none,
}: {
  readonly alerts: readonly {
    readonly weight: 'fault' | 'risk';
    readonly says: string;
    readonly href: string | null;
  }[];
  readonly none: string;
}) {
  const palette = usePalette();
  if (alerts.length === 0) return <Words tone="soft">{none}</Words>;
  return (
    <View style={{ gap: space(2) }} role="list">
      {alerts.map(({ weight, says, href }) => (
        <MarkedItem key={says} color={weight === 'fault' ? palette.rust : palette.rings}>
          {href === null ? (
            <Words>{says}</Words>
          ) : (
            <LinkRows>
              <LinkRow title={says} href={href} />
            </LinkRows>
          )}
        </MarkedItem>
      ))}
    </View>
  );
}
