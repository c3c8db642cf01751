import type { PersonPage } from '../../api/people';
import { useEffect, useState } from 'react';
import { ScrollView, View } from 'react-native';
import { useRouter } from 'expo-router';
import { showNumbersIn } from '../../core/calls/dialling';
import type { EndpointBehaviour, EndpointState } from '../../core/calls/engine';
import { messageOf } from '../data/api';
import { usePersonPage } from '../data/data';
import { useTried } from '../data/useTried';
import { useDrafts, draftPerson } from '../data/draft';
import { useMoment, useMoments } from '../data/moment';
import { useRole } from '../data/session';
import { space, useIsWide, usePalette } from '../kit/theme';
import { CallerPart } from './CallerPart';
import { KeepDrill } from './KeepDrill';
import { LivePart } from './LivePart';
import { MomentBar } from './MomentBar';
import { MovePart } from './MovePart';
import {
  Button,
  Choice,
  IconButton,
  Section,
  Sheeted,
  Skeleton,
  Trouble,
  type ChoiceOption,
} from '../kit/parts';
import { TimeField } from '../kit/TimeField';
import { usePageTitle } from '../kit/usePageTitle';
import { Words } from '../kit/Words';
import { RingStrip } from '../drawings/RingStrip';
import { Steps } from '../kit/Steps';
import { Ask } from '../kit/Term';

export function TryScreen({ id }: { readonly id: string }) {
  const page = usePersonPage(id);
  if (page.isError) return <Trouble message={messageOf(page.error)} retry={() => void page.refetch()} />;
  if (page.isPending) return <Skeleton />;
  return <TryView key={id} page={page.data} />;
}

/** Calls play quicker than they would last: this many ms of the call pass in one of the clock. */
const PACE = 6;

type Does = 'nobody' | 'answers' | 'rejects' | EndpointState;
const doesOf = (b: EndpointBehaviour | undefined): Does =>
  b?.state && b.state !== 'ready'
    ? b.state
    : b?.rejectAfterMs !== undefined
      ? 'rejects'
      : b?.answerAfterMs !== undefined
        ? 'answers'
        : 'nobody';
const NUMBER_DOES: readonly ChoiceOption<Does>[] = [
  { value: 'nobody', label: 'Nobody there' },
  { value: 'answers', label: 'Answers' },
  { value: 'off', label: 'Off or out of coverage' },
  { value: 'unregistered', label: 'Not registered' },
  { value: 'busy', label: 'Busy' },
  { value: 'do-not-disturb', label: 'Do not disturb' },
  { value: 'rejects', label: 'Rejects' },
  { value: 'auto-answer', label: 'Answers by itself' },
];
const PHONE_DOES: readonly ChoiceOption<Does>[] = [
  { value: 'nobody', label: 'Nobody there' },
  { value: 'answers', label: 'Answers' },
  { value: 'unregistered', label: 'Not registered' },
  { value: 'busy', label: 'Busy' },
  { value: 'do-not-disturb', label: 'Do not disturb' },
  { value: 'rejects', label: 'Rejects' },
  { value: 'auto-answer', label: 'Answers by itself' },
];
const APP_DOES: readonly ChoiceOption<Does>[] = [
  ...PHONE_DOES,
  { value: 'asleep', label: 'Asleep until woken' },
];

function behaviourFor(does: Does): EndpointBehaviour | null {
  switch (does) {
    case 'nobody':
    case 'ready':
      return null;
    case 'answers':
      return { answerAfterMs: 4000 };
    case 'rejects':
      return { rejectAfterMs: 3000 };
    case 'unregistered':
    case 'asleep':
    case 'off':
    case 'busy':
    case 'do-not-disturb':
    case 'auto-answer':
      return { state: does };
  }
}

