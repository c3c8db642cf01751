import { useDeferredValue, useEffect, useMemo, useRef, useState } from 'react';
import { ScrollView, View } from 'react-native';
import { Portal, Snackbar, Switch } from 'react-native-paper';
import { useRouter } from 'expo-router';
import { readNumber, showNumber, showNumbersIn } from '../../core/dialling';
import {
  addMobile,
  onlyTreatment,
  switchEndpoint,
  treatmentAt,
  type Endpoint,
  type Person,
  type TreatmentAt,
} from '../../core/estate';
import {
  behaviourIn,
  compileEstate,
  describeTreatment,
  endingPhrase,
  judgeReach,
  theEndpoint,
  tryCall,
  type Judgement,
  type Piece,
  type Trace,
} from '../../core/reach';
import { api, messageOf } from '../hooks/api';
import {
  personKey,
  queryClient,
  useChangePerson,
  useJudgement,
  usePersonPage,
  type PersonPage,
} from '../hooks/data';
import { useKey } from '../hooks/useKey';
import { useTried, type TriedAt } from '../hooks/useTried';
import { momentOf, useMoment, useMoments } from '../stores/moment';
import { useRole } from '../stores/session';
import { space, useIsVeryWide, useIsWide, usePalette } from '../theme';
import { ConflictSheet } from '../components/ConflictSheet';
import { CoverPart } from '../components/CoverPart';
import { DraftBar } from '../components/DraftBar';
import { MomentBar } from '../components/MomentBar';
import { PromisesPart } from '../components/PromisesPart';
import { WeekPart } from '../components/WeekPart';
import {
  Button,
  Choice,
  Field,
  Fold,
  IconButton,
  ReachMark,
  Section,
  Sheeted,
  Skeleton,
  Trouble,
} from '../components/parts';
import { Sheet } from '../components/Sheet';
import { PlanPart } from '../components/plan/PlanPart';
import { TreatmentEditor } from '../components/plan/TreatmentEditor';
import { TargetEditor, targetIn } from '../components/TargetEditor';
import { Words } from '../components/Words';
import { RingStrip } from '../drawings/RingStrip';
import { StripHandles } from '../drawings/StripHandles';
import { usePersonWork } from './usePersonWork';

export function PersonScreen({ id }: { readonly id: string }) {
  const page = usePersonPage(id);
  if (page.isError) return <Trouble message={messageOf(page.error)} retry={() => void page.refetch()} />;
  if (page.isPending) return <Skeleton />;
  return <PersonPageView key={id} page={page.data} />;
}

/** The treatment that the call of the moment comes to: a rule's id, or `otherwise`. */
function treatmentInView(trace: Trace | null): string {
  const first = trace?.path[0];
  return first && 'rule' in first && !['forward-all', 'busy'].includes(first.rule) ? first.rule : 'otherwise';
}

function sentence({ index, tried }: TriedAt, person: Person): readonly Piece[] {
  const first = tried?.trace.path[0];
  const line = person.lines[0];
  if (!first || !('rule' in first)) return [{ text: 'Nothing can be said until there is a line to call.' }];
  if (first.rule === 'forward-all' && line?.forwardAll)
    return [
      { text: 'Always-forward is on: ' },
      { text: endingPhrase(index, line.forwardAll, person.id), strong: true },
      { text: '. The plan does not count.' },
    ];
  const treatment = treatmentAt(person.plan, treatmentInView(tried?.trace ?? null));
  if (first.rule === 'busy')
    return [{ text: 'Already on a call: ' }, { text: tried?.strip.ending ?? '', strong: true }];
  return describeTreatment(index, treatment, person.id);
}

