import type { PersonPage } from '../../api/people';
import { useCallback, useDeferredValue, useMemo, useState } from 'react';
import { ScrollView, View } from 'react-native';
import { Portal, Snackbar } from 'react-native-paper';
import { useRouter } from 'expo-router';
import { onlyTreatment, setForward, type TreatmentAt } from '../../core/editing';
import type { Person } from '../../core/estate';
import { behaviourIn, judgeReach, tryCall, type Judgement } from '../../core/calls/views';
import { compileEstate } from '../../core/calls/engine';
import { messageOf } from '../data/api';
import { personKey, queryClient, useJudgement, usePersonPage } from '../data/data';
import { usePageTitle } from '../kit/usePageTitle';
import { useKey } from '../kit/useKey';
import { useTried } from '../data/useTried';
import { momentOf, useMoment, useMoments } from '../data/moment';
import { useRole } from '../data/session';
import { space, useIsVeryWide, useIsWide, usePalette } from '../kit/theme';
import { ConflictSheet } from '../edit/ConflictSheet';
import { CoverPart } from './CoverPart';
import { BehindNote } from '../changes/BehindNote';
import { DraftBar } from '../edit/DraftBar';
import { FindingsPart } from '../findings/FindingsPart';
import { MomentBar } from '../calls/MomentBar';
import { ForwardingPart } from './ForwardingPart';
import { LinesPart } from './LinesPart';
import { MailboxPart } from './MailboxPart';
import { DeskPart } from './DeskPart';
import { RosterPart } from './RosterPart';
import { LanguagePart } from './LanguagePart';
import { ShowingPart } from './ShowingPart';
import { MorePart } from './MorePart';
import { GroundPart } from '../calls/GroundPart';
import { OwnPagePart } from './OwnPagePart';
import { PhonesPart } from './PhonesPart';
import { PromisesPart } from './PromisesPart';
import { WeekPart } from '../calls/WeekPart';
import { Button, Section, Skeleton, Trouble } from '../kit/parts';
import { StatusPart } from './StatusPart';
import { TemplatePart } from './TemplatePart';
import { SlateNote } from '../edit/SlateNote';
import { Steps } from '../kit/Steps';
import { EditorPane, type Editing } from '../plan/EditorPane';
import { PlanPart } from '../plan/PlanPart';
import { targetIn } from '../plan/TargetEditor';
import { PartsBar, useParts } from '../kit/PartsBar';
import { CallOfMoment, treatmentInView } from './CallOfMoment';
import { PersonHead } from './PersonHead';
import { usePersonWork } from './usePersonWork';

export function PersonScreen({ id }: { readonly id: string }) {
  const page = usePersonPage(id);
  if (page.isError) return <Trouble message={messageOf(page.error)} retry={() => void page.refetch()} />;
  if (page.isPending) return <Skeleton />;
  return <PersonPageView key={id} page={page.data} />;
}

const PARTS = [
  { part: 'calls', title: 'Calls' },
  { part: 'plan', title: 'Plan' },
  { part: 'phones', title: 'Phones' },
  { part: 'cover', title: 'Cover' },
  { part: 'more', title: 'More' },
] as const;
type Part = (typeof PARTS)[number]['part'];

