import { useState } from 'react';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import {
  departures,
  fillTemplate,
  startFrom,
  startFromColleague,
  templatePlan,
  type LeftOut,
} from '../../core/editing';
import type { Estate, Person, Template } from '../../core/estate';
import { messageOf } from '../data/api';
import { idFrom, useAddObject } from '../data/objects';
import { useTemplatePlans } from '../data/templates';
import { meetPerson, meetTemplate } from '../data/met';
import { space } from '../kit/theme';
import { CplSheet } from './CplSheet';
import { Button, Field, Fold, Skeleton, Trouble } from '../kit/parts';
import { FoundList, PersonSearch } from '../edit/Search';
import { sayLeft } from '../edit/sayLeft';
import { sayPath } from '../../core/changes/slate';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';

type Edit = (change: (person: Person) => Person) => void;

/** Which template the plan is of, where it has departed from it, and starting it anew from a template or colleague. */
export function TemplatePart({
  person,
  slice,
  onEdit,
}: {
  readonly person: Person;
  readonly slice: Estate;
  readonly onEdit: Edit | null;
}) {
  const router = useRouter();
  const [open, setOpen] = useState(false);
  const [script, setScript] = useState(false);
  const own = slice.templates?.find(({ id }) => id === person.template);
  const plans = useTemplatePlans(open || (person.template !== undefined && !own));
  const template = own ?? plans.data?.objects.find(({ id }) => id === person.template);
  const departed = template ? departures(template, person).map(({ path }) => sayPath(path)) : [];
  if (!template && !onEdit) return null;
  return (
    <View style={{ gap: space(1) }}>
      <Words size="small" tone={departed.length > 0 ? 'ochre' : 'soft'}>
        {!template
          ? 'Follows no template.'
          : departed.length === 0
            ? `Follows the template “${template.name}” to the letter.`
            : `Differs from the template “${template.name}” in: ${[...new Set(departed)].join('; ')}.`}
      </Words>
      <View style={{ flexDirection: 'row', flexWrap: 'wrap' }}>
        {onEdit ? <Button kind="quiet" label="Template or colleague" onPress={() => setOpen(true)} /> : null}
        {template && departed.length > 0 && onEdit ? (
          <Button kind="quiet" label="Back to it" onPress={() => onEdit((p) => startFrom(p, template))} />
        ) : null}
        {onEdit ? <Button kind="quiet" label="Call script" onPress={() => setScript(true)} /> : null}
        {template ? (
          <Button
            kind="quiet"
            label="Open the template"
            onPress={() => router.navigate(`/templates/${encodeURIComponent(template.id)}`)}
          />
        ) : null}
      </View>
      {script && onEdit ? (
        <CplSheet person={person} estate={slice} onEdit={onEdit} onClose={() => setScript(false)} />
      ) : null}
      {open && onEdit ? (
        <StartSheet
          person={person}
          templates={plans.data?.objects ?? null}
          trouble={plans.isError ? messageOf(plans.error) : null}
          onEdit={onEdit}
          onClose={() => setOpen(false)}
        />
      ) : null}
    </View>
  );
}

function StartSheet({
  person,
  templates,
  trouble,
  onEdit,
  onClose,
}: {
  person: Person;
  templates: readonly Template[] | null;
  trouble: string | null;
  onEdit: Edit;
  onClose: () => void;
}) {
  const [done, setDone] = useState<{ from: string; left: readonly LeftOut[] } | null>(null);
  const [failed, setFailed] = useState<string | null>(null);
  const take = (from: string, left: readonly LeftOut[], change: (p: Person) => Person) => {
    onEdit(change);
    if (left.length === 0) onClose();
    else setDone({ from, left });
  };
  const begin = (work: Promise<void>) => {
    setFailed(null);
    work.catch((error: unknown) => setFailed(messageOf(error)));
  };
  return (
    <Sheet title="Template or colleague" open onClose={onClose}>
      {trouble ? <Trouble message={trouble} /> : null}
      {failed ? <Trouble message={failed} /> : null}
      {done ? (
        <>
          <Words>{`${person.name} now has the plan of ${done.from}, not live yet. Not all of it could be taken over:`}</Words>
          {done.left.map((left, i) => (
            <Words key={i} tone="ochre">
              {sayLeft(left)}
            </Words>
          ))}
          <Button kind="main" label="Done" onPress={onClose} />
        </>
      ) : (
        <>
          <Words tone="soft">
            The plan becomes that of a template or a colleague, with {person.name}’s own phones in it. It
            shows in the strip at once, and can be undone.
          </Words>
          <Words strong>From a template</Words>
          {templates === null && !trouble ? <Skeleton rows={3} /> : null}
          {templates?.length === 0 ? <Words tone="soft">There is none yet.</Words> : null}
          <FoundList
            found={(templates ?? []).map((template) => ({
              key: template.id,
              title: template.name,
              text: template.note ?? '',
              onPick: () =>
                begin(
                  meetTemplate(template.id).then(() =>
                    take(template.name, fillTemplate(template.plan, person).left, (p) =>
                      startFrom(p, template),
                    ),
                  ),
                ),
            }))}
          />
          <Words strong>From a colleague</Words>
          <PersonSearch
            label="Whose plan"
            except={person.id}
            onPick={(id, name) =>
              begin(
                meetPerson(id).then((page) =>
                  take(name, fillTemplate(templatePlan(page.person), person).left, (p) =>
                    startFromColleague(p, page.person),
                  ),
                ),
              )
            }
          />
          <View style={{ marginHorizontal: -space(4) }}>
            <Fold title="Save this plan as a template">
              <View style={{ paddingHorizontal: space(4) }}>
                <SaveTemplate person={person} onEdit={onEdit} onSaved={onClose} />
              </View>
            </Fold>
          </View>
          {person.template === undefined ? null : (
            <Button
              kind="quiet"
              label="Follow no template"
              onPress={() => {
                onEdit(({ template: _before, ...rest }) => rest);
                onClose();
              }}
            />
          )}
        </>
      )}
    </Sheet>
  );
}

function SaveTemplate({ person, onEdit, onSaved }: { person: Person; onEdit: Edit; onSaved: () => void }) {
  const [name, setName] = useState('');
  const [note, setNote] = useState('');
  const add = useAddObject('template');
  const id = idFrom(name);
  const save = () =>
    add.mutate({ id, name: name.trim(), ...(note ? { note } : {}), plan: templatePlan(person) } as Template, {
      onSuccess: () => {
        onEdit((p) => ({ ...p, template: id }));
        onSaved();
      },
    });
  return (
    <View style={{ gap: space(3) }}>
      <Field label="Name of the template" value={name} onChange={setName} />
      <Field label="Whom it is for" value={note} onChange={setNote} />
      {add.isError ? <Trouble message={messageOf(add.error)} /> : null}
      <Button label="Save the template" disabled={id === ''} busy={add.isPending} onPress={save} />
    </View>
  );
}
