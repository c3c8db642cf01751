import { useEffect, useState } from 'react';
import { ScrollView, View } from 'react-native';
import { Switch } from 'react-native-paper';
import { DateTime } from 'luxon';
import { showNumber, showNumbersIn } from '../../core/dialling';
import { isNumberKind, type RingTarget } from '../../core/estate';
import type { Wish } from '../../core/own';
import { messageOf } from '../hooks/api';
import {
  mayAsk,
  tryMine,
  useAskFor,
  useNote,
  useOwnPage,
  useTakeBackRequest,
  useTick,
  useWish,
  type OwnPage,
} from '../hooks/own';
import { useLive } from '../hooks/phones';
import { useSession } from '../stores/session';
import { space, usePalette } from '../theme';
import {
  Button,
  Choice,
  Field,
  IconButton,
  LinkRow,
  LinkRows,
  ReachMark,
  Refused,
  Section,
  Sheeted,
  Skeleton,
  Trouble,
} from '../components/parts';
import { AppChecks } from '../components/phones/AppChecks';
import { Sheet } from '../components/Sheet';
import { TimeField } from '../components/TimeField';
import { Words } from '../components/Words';
import { RingStrip } from '../drawings/RingStrip';

const KEPT = 4;
const dayTime = (iso: string, zone: string) =>
  DateTime.fromISO(iso, { zone }).setLocale('en').toFormat('ccc d LLL, HH:mm');

/** Tells what cannot be done alone, and asks for it. */
function AskSheet({ wish, why, onClose }: { wish: Wish; why: string; onClose: () => void }) {
  const ask = useAskFor();
  const [note, setNote] = useState('');
  return (
    <Sheet
      title="Ask for it"
      open
      onClose={onClose}
      action={{
        label: 'Send the request',
        busy: ask.isPending,
        onPress: () => ask.mutate({ wish, note }, { onSuccess: onClose }),
      }}
    >
      <Words>{`${why} Your mobility specialist can do it for you.`}</Words>
      <Field label="Why, if it helps" value={note} onChange={setNote} multiline />
      <Refused error={ask.error} />
    </Sheet>
  );
}

type Do = (wish: Wish) => void;

/** Which status, and a note beside it that goes stale by itself. */
function StatusPart({ page, act }: { page: OwnPage; act: Do }) {
  const note = useNote();
  const [text, setText] = useState<string | null>(null);
  const [at, setAt] = useState<string | null>(page.note?.at ?? null);
  const [until, setUntil] = useState<'today' | 'week' | 'long'>('today');
  const end = () => {
    const now = DateTime.now().setZone(page.timeZone);
    if (until === 'long') return null;
    return (until === 'today' ? now.endOf('day') : now.endOf('week')).toISO();
  };
  return (
    <Section title="How you are today">
      <Choice
        label="Status"
        value={page.person.status}
        options={page.statuses
          .filter(({ id }) => id !== 'left')
          .map(({ id, name }) => ({ value: id, label: name }))}
        onChange={(status) => act({ kind: 'status', status })}
      />
      {text === null ? (
        <View style={{ flexDirection: 'row', alignItems: 'center', gap: space(3), flexWrap: 'wrap' }}>
          <Words tone={page.note ? 'ink' : 'soft'} style={{ flexShrink: 1 }}>
            {page.note
              ? [
                  page.note.note,
                  ...(page.note.at
                    ? [
                        `at ${page.person.endpoints.find(({ id }) => id === page.note?.at)?.label ?? page.note.at}`,
                      ]
                    : []),
                  ...(page.note.staleAt ? [`until ${dayTime(page.note.staleAt, page.timeZone)}`] : []),
                ].join(' · ')
              : 'No note'}
          </Words>
          <Button
            label={page.note ? 'Change the note' : 'Add a note'}
            onPress={() => setText(page.note?.note ?? '')}
          />
        </View>
      ) : (
        <View style={{ gap: space(3) }}>
          <Field label="Note for those who look for you" value={text} onChange={setText} autoFocus />
          <Choice
            label="Where you are"
            titled
            value={at ?? 'none'}
            options={[
              { value: 'none', label: 'Not said' },
              ...page.person.endpoints.map(({ id, label }) => ({ value: id, label })),
            ]}
            onChange={(id) => setAt(id === 'none' ? null : id)}
          />
          <Choice
            label="For how long"
            titled
            value={until}
            options={[
              { value: 'today', label: 'Today' },
              { value: 'week', label: 'This week' },
              { value: 'long', label: 'Two weeks' },
            ]}
            onChange={setUntil}
          />
          <View style={{ flexDirection: 'row', gap: space(2) }}>
            <Button
              kind="main"
              label="Keep the note"
              busy={note.isPending}
              onPress={() =>
                note.mutate({ note: text, at, until: end() }, { onSuccess: () => setText(null) })
              }
            />
            <Button label="Leave it" onPress={() => setText(null)} />
          </View>
          <Refused error={note.error} />
        </View>
      )}
    </Section>
  );
}

