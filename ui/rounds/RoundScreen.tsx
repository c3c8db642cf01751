import { useState, type ReactNode } from 'react';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import type { RoundPage } from '../../api/rounds';
import { messageOf } from '../data/api';
import { useRemoveRound, useRound, useRoundStep, type RoundStep } from '../data/rounds';
import { useCanEdit, useZone } from '../data/session';
import { sayWhen } from '../desks/when';
import { PageFrame } from '../kit/PageFrame';
import { Button, Refused, Section, Skeleton, Trouble } from '../kit/parts';
import { space, useIsWide, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';
import { WorkBar } from '../kit/WorkBar';
import { KeysPart } from './KeysPart';
import { ListPart } from './ListPart';
import { NumbersPart } from './NumbersPart';
import { PlanPart } from './PlanPart';
import { RecordingPart } from './RecordingPart';
import { doneOf, sayRoundState } from './words';

export function RoundScreen({ id }: { readonly id: number }) {
  const round = useRound(id);
  if (round.isError) return <Trouble message={messageOf(round.error)} retry={() => void round.refetch()} />;
  if (round.isPending) return <Skeleton />;
  return <RoundView key={id} page={round.data} />;
}

const OPEN = ['draft', 'asked', 'approved'] as const;

/** One round: what it plays, whom it calls and how, who approved it, and how it goes. */
function RoundView({ page }: { readonly page: RoundPage }) {
  const mayEdit = useCanEdit();
  const isOpen = OPEN.some((state) => state === page.state);
  const canEdit = mayEdit && isOpen;
  const isLive = page.state === 'running' || (page.counts.calling ?? 0) > 0;
  return (
    <PageFrame
      title={page.name}
      text={sayRoundState(page.state)}
      term="round"
      back={{ path: '/rounds', label: 'Rounds of calls' }}
      bar={<StepBar page={page} mayEdit={mayEdit} />}
    >
      <Columns
        left={
          <>
            {canEdit && page.state !== 'draft' ? (
              <Section>
                <Words tone="soft">What you change here must be approved again.</Words>
              </Section>
            ) : null}
            <RecordingPart page={page} canEdit={canEdit} />
            <KeysPart page={page} canEdit={canEdit} />
            <ListPart page={page} canEdit={canEdit} />
            <PlanPart page={page} canEdit={canEdit} />
          </>
        }
        right={
          <>
            {isOpen ? null : <ProgressPart page={page} />}
            <NumbersPart page={page} isLive={isLive} />
          </>
        }
        isRightFirst={!isOpen}
      />
      {mayEdit && page.state !== 'running' && page.state !== 'paused' ? <RemovePart page={page} /> : null}
    </PageFrame>
  );
}

/** Side by side on a wide screen; one below the other on a phone, what matters now first. */
function Columns({
  left,
  right,
  isRightFirst,
}: {
  readonly left: ReactNode;
  readonly right: ReactNode;
  readonly isRightFirst: boolean;
}) {
  const wide = useIsWide();
  const direction = isRightFirst ? 'column-reverse' : 'column';
  return (
    <View style={{ flexDirection: wide ? 'row' : direction }}>
      <View style={wide ? { flex: 1 } : {}}>{left}</View>
      <View style={wide ? { flex: 1 } : {}}>{right}</View>
    </View>
  );
}

/** How far it has come: a bar of all that needs no call any more, and how many stand how. */
function ProgressPart({ page }: { readonly page: RoundPage }) {
  const palette = usePalette();
  const zone = useZone();
  const done = doneOf(page);
  const share = page.total === 0 ? 0 : Math.round((done / page.total) * 100);
  return (
    <Section title="How it goes">
      <View
        role="progressbar"
        aria-label="Numbers that need no call any more"
        aria-valuenow={share}
        aria-valuemin={0}
        aria-valuemax={100}
        style={{
          height: 14,
          borderWidth: 1,
          borderColor: palette.ink,
          borderRadius: 3,
          overflow: 'hidden',
          backgroundColor: palette.sheet,
        }}
      >
        <View style={{ width: `${share}%`, height: '100%', backgroundColor: palette.kelp }} />
      </View>
      <Words live>
        {`${done} of ${page.total} done, ${page.counts.heard ?? 0} of them heard${
          (page.counts['voicemail-left'] ?? 0) > 0
            ? `, ${page.counts['voicemail-left']} with a voicemail left`
            : ''
        }.`}
      </Words>
      {page.nextAt && page.state === 'running' ? (
        <Words>{`The next number may be called at ${sayWhen(page.nextAt, zone)}.`}</Words>
      ) : null}
      <Words tone="soft" size="small">
        {[
          page.startedAt ? `Started ${sayWhen(page.startedAt, zone)}` : '',
          page.endedAt ? `ended ${sayWhen(page.endedAt, zone)}` : '',
          page.approvedBy ? `approved by ${page.approvedBy}` : '',
        ]
          .filter(Boolean)
          .join(', ')}
      </Words>
      {(page.counts.unknown ?? 0) > 0 ? (
        <Words>
          Of those not known the server or the phone system ended during the call. They are not called again.
        </Words>
      ) : null}
    </Section>
  );
}

const STEPS: Readonly<Record<RoundStep, string>> = {
  ask: 'Ask for approval',
  withdraw: 'Back to draft',
  approve: 'Approve this round',
  start: 'Start calling',
  pause: 'Pause',
  resume: 'Go on calling',
  stop: 'Stop for good',
};

/** The next thing to do with a round, at the bottom where the thumb is. */
function StepBar({ page, mayEdit }: { readonly page: RoundPage; readonly mayEdit: boolean }) {
  const go = useRoundStep(page.id);
  const [stops, setStops] = useState(false);
  const { state, version, missing, whyNotApprove } = page;
  const waiting = (page.counts.waiting ?? 0) + (page.counts['not-allowed-now'] ?? 0);
  const button = (step: RoundStep, kind: 'main' | 'plain' | 'quiet', disabled = false) => (
    <Button
      key={step}
      kind={kind}
      label={STEPS[step]}
      disabled={disabled}
      busy={go.isPending && go.variables.step === step}
      onPress={() => {
        setStops(false);
        go.mutate({ step, version });
      }}
    />
  );
  const says: string | null =
    state === 'draft'
      ? missing.length > 0
        ? `Still needs ${missing.join(', ')}.`
        : `${waiting} numbers can be called once somebody else has approved it.`
      : state === 'asked'
        ? (whyNotApprove ?? `${page.askedBy ?? 'Somebody'} asks you to approve ${waiting} calls.`)
        : state === 'approved'
          ? `Approved by ${page.approvedBy ?? 'somebody'}: ${waiting} numbers are called.`
          : stops
            ? `${waiting} numbers will not be called. This cannot be undone.`
            : null;
  const buttons = mayEdit
    ? {
        draft: [button('ask', 'main', missing.length > 0)],
        asked: [...(whyNotApprove === null ? [button('approve', 'main')] : []), button('withdraw', 'quiet')],
        approved: [button('start', 'main'), button('withdraw', 'quiet')],
        running: [button('pause', 'main'), stopButton()],
        paused: [button('resume', 'main'), stopButton()],
        stopped: [],
        done: [],
      }[state]
    : state === 'asked' && whyNotApprove === null
      ? [button('approve', 'main')]
      : [];
  function stopButton() {
    return stops ? (
      button('stop', 'plain')
    ) : (
      <Button key="ask-stop" kind="quiet" label="Stop this round" onPress={() => setStops(true)} />
    );
  }
  if (buttons.length === 0 && says === null && !go.isError) return null;
  return (
    <WorkBar label="What is next">
      {says ? <Words>{says}</Words> : null}
      <Refused error={go.error} />
      {buttons.length > 0 ? (
        <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>{buttons}</View>
      ) : null}
    </WorkBar>
  );
}

function RemovePart({ page }: { readonly page: RoundPage }) {
  const router = useRouter();
  const remove = useRemoveRound();
  return (
    <Section>
      <View style={{ alignItems: 'flex-start' }}>
        <Button
          kind="quiet"
          label="Remove this round"
          busy={remove.isPending}
          onPress={() => remove.mutate(page.id, { onSuccess: () => router.navigate('/rounds') })}
        />
      </View>
      <Words size="small" tone="soft">
        It stands under “Removed rounds” and can be restored.
      </Words>
      <Refused error={remove.error} />
    </Section>
  );
}
