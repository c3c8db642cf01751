import { useState } from 'react';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import { useQuery } from '@tanstack/react-query';
import { DateTime } from 'luxon';
import { showNumbersIn } from '../../core/calls/dialling';
import { zoneNamed } from '../../core/zones';
import type { Cause } from '../../core/assurance/diagnosis';
import { AroundPart } from '../calls/AroundPart';
import { api, messageOf } from '../data/api';
import { personKey, usePersonPage } from '../data/data';
import { mendEntries } from '../data/findings';
import { momentOf, useMoments } from '../data/moment';
import { useCanEdit, useZone } from '../data/session';
import { space, usePalette } from '../kit/theme';
import { MarkedItem } from '../kit/Marked';
import { PageFrame } from '../kit/PageFrame';
import { Button, Choice, Empty, Field, Section, Skeleton, Trouble } from '../kit/parts';
import { shownMoment, typedMoment } from '../edit/typedMoment';
import { ToSlate } from '../edit/ToSlate';
import { Words } from '../kit/Words';

interface ShownCause extends Omit<Cause, 'findings' | 'call'> {
  /** Null: it lies on the way of a phone's packets, at a site. */
  readonly call: Cause['call'] | null;
  readonly site?: string;
  readonly findings: readonly { readonly key: string; readonly says: string; readonly mend: string | null }[];
}
interface Answer {
  readonly complaints: readonly { readonly id: string; readonly says: string }[];
  /** Where it is about another moment: how things stood then. */
  readonly then: { readonly at: string; readonly status: string; readonly changed: number } | null;
  readonly diagnosis: { readonly causes: readonly ShownCause[]; readonly searched: number } | null;
}

/** From what somebody complains of to what would produce it. */
export function TroubleshootScreen({ id }: { readonly id: string }) {
  const page = usePersonPage(id);
  const [complaint, setComplaint] = useState<string | null>(null);
  /** When it was, in ms since 1970; null: it is so now. Undefined: a moment that is still being typed. */
  const [at, setAt] = useState<number | null | undefined>(null);
  const query = new URLSearchParams({
    ...(complaint ? { complaint } : {}),
    ...(complaint && typeof at === 'number' ? { at: String(at) } : {}),
  }).toString();
  const path = `${personKey(id)}/diagnosis${query ? `?${query}` : ''}`;
  const answer = useQuery({
    queryKey: [path],
    queryFn: () => api<Answer>('GET', path),
    placeholderData: (before) => before,
    enabled: at !== undefined,
    retry: false,
  });
  if (page.isError) return <Trouble message={messageOf(page.error)} retry={() => void page.refetch()} />;
  if (answer.isError && at === null)
    return <Trouble message={messageOf(answer.error)} retry={() => void answer.refetch()} />;
  if (page.isPending || (answer.isPending && at === null)) return <Skeleton />;
  const { person } = page.data;
  const { complaints, diagnosis, then } = answer.data ?? { complaints: [], diagnosis: null, then: null };
  const isOld = answer.isPlaceholderData;
  const chosen = complaints.find((each) => each.id === complaint);
  return (
    <PageFrame
      title={`Troubleshoot ${person.name}`}
      back={{ path: `/people/${encodeURIComponent(id)}`, label: `Back to ${person.name}` }}
    >
      <Section title="What is the complaint?">
        {chosen ? (
          <View style={{ flexDirection: 'row', alignItems: 'center', gap: space(2) }}>
            <Words size="lead" strong style={{ flex: 1 }}>
              {`“${chosen.says}”`}
            </Words>
            <Button kind="quiet" label="Something else" onPress={() => setComplaint(null)} />
          </View>
        ) : (
          <Choice
            label="What is the complaint?"
            value={complaint}
            options={complaints.map(({ id: value, says }) => ({ value, label: says }))}
            onChange={setComplaint}
          />
        )}
      </Section>
      <Section title="When was it?">
        <WhenPart at={at} onAt={setAt} />
        {answer.isError ? (
          <Words tone="rust" live>
            {messageOf(answer.error)}
          </Words>
        ) : null}
        {then && !isOld && at !== undefined ? (
          <Words tone="soft" live>
            {`As everything stood then: the status was “${then.status}”; ${
              then.changed === 0
                ? 'nothing of the person has changed since'
                : `${then.changed} ${then.changed === 1 ? 'setting' : 'settings'} of the person ${then.changed === 1 ? 'has' : 'have'} changed since`
            }. Which settings the phones had then is not kept.`}
          </Words>
        ) : null}
      </Section>
      {typeof at === 'number' ? <AroundPart person={id} at={at} /> : null}
      {complaint && at !== undefined && (isOld || answer.isPending) ? <Skeleton rows={3} /> : null}
      {complaint && at === undefined ? (
        <Section>
          <Words tone="soft">Say when it was, and press Look then.</Words>
        </Section>
      ) : null}
      {diagnosis && !isOld && chosen && at !== undefined ? (
        <Section
          title="What would do that"
          aside={<Words size="small" tone="soft">{`${diagnosis.searched} ways searched`}</Words>}
        >
          {diagnosis.causes.length === 0 ? (
            <Empty
              title="Nothing here would do that"
              text="Neither how it is set, nor any state of phones, trunks and status that was searched. Ask at which hour it was, who called and what was heard; then try that call."
            />
          ) : (
            <View role="list">
              {diagnosis.causes.map((cause, i) => (
                <CauseRow key={cause.id} cause={cause} place={i + 1} person={page.data.person} />
              ))}
            </View>
          )}
        </Section>
      ) : null}
    </PageFrame>
  );
}