const targetsOf = (page: OwnPage): readonly RingTarget[] =>
  [...page.person.plan.rules, page.person.plan.otherwise].flatMap(({ stages }) =>
    stages.flatMap((stage) => ('ring' in stage ? stage.ring : [])),
  );

/** Each phone with its switch, its number and its hours. */
function PhonesPart({ page, act }: { page: OwnPage; act: Do }) {
  const palette = usePalette();
  const [editing, setEditing] = useState<{ readonly id: string; readonly text: string } | null>(null);
  const targets = targetsOf(page);
  const hoursOf = (id: string) => targets.find((each) => each.endpoint === id)?.schedule?.id ?? null;
  return (
    <Section title="Your phones">
      <View style={{ borderWidth: 1, borderColor: palette.line, backgroundColor: palette.sheet }}>
        {page.person.endpoints.map(({ id, label, kind, number }, i) => {
          const mine = targets.filter((each) => each.endpoint === id);
          const on = mine.some((each) => each.enabled !== false);
          const isPublic = isNumberKind(kind);
          const hours = page.schedules.find((each) => each.id === hoursOf(id));
          return (
            <View
              key={id}
              style={{
                padding: space(3),
                gap: space(2),
                borderTopWidth: i > 0 ? 1 : 0,
                borderColor: palette.line,
              }}
            >
              <View style={{ flexDirection: 'row', alignItems: 'center', gap: space(3) }}>
                <View style={{ flex: 1 }}>
                  <Words strong>{label}</Words>
                  <Words size="small" tone="soft" mono={number !== undefined}>
                    {number ? showNumber(number) : mine.length === 0 ? 'rings in no rule' : 'your account'}
                  </Words>
                  {hours ? <Words size="small" tone="soft">{`rings in ${hours.name}`}</Words> : null}
                </View>
                {mine.length > 0 ? (
                  <Switch
                    accessibilityLabel={`${label} rings with your calls`}
                    value={on}
                    onValueChange={(next) => act({ kind: 'twinning', endpoint: id, on: next })}
                  />
                ) : null}
              </View>
              {editing?.id === id ? (
                <View style={{ gap: space(2) }}>
                  <Field
                    label="Its number, in any form"
                    keyboard="phone-pad"
                    mono
                    value={editing.text}
                    onChange={(text) => setEditing({ id, text })}
                  />
                  <Choice
                    label="When it rings"
                    titled
                    value={hoursOf(id) ?? 'always'}
                    options={[
                      { value: 'always', label: 'At any hour' },
                      ...page.schedules.map((each) => ({ value: each.id, label: each.name })),
                    ]}
                    onChange={(value) =>
                      act({ kind: 'hours', endpoint: id, schedule: value === 'always' ? null : value })
                    }
                  />
                  <View style={{ flexDirection: 'row', gap: space(2) }}>
                    <Button
                      kind="main"
                      label="Keep this number"
                      disabled={editing.text.trim() === '' || editing.text === number}
                      onPress={() => {
                        act({ kind: 'number', endpoint: id, number: editing.text });
                        setEditing(null);
                      }}
                    />
                    <Button label="Leave it" onPress={() => setEditing(null)} />
                  </View>
                </View>
              ) : isPublic ? (
                <View style={{ flexDirection: 'row' }}>
                  <Button
                    kind="quiet"
                    label="Number and hours"
                    onPress={() => setEditing({ id, text: number ?? '' })}
                  />
                </View>
              ) : null}
            </View>
          );
        })}
      </View>
    </Section>
  );
}

