import { useState } from 'react';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import type { Template } from '../../core/estate';
import { sayTemplateKind, TEMPLATE_KINDS, type TemplateKind, usualPlan } from '../../core/editing';
import { messageOf } from '../data/api';
import { idFrom, useAddObject } from '../data/objects';
import { useCanEdit } from '../data/session';
import { useTemplates } from '../data/templates';
import { PageFrame } from '../kit/PageFrame';
import { Button, Choice, Empty, Field, LinkRow, Refused, Section, Skeleton, Trouble } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';

const people = (n: number) => (n === 1 ? 'One person follows it' : `${n} people follow it`);

/** All templates, with how many follow each and how many have departed from it. */
export function TemplatesScreen() {
  const templates = useTemplates();
  const canEdit = useCanEdit();
  const [adding, setAdding] = useState(false);
  return (
    <PageFrame title="Templates" term="template" back={{ path: '/people', label: 'Back to People' }}>
      <Section>
        <Words tone="soft">
          A plan to start people from. In it stand “mobile” or “desk phone” for what each has of their own.
        </Words>
        {canEdit ? (
          <View style={{ flexDirection: 'row' }}>
            <Button icon="add" label="Add a template" onPress={() => setAdding(true)} />
          </View>
        ) : null}
      </Section>
      {templates.isError ? (
        <Trouble message={messageOf(templates.error)} retry={() => void templates.refetch()} />
      ) : templates.isPending ? (
        <Skeleton />
      ) : templates.data.templates.length === 0 ? (
        <Empty
          title="No templates yet"
          text="Add one here, or open a person whose plan is right and save it from there: Reach plan, then Template."
        />
      ) : (
        <View>
          {templates.data.templates.map((template) => (
            <LinkRow
              key={template.id}
              title={template.name}
              text={`${people(template.followers)}${template.note ? `. ${template.note}` : ''}`}
              mark={
                template.departed > 0 ? (
                  <Words size="small" strong tone="ochre">
                    {`${template.departed} differ`}
                  </Words>
                ) : null
              }
              href={`/templates/${encodeURIComponent(template.id)}`}
            />
          ))}
        </View>
      )}
      {adding ? <AddTemplate onClose={() => setAdding(false)} /> : null}
    </PageFrame>
  );
}

/** A template of one of the usual kinds, to be changed on its page. */
function AddTemplate({ onClose }: { readonly onClose: () => void }) {
  const router = useRouter();
  const add = useAddObject('template');
  const [kind, setKind] = useState<TemplateKind>('shared-desk-or-mobile');
  const [typed, setTyped] = useState<string | null>(null);
  const name = typed ?? sayTemplateKind(kind);
  const isFit = name.trim() !== '';
  const go = () => {
    if (!isFit) return;
    const id = idFrom(name);
    const template: Template = { id, name: name.trim(), plan: usualPlan(kind) };
    add.mutate(template, { onSuccess: () => router.navigate(`/templates/${encodeURIComponent(id)}`) });
  };
  return (
    <Sheet
      title="Add a template"
      open
      onClose={onClose}
      action={{ label: 'Add the template', disabled: !isFit, busy: add.isPending, onPress: go }}
    >
      <Choice
        label="What it begins with"
        titled
        value={kind}
        options={TEMPLATE_KINDS.map((value) => ({ value, label: sayTemplateKind(value) }))}
        onChange={setKind}
      />
      {kind === 'shared-desk-or-mobile' ? (
        <Words tone="soft">
          Whoever is signed on at a shared desk is rung there; whoever is signed on nowhere, on their mobile.
        </Words>
      ) : null}
      <Field label="Name" value={name} onChange={setTyped} onSubmit={go} />
      <Refused error={add.error} />
    </Sheet>
  );
}