function PersonPageView({ page }: { readonly page: PersonPage }) {
  const palette = usePalette();
  const wide = useIsWide();
  const veryWide = useIsVeryWide();
  const router = useRouter();
  const role = useRole();
  const canEdit = role === 'specialist';
  const work = usePersonWork(page);
  const { person } = work;
  const moment = useMoment(person.id);
  const setMoment = useMoments((state) => state.set);
  const at = useTried(page, person, moment);
  const { tried, index, now } = at;
  /** What is being edited: how a phone rings in a treatment, or a treatment as a whole. */
  const [editing, setPane] = useState<{ endpoint?: string; at?: TreatmentAt } | null>(null);
  const setEditing = (endpoint: string | null) => setPane(endpoint ? { endpoint } : null);
  const treatment = treatmentInView(tried?.trace ?? null);
  const told = useJudgement(person.id);
  const judgement: Judgement | null = useMemo(
    () => (canEdit ? judgeReach(index, person, moment.epochMs ?? now) : (told.data ?? null)),
    [canEdit, index, person, moment.epochMs, now, told.data],
  );
  const tryIt = () => router.navigate(`/people/${encodeURIComponent(person.id)}/try`);
  const startEdit = () => {
    const rung = person.endpoints.filter((e) => targetIn(person, treatment, e.id));
    setEditing((rung.find((e) => e.number) ?? rung[0] ?? person.endpoints[0])?.id ?? null);
  };
  useKey('t', tryIt);
  useKey('e', () => canEdit && startEdit());
  useKey('z', work.undo);
  useEffect(() => {
    document.title = `${person.name} · Hostler`;
  }, [person.name]);

  const line = person.lines[0];
  const rule = person.plan.rules.find((each) => each.id === treatment);
  const at0 = editing?.at ?? treatment;
  const editor = editing?.endpoint ? (
    <TargetEditor
      key={`${editing.endpoint} ${at0}`}
      person={person}
      estate={at.slice}
      endpointId={editing.endpoint}
      treatment={at0}
      onEdit={work.edit}
    />
  ) : editing?.at ? (
    <TreatmentEditor
      key={editing.at}
      person={person}
      estate={at.slice}
      index={index}
      at={editing.at}
      onEdit={work.edit}
      onTarget={(endpoint, treated) => setPane({ endpoint, at: treated })}
      onRemoved={() => setPane(null)}
    />
  ) : null;
  /** The call of the moment; while another rule is edited, as it would go if it came to that one. */
  const paneStrip = useMemo(() => {
    if (!editing || at0 === treatment || !at.call || !canEdit) return tried;
    const asIf = onlyTreatment(person, at0);
    const people = at.slice.people.map((each) => (each.id === person.id ? asIf : each));
    return tryCall(compileEstate({ ...at.slice, people }), at.call, person.id);
  }, [editing, at0, treatment, at.call, at.slice, tried, person, canEdit]);
  const editorTitle = editing?.endpoint
    ? `How ${theEndpoint(index, editing.endpoint, person.id)} rings`
    : editing?.at === 'otherwise'
      ? 'When no rule fits'
      : 'A rule of the plan';
  /** From a phone of a rule the way leads back to the rule. */
  const leave = () => setPane(editing?.endpoint && editing.at ? { at: editing.at } : null);
  const actions = (
    <>
      {canEdit && !(wide && editor) ? <Button grow={!wide} label="Edit" onPress={startEdit} /> : null}
      <Button grow={!wide} kind="main" icon="play" label="Try a call" onPress={tryIt} />
    </>
  );
  const phones = (
    <Phones
      page={page}
      person={person}
      treatment={treatment}
      onEdit={canEdit ? work.edit : null}
      onOpen={setEditing}
    />
  );
  // What takes longer to draw follows the strip, which must keep up with each keystroke.
  const laterSlice = useDeferredValue(at.slice);
  const laterIndex = useDeferredValue(index);
  const laterPerson = useDeferredValue(person);
  const edit = useRef(work.edit);
  edit.current = work.edit;
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
        onMend={canEdit ? (mended) => edit.current(() => mended) : null}
      />
    ),
    [laterSlice, laterPerson, laterIndex, canEdit, setMoment, router],
  );
  const column = { width: '100%', ...(veryWide && !editor ? { flex: 1 } : {}) } as const;
  const first = tried?.trace.path[0];
  const onPlan = first !== undefined && 'rule' in first && !['forward-all', 'busy'].includes(first.rule);
  const steps = tried ? <Steps trace={tried.trace} open={veryWide} /> : null;

  return (
    <View style={{ flex: 1, flexDirection: 'row' }}>
      <View style={{ flex: 1, minWidth: 0 }}>
        <ScrollView style={{ flex: 1 }} contentContainerStyle={{ paddingBottom: space(6) }}>
          <View
            style={{
              flexDirection: 'row',
              alignItems: 'flex-start',
              padding: space(4),
              paddingLeft: wide ? space(4) : space(1),
              gap: space(2),
            }}
          >
            {wide ? null : (
              <IconButton icon="back" label="Back to the list" onPress={() => router.navigate('/people')} />
            )}
            <View style={{ flex: 1, gap: 2 }}>
              <Words size="page" strong heading={1}>
                {person.name}
              </Words>
              <Words mono size="small" tone="soft">
                {[line?.extension, ...(line?.numbers ?? []).map(showNumber)].filter(Boolean).join('  ')}
              </Words>
            </View>
            {judgement && !wide ? (
              <View style={{ paddingTop: space(2) }}>
                <ReachMark state={judgement.state} />
              </View>
            ) : null}
            {wide ? (
              <View style={{ flexDirection: 'row', gap: space(2), alignItems: 'center' }}>
                {judgement ? <ReachMark state={judgement.state} /> : null}
                {actions}
              </View>
            ) : null}
          </View>
          {judgement && judgement.state !== 'reached' ? (
            <View style={{ paddingHorizontal: space(4), paddingBottom: space(2) }}>
              <Words tone={judgement.state === 'lost' ? 'rust' : 'ochre'} strong>
                {showNumbersIn(judgement.why)}
              </Words>
            </View>
          ) : null}
          <MomentBar person={page.person} estate={page.slice} moment={moment} now={now} />
          <View style={{ paddingHorizontal: space(4), paddingVertical: space(2), gap: 2 }}>
            <Words size="lead">
              {sentence(at, person).map((piece, i) => (
                <Words key={i} size="lead" strong={piece.strong ?? false}>
                  {showNumbersIn(piece.text)}
                </Words>
              ))}
            </Words>
            <Words size="small" tone="soft">
              {rule
                ? `By the rule “${rule.name}”`
                : person.plan.rules.length > 0
                  ? 'No rule fits now: the last treatment of the plan'
                  : 'The plan has one treatment, for every call'}
            </Words>
          </View>
          <Sheeted style={{ paddingVertical: space(2) }}>
            {tried ? (
              <RingStrip
                strip={tried.strip}
                {...(canEdit
                  ? {
                      onLane: setEditing,
                      grips: (layout) => (
                        <StripHandles
                          layout={layout}
                          strip={tried.strip}
                          person={person}
                          onEdit={work.edit}
                        />
                      ),
                    }
                  : {})}
              />
            ) : at.call ? (
              <Skeleton rows={3} />
            ) : (
              <Words style={{ padding: space(4) }}>
                This person has no line, so there is nothing to call.
              </Words>
            )}
          </Sheeted>
          {line?.forwardAll && canEdit ? (
            <Section>
              <Button
                label="Switch always-forward off"
                onPress={() =>
                  work.edit((p) => ({
                    ...p,
                    lines: p.lines.map((l) => (l.id === line.id ? { ...l, forwardAll: null } : l)),
                  }))
                }
              />
            </Section>
          ) : null}
          <View style={{ flexDirection: veryWide && !editor ? 'row' : 'column', alignItems: 'flex-start' }}>
            <View style={column}>{week}</View>
            <View style={column}>{promises}</View>
          </View>
          <View style={{ flexDirection: veryWide && !editor ? 'row' : 'column', alignItems: 'flex-start' }}>
            <View style={column}>
              <PlanPart
                person={person}
                index={index}
                now={tried && onPlan ? treatment : null}
                onEdit={canEdit ? work.edit : null}
                onOpen={(treated) => canEdit && setPane({ at: treated })}
              />
              {phones}
              <StatusPart page={page} />
              <CoverPart page={page} person={person} estate={at.slice} index={index} now={now} />
              {veryWide && !editor ? null : steps}
            </View>
            {veryWide && !editor ? <View style={{ flex: 1 }}>{steps}</View> : null}
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
        {!wide && editor ? (
          <Sheet
            title={editorTitle}
            open
            onClose={() => setPane(null)}
            footer={
              <Button
                kind="main"
                grow
                label={editing?.endpoint && editing.at ? 'Back to the rule' : 'Done'}
                onPress={leave}
              />
            }
          >
            {paneStrip ? (
              <Sheeted style={{ marginHorizontal: -space(4), paddingVertical: space(2) }}>
                <RingStrip strip={paneStrip.strip} bare />
              </Sheeted>
            ) : null}
            {editor}
          </Sheet>
        ) : null}
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
      {wide && editor ? (
        <View
          role="region"
          aria-label={editorTitle}
          style={{
            width: 380,
            borderLeftWidth: 1,
            borderColor: palette.line,
            backgroundColor: palette.sheet,
          }}
        >
          <View
            style={{
              flexDirection: 'row',
              alignItems: 'center',
              paddingLeft: space(4),
              paddingTop: space(3),
            }}
          >
            <Words size="lead" strong heading={2} style={{ flex: 1 }}>
              {editorTitle}
            </Words>
            {editing?.endpoint && editing.at ? (
              <Button kind="quiet" label="Back to the rule" onPress={leave} />
            ) : null}
            <IconButton icon="close" label="Close the editor" onPress={() => setPane(null)} />
          </View>
          {paneStrip && at0 !== treatment ? (
            <View style={{ paddingBottom: space(2) }}>
              <Words size="small" tone="soft" style={{ paddingHorizontal: space(4) }}>
                The same call, if it came to this rule:
              </Words>
              <RingStrip strip={paneStrip.strip} bare />
            </View>
          ) : null}
          <ScrollView contentContainerStyle={{ padding: space(4), paddingTop: space(2) }}>
            {editor}
          </ScrollView>
        </View>
      ) : null}
      <Portal>
        <Snackbar
          visible={work.applied !== null}
          onDismiss={work.forgetApplied}
          duration={10_000}
          action={{ label: 'Undo', onPress: work.takeBackApplied }}
        >
          In force now.
        </Snackbar>
      </Portal>
    </View>
  );
}