/** The stages that ring after each other, with their times and their order. */
function SequencePart({ page, act }: { page: OwnPage; act: Do }) {
  const palette = usePalette();
  const { plan, endpoints } = page.person;
  const label = (id: string) => endpoints.find((each) => each.id === id)?.label ?? 'a colleague’s phone';
  const all = [
    ...plan.rules.map((rule) => ({ at: rule.id, name: rule.name, stages: rule.stages })),
    {
      at: 'otherwise',
      name: plan.rules.length > 0 ? 'In every other case' : 'Always',
      stages: plan.otherwise.stages,
    },
  ];
  return (
    <Section title="What rings when">
      {all.map(({ at, name, stages }) => (
        <View
          key={at}
          style={{ gap: space(2), paddingBottom: space(3), borderBottomWidth: 1, borderColor: palette.line }}
        >
          <Words strong>{name}</Words>
          {stages.length === 0 ? <Words tone="soft">Nothing rings.</Words> : null}
          {stages.map((stage, i) => (
            <View key={i} style={{ flexDirection: 'row', alignItems: 'flex-end', gap: space(2) }}>
              <View style={{ flex: 1 }}>
                {'ring' in stage ? (
                  <TimeField
                    label={`${i + 1}. ${stage.ring.map((target) => label(target.endpoint)).join(' and ') || 'nobody'} ring`}
                    value={stage.forMs}
                    least={1000}
                    step={5000}
                    onChange={(forMs) => forMs !== null && act({ kind: 'ring-time', at, stage: i, forMs })}
                  />
                ) : (
                  <Words tone="soft">{`${i + 1}. ${'offer' in stage ? 'a greeting with keys' : 'a code is asked for'}`}</Words>
                )}
              </View>
              {i > 0 ? (
                <IconButton
                  icon="up"
                  label={`Stage ${i + 1} earlier`}
                  onPress={() => {
                    const order = stages.map((_, n) => n);
                    act({
                      kind: 'sequence',
                      at,
                      order: [...order.slice(0, i - 1), i, i - 1, ...order.slice(i + 1)],
                    });
                  }}
                />
              ) : null}
            </View>
          ))}
        </View>
      ))}
    </Section>
  );
}

/** What the mobile must let its app do, ticked by whose mobile it is. */
function AppsPart({ page }: { page: OwnPage }) {
  const tick = useTick();
  const apps = page.person.endpoints.filter(({ kind }) => kind === 'mobile-app');
  if (apps.length === 0) return null;
  return (
    <Section title="So that the app rings">
      {apps.map(({ id, label }) => (
        <View key={id} style={{ gap: space(2) }}>
          <Words strong>{label}</Words>
          <AppChecks
            endpoint={id}
            checks={page.checks}
            onTick={(item, done) => tick.mutate({ endpoint: id, item, done })}
          />
        </View>
      ))}
      <Refused error={tick.error} />
    </Section>
  );
}

/** All calls to a colleague for a while. */
function OwnCoverPart({ page, act }: { page: OwnPage; act: Do }) {
  const [open, setOpen] = useState(false);
  const [query, setQuery] = useState('');
  const [days, setDays] = useState<'today' | '3' | '7'>('today');
  const { cover, timeZone } = page;
  const until = () => {
    const now = DateTime.now().setZone(timeZone);
    return (
      (days === 'today' ? now.endOf('day') : now.plus({ days: Number(days) }).endOf('day')).toISO() ?? ''
    );
  };
  const found = page.colleagues
    .filter(({ name }) => name.toLowerCase().includes(query.trim().toLowerCase()))
    .slice(0, 8);
  return (
    <Section title="Cover">
      <Words tone={cover ? 'accent' : 'soft'} strong={cover !== null}>
        {cover
          ? `All your calls go to ${cover.to}${cover.until ? `, until ${dayTime(cover.until, timeZone)}` : ' until you end it'}.`
          : 'Nobody covers for you: your plan decides.'}
      </Words>
      <View style={{ flexDirection: 'row' }}>
        {cover ? (
          <Button label="End it now" onPress={() => act({ kind: 'cover-end' })} />
        ) : (
          <Button label="Have a colleague cover" onPress={() => setOpen(true)} />
        )}
      </View>
      <Sheet title="Who covers for you?" open={open} onClose={() => setOpen(false)}>
        <Choice
          label="Until when"
          value={days}
          options={[
            { value: 'today', label: 'Today' },
            { value: '3', label: '3 days' },
            { value: '7', label: 'A week' },
          ]}
          onChange={setDays}
        />
        <Field label="Colleague" value={query} onChange={setQuery} />
        <LinkRows>
          {found.map(({ id, name }) => (
            <LinkRow
              key={id}
              title={name}
              onPress={() => {
                act({ kind: 'cover', person: id, until: until() });
                setOpen(false);
              }}
            />
          ))}
        </LinkRows>
        {found.length === 0 ? <Words tone="soft">No colleague fits.</Words> : null}
      </Sheet>
    </Section>
  );
}

