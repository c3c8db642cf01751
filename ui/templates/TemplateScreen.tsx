import type { ObjectPage } from '../../api/objects';
import type { Follower } from '../../api/templates';
import { useCallback, useDeferredValue, useMemo, useState } from 'react';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import { mergeSlices, personOfTemplate, startFrom } from '../../core/editing';
import type { Estate, Person, Template } from '../../core/estate';
import { compileEstate } from '../../core/calls/engine';
import { messageOf } from '../data/api';
import { useObject, useObjectWork } from '../data/objects';
import { useFollowers } from '../data/templates';
import { useMet } from '../data/met';
import { useCanEdit } from '../data/session';
import { ObjectBar } from '../edit/ObjectBar';
import { RemovePart } from '../edit/RemovePart';
import { PageFrame } from '../kit/PageFrame';
import { Button, Choice, Empty, Field, LinkRow, Section, Skeleton, Trouble } from '../kit/parts';
import { EditorPane, type Editing } from '../plan/EditorPane';
import { PlanPart } from '../plan/PlanPart';
import { sayPath } from '../../core/changes/slate';
import { TemplateSheet } from './TemplateSheet';
import { TryStrip } from '../calls/TryStrip';
import { WeekPart } from '../calls/WeekPart';
import { Words } from '../kit/Words';
import { useIsWide } from '../kit/theme';
import { fieldLabel } from '../kit/fieldLabel';

export function TemplateScreen({ id }: { readonly id: string }) {
  const page = useObject<Template>('template', id);
  const followers = useFollowers(id);
  if (page.isError) return <Trouble message={messageOf(page.error)} retry={() => void page.refetch()} />;
  if (followers.isError)
    return <Trouble message={messageOf(followers.error)} retry={() => void followers.refetch()} />;
  if (page.isPending || followers.isPending) return <Skeleton />;
  return (
    <TemplateView key={id} page={page.data} followers={followers.data.people} theirs={followers.data.slice} />
  );
}

/** Until it is known who stands for those who follow. */
const NOBODY = { status: '', permission: '', maxCalls: 1 };

/** As many as can stand in a row of choices. */
const SHOWN_FOR = 3;

/** The estate with the template's somebody and those who follow it as the edited template has them. */
function asEdited(estate: Estate, somebody: Person, template: Template, loyal: ReadonlySet<string>): Estate {
  return {
    ...estate,
    people: estate.people.map((person) =>
      person.id === somebody.id ? somebody : loyal.has(person.id) ? startFrom(person, template) : person,
    ),
  };
}