const KINDS: Record<Endpoint['kind'], string> = {
  desk: 'Desk phone',
  'desktop-app': 'Softphone on a computer',
  'mobile-app': 'Softphone on a mobile',
  'remote-desk': 'Desk phone away from the office',
  'hot-desk': 'Shared desk',
  mobile: 'Mobile',
  landline: 'Landline',
  sip: 'SIP address',
};

interface PhonesProps {
  readonly page: PersonPage;
  readonly person: Person;
  readonly treatment: string;
  readonly onEdit: ((change: (person: Person) => Person, merge?: string) => void) | null;
  readonly onOpen: (endpoint: string) => void;
}

/** The person's own phones, each with its switch. */
function Phones({ page, person, treatment, onEdit, onOpen }: PhonesProps) {
  const palette = usePalette();
  const role = useRole();
  const flip = useChangePerson<{ endpoint: string; enabled: boolean }>(person.id, 'PUT', '/switch');
  const [shown, setShown] = useState<Readonly<Record<string, string>>>({});
  const [adding, setAdding] = useState(false);
  const isOn = (id: string) =>
    [...person.plan.rules, person.plan.otherwise].some((t) =>
      t.stages.some(
        (s) => 'ring' in s && s.ring.some((target) => target.endpoint === id && target.enabled !== false),
      ),
    );
  const isPlanned = (id: string) =>
    [...person.plan.rules, person.plan.otherwise].some((t) =>
      t.stages.some((s) => 'ring' in s && s.ring.some((target) => target.endpoint === id)),
    );
  const reveal = async (endpoint: Endpoint) => {
    const { number } = await api<{ number: string }>(
      'POST',
      `${personKey(person.id)}/numbers/${encodeURIComponent(endpoint.id)}`,
      {},
    );
    setShown((before) => ({ ...before, [endpoint.id]: number }));
  };
  return (
    <Section
      title="Phones"
      aside={
        onEdit ? (
          <Button kind="quiet" icon="add" label="Add a mobile" onPress={() => setAdding(true)} />
        ) : null
      }
    >
      <View style={{ borderWidth: 1, borderColor: palette.line, backgroundColor: palette.sheet }}>
        {person.endpoints.map((endpoint, i) => (
          <View
            key={endpoint.id}
            style={{
              flexDirection: 'row',
              alignItems: 'center',
              gap: space(2),
              padding: space(3),
              borderTopWidth: i > 0 ? 1 : 0,
              borderColor: palette.line,
            }}
          >
            <View style={{ flex: 1, gap: 2 }}>
              <Words strong>{endpoint.label}</Words>
              <Words size="small" tone="soft" mono={endpoint.number !== undefined}>
                {endpoint.number ? showNumber(shown[endpoint.id] ?? endpoint.number) : KINDS[endpoint.kind]}
              </Words>
            </View>
            {endpoint.number && role === 'help-desk' && !shown[endpoint.id] ? (
              <IconButton
                icon="eye"
                label={`Show the number of ${endpoint.label}; this is recorded`}
                onPress={() => void reveal(endpoint)}
              />
            ) : null}
            {onEdit ? (
              <Button
                kind="quiet"
                label={targetIn(person, treatment, endpoint.id) ? 'Edit' : 'Ring it'}
                onPress={() => onOpen(endpoint.id)}
              />
            ) : null}
            {isPlanned(endpoint.id) ? (
              <Switch
                value={isOn(endpoint.id)}
                disabled={role === 'manager' || flip.isPending}
                color={palette.accent}
                accessibilityLabel={`${endpoint.label} rings`}
                onValueChange={(on) =>
                  onEdit
                    ? onEdit((p) => switchEndpoint(p, endpoint.id, on))
                    : flip.mutate({ endpoint: endpoint.id, enabled: on })
                }
              />
            ) : null}
          </View>
        ))}
      </View>
      {flip.isError ? <Words tone="rust">{messageOf(flip.error)}</Words> : null}
      {adding && onEdit ? (
        <AddMobile
          page={page}
          onClose={() => setAdding(false)}
          onAdd={(number) => onEdit((p) => addMobile(p, number, treatment))}
        />
      ) : null}
    </Section>
  );
}