/** Now, or a day and hour that is past: a complaint is about how things stood then. */
function WhenPart({
  at,
  onAt,
}: {
  readonly at: number | null | undefined;
  readonly onAt: (at: number | null | undefined) => void;
}) {
  const zone = useZone();
  const [text, setText] = useState<string | null>(null);
  const read = typedMoment(text ?? '', zone)?.toMillis() ?? null;
  const isPast = read !== null && read <= Date.now();
  const yesterday = () => shownMoment(DateTime.now().setZone(zoneNamed(zone)).minus({ days: 1 }));
  return (
    <View style={{ gap: space(2) }}>
      <Choice
        label="When was it?"
        value={text === null ? 'now' : 'then'}
        options={[
          { value: 'now', label: 'It is so now' },
          { value: 'then', label: 'At a day and hour' },
        ]}
        onChange={(next) => {
          if (next === 'now') {
            setText(null);
            onAt(null);
          } else {
            setText(yesterday());
            onAt(undefined);
          }
        }}
      />
      {text === null ? null : (
        <View style={{ flexDirection: 'row', alignItems: 'flex-end', gap: space(2), maxWidth: 420 }}>
          <View style={{ flex: 1 }}>
            <Field
              label="Day and hour, as 2026-11-23 14:20"
              mono
              value={text}
              onChange={(typed) => {
                setText(typed);
                onAt(undefined);
              }}
              onSubmit={() => isPast && onAt(read)}
              error={
                read === null
                  ? 'A day and hour such as 2026-11-23 14:20'
                  : isPast
                    ? null
                    : 'This is still to come'
              }
            />
          </View>
          <Button label="Look then" disabled={!isPast || at === read} onPress={() => onAt(read)} />
        </View>
      )}
    </View>
  );
}

function CauseRow({
  cause,
  place,
  person,
}: {
  readonly cause: ShownCause;
  readonly place: number;
  readonly person: Parameters<typeof momentOf>[1];
}) {
  const palette = usePalette();
  const router = useRouter();
  const canEdit = useCanEdit();
  const setMoment = useMoments((state) => state.set);
  const show = () => {
    if (!cause.call) {
      router.navigate(`/networks/${encodeURIComponent(cause.site ?? '')}`);
      return;
    }
    setMoment(person.id, momentOf(cause.call, person, cause.status ?? person.status));
    router.navigate(`/people/${encodeURIComponent(person.id)}/try`);
  };
  return (
    <MarkedItem color={cause.isSet ? palette.rust : palette.line}>
      <Words strong>{`${place}. ${cause.says}.`}</Words>
      <Words size="small" tone="soft">
        {showNumbersIn(cause.because)}
      </Words>
      <Words>
        <Words strong>Tell it by: </Words>
        {cause.tell}
      </Words>
      <Words>
        <Words strong>Then: </Words>
        {cause.mend}
      </Words>
      {cause.findings.map((finding) => (
        <View key={finding.key} style={{ gap: space(1) }}>
          <Words>{showNumbersIn(finding.says)}</Words>
          {finding.mend && canEdit ? (
            <View style={{ flexDirection: 'row' }}>
              <ToSlate kind="plain" label={finding.mend} entries={() => mendEntries(finding.key)} />
            </View>
          ) : null}
        </View>
      ))}
      <View style={{ flexDirection: 'row' }}>
        <Button
          kind="quiet"
          icon="play"
          label={cause.call ? 'Show the call' : 'See its packets'}
          onPress={show}
        />
      </View>
    </MarkedItem>
  );
}