function TemplateView({
  page,
  followers,
  theirs,
}: {
  page: ObjectPage<Template>;
  followers: readonly Follower[];
  theirs: Estate | null;
}) {
  const router = useRouter();
  const canEdit = useCanEdit();
  const wide = useIsWide();
  const work = useObjectWork('template', page);
  const [editing, setEditing] = useState<Editing | null>(null);
  const [applying, setApplying] = useState(false);
  const [now] = useState(() => Date.now());
  const met = useMet((state) => state.part);
  const template = work.object;
  const whole = useMemo(
    () => mergeSlices(theirs ? mergeSlices(page.slice, theirs) : page.slice, met),
    [page.slice, theirs, met],
  );
  const base = whole.people.find(({ id }) => id === `own:${page.object.id}`);
  const somebody = useMemo(() => personOfTemplate(template, base ?? NOBODY), [template, base]);
  const loyal = useMemo(
    () => new Set(followers.flatMap(({ id, departures }) => (departures.length === 0 ? [id] : []))),
    [followers],
  );
  const slice = useMemo(() => asEdited(whole, somebody, template, loyal), [whole, somebody, template, loyal]);
  const index = useMemo(() => compileEstate(slice), [slice]);
  const here = followers.filter(({ id }) => slice.people.some((person) => person.id === id));
  const [seenFor, setSeenFor] = useState<string | null>(null);
  /** Whoever is chosen; at first one whom the template rings. */
  const seen = here.find(({ id }) => id === seenFor) ?? here.find(({ id }) => loyal.has(id)) ?? here[0];
  const [status, setStatus] = useState<string | null>(null);
  const statusOf = status ?? slice.people.find(({ id }) => id === seen?.id)?.status;
  const shown = useMemo(
    () => ({
      ...slice,
      people: slice.people.map((person) =>
        person.id === seen?.id && status !== null ? { ...person, status } : person,
      ),
    }),
    [slice, seen?.id, status],
  );
  const { edit } = work;
  const editPlan = useCallback(
    (change: (person: Person) => Person) =>
      edit((before) => ({
        ...before,
        plan: change(personOfTemplate(before, base ?? NOBODY)).plan,
      })),
    [edit, base],
  );
  const open = useCallback((at: string) => setEditing({ at }), []);
  const laterSlice = useDeferredValue(slice);
  const laterIndex = useDeferredValue(index);
  const pane = editing ? (
    <EditorPane
      editing={editing}
      treatment="otherwise"
      person={somebody}
      estate={slice}
      index={index}
      strip={null}
      onEdit={editPlan}
      onEditing={setEditing}
    />
  ) : null;
  return (
    <View style={{ flex: 1, flexDirection: 'row' }}>
      <View style={{ flex: 1, minWidth: 0 }}>
        <PageFrame
          title={template.name}
          back={{ path: '/templates', label: 'Back to Templates' }}
          aside={
            canEdit ? (
              <Button kind="main" label="Start people from it" onPress={() => setApplying(true)} />
            ) : null
          }
          bar={<ObjectBar work={work} />}
        >
          <Section>
            {template.note ? <Words tone="soft">{template.note}</Words> : null}
            {seen && here.length > 1 ? (
              <Choice
                label="As it rings for"
                value={seen.id}
                options={here.slice(0, SHOWN_FOR).map(({ id, name }) => ({ value: id, label: name }))}
                onChange={setSeenFor}
              />
            ) : null}
            {seen && canEdit ? (
              <Choice
                label="With the status"
                value={statusOf ?? null}
                options={slice.statuses.map(({ id, name }) => ({ value: id, label: name }))}
                onChange={setStatus}
              />
            ) : null}
          </Section>
          {seen ? <TryStrip slice={shown} to={seen.extension} /> : null}
          <PlanPart
            person={somebody}
            index={index}
            now={null}
            onEdit={canEdit ? editPlan : null}
            onOpen={canEdit ? open : null}
          />
          <Section title="Who follows it">
            {followers.length === 0 ? (
              <Empty
                title="Nobody yet"
                text="Start people from it here, or choose it on a person’s page."
                action={
                  canEdit ? <Button label="Start people from it" onPress={() => setApplying(true)} /> : null
                }
              />
            ) : (
              <Words size="small" tone="soft">
                {loyal.size === followers.length
                  ? `${followers.length}, all to the letter. A change of the template reaches them when you start them from it again.`
                  : `${followers.length}, of whom ${followers.length - loyal.size} differ from it.`}
              </Words>
            )}
          </Section>
          <View>
            {[...followers]
              .sort((a, b) => b.departures.length - a.departures.length)
              .map((person) => (
                <LinkRow
                  key={person.id}
                  title={person.name}
                  text={
                    person.departures.length === 0
                      ? person.extension
                      : `${person.extension}  Differs in ${person.departures.map((path) => sayPath(path)).join('; ')}`
                  }
                  mark={
                    person.departures.length > 0 ? (
                      <Words size="small" strong tone="ochre">
                        Differs
                      </Words>
                    ) : null
                  }
                  href={`/people/${encodeURIComponent(person.id)}`}
                />
              ))}
          </View>
          {here.length > 0 ? (
            <WeekPart
              slice={laterSlice}
              people={here.map(({ id }) => id)}
              index={laterIndex}
              atMs={now}
              onCell={() => undefined}
            />
          ) : null}
          {canEdit ? (
            <Section title="The template itself">
              <Field
                label={fieldLabel('template', 'name')}
                value={template.name}
                onChange={(name) => name.trim() && edit((before) => ({ ...before, name }))}
              />
              <Field
                label={fieldLabel('template', 'note')}
                value={template.note ?? ''}
                onChange={(note) =>
                  edit(({ note: _before, ...rest }) => (note === '' ? rest : { ...rest, note }))
                }
              />
              <View style={{ alignItems: 'flex-start' }}>
                <RemovePart
                  kind="template"
                  id={page.object.id}
                  name={page.object.name}
                  label="Remove this template"
                  onRemoved={() => router.navigate('/templates')}
                />
              </View>
            </Section>
          ) : null}
        </PageFrame>
        {wide ? null : pane}
      </View>
      {wide ? pane : null}
      {applying ? (
        <TemplateSheet
          template={page.object}
          unsaved={work.changed}
          departed={followers.filter(({ departures }) => departures.length > 0).map(({ id }) => id)}
          onClose={() => setApplying(false)}
        />
      ) : null}
    </View>
  );
}