/** A call to the own line, the mobile being answered, over the stand-ins. */
function TryMine({ page }: { page: OwnPage }) {
  const [id, setId] = useState<string | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const view = useLive(id, page.person.id);
  const running = id !== null && view?.state !== 'done' && view?.state !== 'failed';
  const place = async () => {
    setTrouble(null);
    try {
      setId((await tryMine()).id);
    } catch (error) {
      setTrouble(messageOf(error));
    }
  };
  return (
    <Section title="Try your mobile">
      <Words size="small" tone="soft">
        A call to your number, at ten times its speed, over simulated phones: yours is answered after 4 s.
        Your own mobile does not ring.
      </Words>
      <View style={{ flexDirection: 'row' }}>
        <Button
          kind="main"
          icon="play"
          label={running ? 'Ringing' : 'Try my mobile'}
          disabled={running}
          onPress={() => void place()}
        />
      </View>
      {trouble ? (
        <Words tone="rust" live>
          {trouble}
        </Words>
      ) : null}
      {view?.seen ? (
        <Sheeted style={{ marginHorizontal: -space(4) }}>
          <RingStrip strip={view.seen} bare />
        </Sheeted>
      ) : null}
      {view?.state === 'done' && view.seen ? (
        <Words strong tone={view.seen.tone === 'lost' ? 'rust' : 'kelp'} live>
          {showNumbersIn(view.seen.ending)}
        </Words>
      ) : null}
    </Section>
  );
}

const STATE_WORDS = {
  open: 'not answered yet',
  granted: 'done for you',
  declined: 'declined',
  'taken-back': 'taken back',
} as const;

function RequestsPart({ page }: { page: OwnPage }) {
  const palette = usePalette();
  const takeBack = useTakeBackRequest();
  if (page.requests.length === 0) return null;
  return (
    <Section title="What you asked for">
      {page.requests.slice(0, KEPT).map((each) => (
        <View
          key={each.id}
          style={{ gap: 2, paddingBottom: space(2), borderBottomWidth: 1, borderColor: palette.line }}
        >
          <Words>{showNumbersIn(each.says)}</Words>
          <Words size="small" tone={each.state === 'declined' ? 'rust' : 'soft'}>
            {`${STATE_WORDS[each.state]}${each.answer ? `: ${each.answer}` : ''}`}
          </Words>
          {each.state === 'open' ? (
            <View style={{ flexDirection: 'row' }}>
              <Button kind="quiet" label="Take it back" onPress={() => takeBack.mutate(each.id)} />
            </View>
          ) : null}
        </View>
      ))}
    </Section>
  );
}

/** The page that people have of their own, on their mobile. */
export function OwnScreen() {
  const own = useOwnPage();
  const palette = usePalette();
  const { signOut } = useSession();
  const wish = useWish();
  const [asking, setAsking] = useState<{ readonly wish: Wish; readonly why: string } | null>(null);
  useEffect(() => {
    document.title = 'Your reach · Hostler';
  }, []);
  const act: Do = (wanted) =>
    wish.mutate(wanted, {
      onError: (error) => {
        if (mayAsk(error)) setAsking({ wish: wanted, why: messageOf(error) });
      },
    });
  if (own.isError) return <Trouble message={messageOf(own.error)} retry={() => void own.refetch()} />;
  if (own.isPending) return <Skeleton />;
  const page = own.data;
  return (
    <ScrollView
      role="main"
      style={{ flex: 1, backgroundColor: palette.ground }}
      contentContainerStyle={{ paddingBottom: space(8), maxWidth: 640, width: '100%', alignSelf: 'center' }}
    >
      <View style={{ padding: space(4), flexDirection: 'row', alignItems: 'flex-start', gap: space(3) }}>
        <View style={{ flex: 1 }}>
          <Words size="page" strong heading={1}>
            {page.person.name}
          </Words>
          <Words tone="soft">{`${page.organisation}${page.person.extension ? ` · ${page.person.extension}` : ''}`}</Words>
        </View>
        <Button kind="quiet" label="Sign out" onPress={() => void signOut()} />
      </View>
      <View style={{ paddingHorizontal: space(4), paddingBottom: space(3), gap: space(1) }}>
        <ReachMark state={page.reach.state} />
        <Words>
          {page.strip ? `Nobody answers now: ${showNumbersIn(page.strip.ending)}` : 'You have no line.'}
        </Words>
      </View>
      {page.strip ? (
        <Sheeted style={{ paddingVertical: space(2) }}>
          <RingStrip strip={page.strip} bare />
        </Sheeted>
      ) : null}
      {wish.isError && !mayAsk(wish.error) ? (
        <View style={{ paddingHorizontal: space(4), paddingTop: space(3) }}>
          <Words tone="rust" strong live>
            {messageOf(wish.error)}
          </Words>
        </View>
      ) : null}
      <StatusPart page={page} act={act} />
      <PhonesPart page={page} act={act} />
      <AppsPart page={page} />
      <OwnCoverPart page={page} act={act} />
      <SequencePart page={page} act={act} />
      <TryMine page={page} />
      <RequestsPart page={page} />
      {asking ? <AskSheet {...asking} onClose={() => setAsking(null)} /> : null}
    </ScrollView>
  );
}