function TryView({ page }: { readonly page: PersonPage }) {
  const palette = usePalette();
  const wide = useIsWide();
  const router = useRouter();
  const draft = useDrafts((state) => state.drafts[page.person.id]);
  const person = draftPerson(draft) ?? page.person;
  const role = useRole();
  const moment = useMoment(person.id);
  const { behave, set } = useMoments();
  const { tried, index, now, call } = useTried(page, person, moment);
  const [playMs, setPlay] = useState<number | null>(null);
  const endMs = tried?.strip.endMs ?? 0;
  const playing = playMs !== null;

  useEffect(() => {
    if (!playing) return;
    const began = performance.now();
    let frame = 0;
    const step = () => {
      const at = (performance.now() - began) * PACE;
      if (at >= endMs) {
        setPlay(null);
        return;
      }
      setPlay(at);
      frame = requestAnimationFrame(step);
    };
    frame = requestAnimationFrame(step);
    return () => cancelAnimationFrame(frame);
  }, [playing, endMs]);

  const back = () => router.navigate(`/people/${encodeURIComponent(person.id)}`);
  const play = (
    <Button
      kind="main"
      grow={!wide}
      icon="play"
      label={playing ? 'Ringing' : 'Ring now'}
      disabled={!tried || playing}
      onPress={() => setPlay(0)}
    />
  );
  const heard = playing
    ? tried?.trace.events.filter((event) => event.atMs <= playMs).at(-1)?.text
    : tried?.strip.ending;
  usePageTitle(`Try a call to ${person.name}`);
  return (
    <View style={{ flex: 1 }}>
      <ScrollView style={{ flex: 1 }} contentContainerStyle={{ paddingBottom: space(6) }}>
        <View
          style={{
            flexDirection: 'row',
            alignItems: 'center',
            padding: space(2),
            paddingRight: space(4),
            gap: space(2),
          }}
        >
          <IconButton icon="back" label={`Back to ${person.name}`} onPress={back} />
          <View style={{ flex: 1 }}>
            <Words size="title" strong heading={1}>
              Try a call to {person.name}
            </Words>
            {draft ? (
              <Words size="small" tone="accent">
                With the changes that are not live yet
              </Words>
            ) : null}
          </View>
          <Ask term="try" />
          {wide ? play : null}
        </View>
        <MomentBar person={page.person} estate={page.slice} moment={moment} now={now} />
        <View style={{ paddingHorizontal: space(4), paddingVertical: space(2), minHeight: 58 }}>
          <Words size="lead" strong tone={!playing && tried?.strip.tone === 'lost' ? 'rust' : 'ink'} live>
            {showNumbersIn(heard ?? ' ')}
          </Words>
        </View>
        <Sheeted style={{ paddingVertical: space(2) }}>
          {tried ? <RingStrip strip={tried.strip} playMs={playMs} /> : <Skeleton rows={3} />}
        </Sheeted>
        {call && role !== 'manager' ? (
          <LivePart
            call={call}
            person={person.id}
            index={index}
            asIf={moment.status === null ? null : { person: person.id, status: moment.status }}
            blocked={
              draft
                ? 'The stand-ins run what is live. Put the changes on this page live or discard them first.'
                : null
            }
          />
        ) : null}
        <View style={{ flexDirection: wide ? 'row' : 'column' }}>
          <View style={wide ? { flex: 1 } : null}>
            {tried?.trace.outcome.kind === 'answered' && call ? (
              <MovePart
                key={JSON.stringify(tried.trace.outcome)}
                index={index}
                call={call}
                trace={tried.trace}
                person={person}
              />
            ) : null}
            {tried && call && role === 'specialist' && !draft ? (
              <Section>
                <View style={{ flexDirection: 'row' }}>
                  <KeepDrill
                    call={call}
                    outcome={tried.trace.outcome}
                    person={person}
                    status={moment.status}
                    slice={page.slice}
                    whom={{ person: person.id, name: person.name }}
                    index={index}
                  />
                </View>
              </Section>
            ) : null}
            <CallerPart person={person} index={index} tried={tried} moment={moment} />
            <Section title="What each phone does">
              {(tried?.strip.lanes ?? []).map((lane) => {
                const known = index.endpoints.get(lane.endpoint);
                const behaviour = moment.behaviours[lane.endpoint];
                const does = doesOf(behaviour);
                const kind = known?.endpoint.kind;
                const options =
                  !kind || kind === 'mobile' || kind === 'landline'
                    ? NUMBER_DOES
                    : kind === 'mobile-app'
                      ? APP_DOES
                      : PHONE_DOES;
                return (
                  <View
                    key={lane.endpoint}
                    style={{
                      gap: space(2),
                      paddingBottom: space(3),
                      borderBottomWidth: 1,
                      borderColor: palette.line,
                    }}
                  >
                    <Words strong>{lane.label}</Words>
                    <Choice
                      label={`What ${lane.label} does`}
                      value={does}
                      options={options}
                      onChange={(next) => behave(person.id, lane.endpoint, behaviourFor(next))}
                    />
                    {does === 'answers' ? (
                      <TimeField
                        label="Answers, after it began to ring,"
                        value={behaviour?.answerAfterMs ?? 0}
                        onChange={(ms) =>
                          ms !== null && behave(person.id, lane.endpoint, { ...behaviour, answerAfterMs: ms })
                        }
                      />
                    ) : null}
                    {does === 'rejects' ? (
                      <TimeField
                        label="Rejects, after it began to ring,"
                        value={behaviour?.rejectAfterMs ?? 0}
                        onChange={(ms) =>
                          ms !== null && behave(person.id, lane.endpoint, { ...behaviour, rejectAfterMs: ms })
                        }
                      />
                    ) : null}
                  </View>
                );
              })}
              <TimeField
                label="The caller hangs up after"
                value={moment.patienceMs}
                canBeNone
                step={5000}
                onChange={(ms) => set(person.id, { patienceMs: ms })}
              />
            </Section>
          </View>
          <View style={wide ? { flex: 1 } : null}>{tried ? <Steps trace={tried.trace} open /> : null}</View>
        </View>
      </ScrollView>
      {wide ? null : (
        <View
          style={{
            flexDirection: 'row',
            padding: space(3),
            paddingHorizontal: space(4),
            borderTopWidth: 1,
            borderColor: palette.line,
          }}
        >
          {play}
        </View>
      )}
    </View>
  );
}