function PersonPageView({ page }: { readonly page: PersonPage }) {
  const palette = usePalette();
  const wide = useIsWide();
  const veryWide = useIsVeryWide();
  const router = useRouter();
  const role = useRole();
  const canEdit = role === 'specialist';
  const work = usePersonWork(page);
  const parts = useParts<Part>('calls');
  const { person } = work;
  const moment = useMoment(person.id);
  const setMoment = useMoments((state) => state.set);
  const at = useTried(page, person, moment);
  const { tried, index, now } = at;
  /** What is being edited: how a phone rings in a treatment, or a treatment as a whole. */
  const [editing, setPane] = useState<Editing | null>(null);
  const setEditing = useCallback((endpoint: string | null) => setPane(endpoint ? { endpoint } : null), []);
  const openTreatment = useCallback((treated: TreatmentAt) => setPane({ at: treated }), []);
  const treatment = treatmentInView(tried?.trace ?? null);
  const told = useJudgement(person.id);
  const judgement: Judgement | null = useMemo(
    () => (canEdit ? judgeReach(index, person, moment.epochMs ?? now) : (told.data ?? null)),
    [canEdit, index, person, moment.epochMs, now, told.data],
  );
  const here = `/people/${encodeURIComponent(person.id)}`;
  const tryIt = () => router.navigate(`${here}/try`);
  const startEdit = () => {
    const rung = person.endpoints.filter((e) => targetIn(person, treatment, e.id));
    setEditing((rung.find((e) => e.number) ?? rung[0] ?? person.endpoints[0])?.id ?? null);
  };
  useKey('t', tryIt);
  useKey('e', () => canEdit && startEdit());
  useKey('z', work.undo);
  usePageTitle(person.name);

  const line = person.lines[0];
  const at0 = editing?.at ?? treatment;
  /** The call of the moment; while another rule is edited, as it would go if it came to that one. */
  const paneStrip = useMemo(() => {
    if (!editing || at0 === treatment || !at.call || !canEdit) return tried;
    const asIf = onlyTreatment(person, at0);
    const people = at.slice.people.map((each) => (each.id === person.id ? asIf : each));
    return tryCall(compileEstate({ ...at.slice, people }), at.call, person.id);
  }, [editing, at0, treatment, at.call, at.slice, tried, person, canEdit]);
  const pane =
    editing && (editing.endpoint !== undefined || editing.at !== undefined) ? (
      <EditorPane
        editing={editing}
        treatment={treatment}
        person={person}
        estate={at.slice}
        index={index}
        strip={paneStrip?.strip ?? null}
        onEdit={work.edit}
        onEditing={setPane}
      />
    ) : null;
  const actions = (
    <>
      {canEdit && !(wide && pane) ? <Button grow={!wide} label="Edit" onPress={startEdit} /> : null}
      <Button grow={!wide} kind="main" icon="play" label="Try a call" onPress={tryIt} />
    </>
  );
  // What takes longer to draw follows the strip, which must keep up with each keystroke.
  const laterSlice = useDeferredValue(at.slice);
  const laterIndex = useDeferredValue(index);
  const laterPerson = useDeferredValue(person);
  const laterTrace = useDeferredValue(tried?.trace ?? null);
  const { edit } = work;
  const week = useMemo(
    () => (
      <WeekPart
        slice={laterSlice}
        people={[laterPerson.id]}
        index={laterIndex}
        atMs={moment.epochMs ?? now}
        onCell={(cell, circumstance) =>
          setMoment(laterPerson.id, {
            epochMs: cell.atMs,
            behaviours: Object.fromEntries(
              laterPerson.endpoints.flatMap((endpoint) => {
                const does = behaviourIn(circumstance, endpoint);
                return does ? [[endpoint.id, does]] : [];
              }),
            ),
          })
        }
      />
    ),
    [laterSlice, laterPerson, laterIndex, moment.epochMs, now, setMoment],
  );
  const promises = useMemo(
    () => (
      <PromisesPart
        slice={laterSlice}
        person={laterPerson}
        index={laterIndex}
        onShow={(breach) => {
          setMoment(laterPerson.id, momentOf(breach.call, laterPerson, breach.status));
          router.navigate(`/people/${encodeURIComponent(laterPerson.id)}/try`);
        }}
        onMend={canEdit ? (mended) => edit(() => mended) : null}
      />
    ),
    [laterSlice, laterPerson, laterIndex, canEdit, edit, setMoment, router],
  );
  const templatePart = useMemo(
    () => <TemplatePart person={laterPerson} slice={laterSlice} onEdit={canEdit ? edit : null} />,
    [laterPerson, laterSlice, canEdit, edit],
  );
  const inTwo = veryWide && !pane;
  const column = { width: '100%', ...(inTwo ? { flex: 1 } : {}) } as const;
  const row = { flexDirection: inTwo ? 'row' : 'column', alignItems: 'flex-start' } as const;
  const onEdit = canEdit ? edit : null;
  const first = tried?.trace.path[0];
  const onPlan = first !== undefined && 'rule' in first && !['forward-all', 'busy'].includes(first.rule);
  const steps = laterTrace ? <Steps trace={laterTrace} open={veryWide} /> : null;

  return (
    <View style={{ flex: 1, flexDirection: 'row' }}>
      <View style={{ flex: 1, minWidth: 0 }}>
        {wide ? null : (
          <PartsBar label={`Parts of ${person.name}`} parts={PARTS} current={parts.current} onGo={parts.go} />
        )}
        <ScrollView
          ref={parts.scroll}
          onScroll={parts.onScroll}
          scrollEventThrottle={100}
          {...(parts.byHand as object)}
          style={{ flex: 1 }}
          contentContainerStyle={{ paddingBottom: space(6) }}
        >
          <View ref={parts.at('calls')} />
          <PersonHead person={person} judgement={judgement} actions={actions} />
          <BehindNote page={page} />
          <SlateNote
            kind="person"
            id={person.id}
            onTake={canEdit && !work.draft ? (after) => edit(() => after as Person) : null}
          />
          <MomentBar person={page.person} estate={page.slice} moment={moment} now={now} />
          <CallOfMoment at={at} person={person} onLane={setEditing} onEdit={canEdit ? work.edit : null} />
          {line?.forwardAll && canEdit ? (
            <Section>
              <Button
                label="Switch call forwarding off"
                onPress={() => work.edit((before) => setForward(before, null))}
              />
            </Section>
          ) : null}
          <View style={row}>
            <View style={column}>{week}</View>
            <View style={column}>{promises}</View>
          </View>
          <View ref={parts.at('plan')} style={row}>
            <View style={column}>
              <PlanPart
                person={laterPerson}
                index={laterIndex}
                now={tried && onPlan ? treatment : null}
                onEdit={onEdit}
                onOpen={canEdit ? openTreatment : null}
                below={templatePart}
              />
            </View>
            <View style={column}>
              <ForwardingPart
                person={laterPerson}
                estate={laterSlice}
                index={laterIndex}
                treatment={treatment}
                now={now}
                onEdit={onEdit}
              />
              {inTwo ? steps : null}
            </View>
          </View>
          <View ref={parts.at('phones')} style={row}>
            <View style={column}>
              <PhonesPart
                page={page}
                person={laterPerson}
                treatment={treatment}
                onEdit={onEdit}
                onOpen={setEditing}
              />
            </View>
            <View style={column}>
              <GroundPart person={laterPerson} estate={laterSlice} onEdit={onEdit} />
            </View>
          </View>
          <View ref={parts.at('cover')} style={row}>
            <View style={column}>
              <StatusPart page={page} />
              <CoverPart
                page={page}
                person={laterPerson}
                estate={laterSlice}
                index={laterIndex}
                now={now}
                onEdit={onEdit}
              />
            </View>
            <View style={column}>
              <MailboxPart person={laterPerson} estate={laterSlice} onEdit={onEdit} />
            </View>
          </View>
          <View ref={parts.at('more')} style={row}>
            <View style={column}>
              <LinesPart person={laterPerson} estate={laterSlice} onEdit={onEdit} />
              <DeskPart person={person.id} />
              <RosterPart person={laterPerson} estate={laterSlice} onEdit={onEdit} />
              <ShowingPart person={laterPerson} estate={laterSlice} onEdit={onEdit} />
              <LanguagePart person={laterPerson} onEdit={onEdit} />
              <MorePart person={person} />
              <FindingsPart subject={`person/${person.id}`} />
            </View>
            <View style={column}>
              <OwnPagePart person={person.id} name={person.name} />
              {inTwo ? null : steps}
            </View>
          </View>
        </ScrollView>
        {work.draft ? (
          <DraftBar
            draft={work.draft}
            busy={work.busy}
            trouble={work.trouble}
            onUndo={work.undo}
            onDiscard={work.discard}
            onApply={work.apply}
            entries={() => [
              {
                kind: 'person',
                id: person.id,
                name: person.name,
                base: work.draft?.base ?? page.person,
                after: person,
              },
            ]}
            onSlate={work.discard}
          />
        ) : null}
        {wide ? null : (
          <View
            style={{
              flexDirection: 'row',
              gap: space(2),
              paddingHorizontal: space(4),
              paddingVertical: space(2),
              borderTopWidth: 1,
              borderColor: palette.line,
              backgroundColor: palette.ground,
            }}
          >
            {actions}
          </View>
        )}
        {wide ? null : pane}
        {work.conflict ? (
          <ConflictSheet
            base={work.conflict.base}
            mine={work.conflict.mine}
            theirs={work.conflict.theirs.person}
            onMine={work.keepMine}
            onTheirs={() => {
              work.takeTheirs();
              void queryClient.invalidateQueries({ queryKey: [personKey(person.id)] });
            }}
            onClose={work.closeConflict}
          />
        ) : null}
      </View>
      {wide ? pane : null}
      <Portal>
        <Snackbar
          visible={work.applied !== null}
          onDismiss={work.forgetApplied}
          duration={10_000}
          action={{ label: 'Undo', onPress: work.takeBackApplied }}
        >
          Live now.
        </Snackbar>
      </Portal>
    </View>
  );
}