function AddMobile({
  page,
  onClose,
  onAdd,
}: {
  page: PersonPage;
  onClose: () => void;
  onAdd: (number: string) => void;
}) {
  const [text, setText] = useState('');
  const read = readNumber(text, page.slice.dialling);
  const add = () => {
    if (!read.ok) return;
    onAdd(read.e164);
    onClose();
  };
  return (
    <Sheet
      title="Add a mobile"
      open
      onClose={onClose}
      footer={
        <Button kind="main" grow label="Ring it together with the rest" disabled={!read.ok} onPress={add} />
      }
    >
      <Field
        label="Number, in any form"
        keyboard="phone-pad"
        mono
        autoFocus
        value={text}
        onChange={setText}
        onSubmit={add}
        error={text !== '' && !read.ok ? read.reason : null}
        hint={read.ok ? `${showNumber(read.e164)}, ${read.numberClass}` : null}
      />
      <Words tone="soft">
        It rings with the part of the plan in view, with a guard of 2.3 s against a voicemail that answers at
        once, and gives up after 22 s, before a usual carrier’s voicemail does.
      </Words>
    </Sheet>
  );
}

/** The person's status itself: setting it takes effect at once. */
function StatusPart({ page }: { readonly page: PersonPage }) {
  const role = useRole();
  const set = useChangePerson<{ status: string }>(page.person.id, 'PUT', '/status');
  if (role === 'manager') return null;
  return (
    <Section title="Status today">
      <Choice
        label="Status today"
        value={page.person.status}
        options={page.slice.statuses.map((s) => ({ value: s.id, label: s.name }))}
        onChange={(status) => set.mutate({ status })}
      />
      <Words size="small" tone={set.isError ? 'rust' : 'soft'} live>
        {set.isError
          ? messageOf(set.error)
          : set.isPending
            ? 'Setting …'
            : 'Takes effect at once, and is recorded.'}
      </Words>
    </Section>
  );
}

/** Why: every step of the call, with the setting behind it. */
export function Steps({ trace, open = false }: { readonly trace: Trace; readonly open?: boolean }) {
  return (
    <View style={{ paddingVertical: space(2) }}>
      <Fold title="Why: every step" open={open}>
        <View role="list" style={{ paddingHorizontal: space(4), gap: space(2) }}>
          {trace.events.map((event, i) => (
            <View role="listitem" key={i} style={{ flexDirection: 'row', gap: space(3) }}>
              <Words mono size="small" tone="soft" style={{ width: 62, textAlign: 'right' }}>
                {`${(event.atMs / 1000).toFixed(1)} s`}
              </Words>
              <Words size="small" style={{ flex: 1 }}>
                {showNumbersIn(event.text)}
              </Words>
            </View>
          ))}
        </View>
      </Fold>
    </View>
  );
}
