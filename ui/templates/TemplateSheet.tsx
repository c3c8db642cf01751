import { useMemo, useState } from 'react';
import { View } from 'react-native';
import { matcher } from '../../core/search';
import type { Template } from '../../core/estate';
import { messageOf } from '../data/api';
import { stillComing, usePeople } from '../data/people';
import { ManySheet } from '../edit/ManySheet';
import { Button, Choice, Field, Skeleton, Tick, Trouble } from '../kit/parts';
import { Words } from '../kit/Words';

const MOST_ROWS = 40;

/** Starts many people from a template: whom, then what it does to each, then all of them or none. */
export function TemplateSheet({
  template,
  unsaved,
  departed,
  onClose,
}: {
  readonly template: Template;
  /** The template has changes that are not live: they would not be applied. */
  readonly unsaved: boolean;
  readonly departed: readonly string[];
  readonly onClose: () => void;
}) {
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set(departed));
  const people = useMemo(() => [...chosen], [chosen]);
  return (
    <ManySheet
      title={`Start people from ${template.name}`}
      people={people}
      change={{ kind: 'template', to: template.id }}
      missing="Choose people first"
      otherwise="Choose others"
      onClose={onClose}
    >
      {unsaved ? (
        <Words tone="ochre">
          The template has changes that are not live yet. People are started from the live one.
        </Words>
      ) : null}
      <Chooser chosen={chosen} departed={departed} onChange={setChosen} />
    </ManySheet>
  );
}

type Part = 'all' | 'departed' | 'chosen';

function Chooser({
  chosen,
  departed,
  onChange,
}: {
  chosen: ReadonlySet<string>;
  departed: readonly string[];
  onChange: (chosen: ReadonlySet<string>) => void;
}) {
  const people = usePeople();
  const [text, setText] = useState('');
  const [part, setPart] = useState<Part>(departed.length > 0 ? 'departed' : 'all');
  const found = useMemo(() => {
    const fits = matcher(text);
    return (people.data?.people ?? []).filter(
      (person) =>
        fits(person) && (part === 'all' || (part === 'chosen' ? chosen : new Set(departed)).has(person.id)),
    );
  }, [people.data, text, part, chosen, departed]);
  if (people.isError)
    return <Trouble message={messageOf(people.error)} retry={() => void people.refetch()} />;
  if (people.isPending) return <Skeleton />;
  const toggle = (id: string) => {
    const next = new Set(chosen);
    if (!next.delete(id)) next.add(id);
    onChange(next);
  };
  const coming = stillComing(people.data);
  const allOn = found.length > 0 && found.every(({ id }) => chosen.has(id));
  return (
    <>
      <Field label="Whom" placeholder="Name, extension or number" value={text} onChange={setText} />
      <Choice
        label="Which of them"
        value={part}
        options={[
          { value: 'all', label: 'Everybody' },
          ...(departed.length > 0
            ? [{ value: 'departed' as const, label: `Differ (${departed.length})` }]
            : []),
          { value: 'chosen', label: `Chosen (${chosen.size})` },
        ]}
        onChange={setPart}
      />
      {coming ? (
        <Words size="small" tone="soft" live>
          {`${coming.here} of ${coming.count} people are here, the rest is coming.`}
        </Words>
      ) : null}
      {found.length > 1 ? (
        <Button
          kind="plain"
          label={allOn ? `Leave out these ${found.length}` : `Choose these ${found.length}`}
          onPress={() => {
            const next = new Set(chosen);
            for (const { id } of found)
              if (allOn) next.delete(id);
              else next.add(id);
            onChange(next);
          }}
        />
      ) : null}
      <View>
        {found.slice(0, MOST_ROWS).map((person) => (
          <Tick
            key={person.id}
            label={`${person.name}, ${person.extension}`}
            on={chosen.has(person.id)}
            onPress={() => toggle(person.id)}
          />
        ))}
        {found.length === 0 ? <Words tone="soft">Nobody fits.</Words> : null}
        {found.length > MOST_ROWS ? (
          <Words size="small" tone="soft">
            {`and ${found.length - MOST_ROWS} more: search to see them`}
          </Words>
        ) : null}
      </View>
    </>
  );
}
