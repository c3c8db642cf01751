import type { TemplatePreview } from '../../api/templates';
import { useMemo, useState } from 'react';
import { DateTime } from 'luxon';
import { View } from 'react-native';
import { matcher } from '../../core/search';
import { zoneNamed } from '../../core/zones';
import type { Template } from '../../core/estate';
import { messageOf } from '../data/api';
import { usePeople } from '../data/data';
import { useZone } from '../data/session';
import { useApplyTemplate, useTakeBack, useTemplatePreview } from '../data/templates';
import { space, usePalette } from '../kit/theme';
import { Button, Choice, Field, ReachMark, Skeleton, Tick, Trouble } from '../kit/parts';
import { sayLeft } from './sayLeft';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';

const MOST_ROWS = 40;
const RANK = { reached: 0, 'at-risk': 1, lost: 2 } as const;
const count = (n: number) => (n === 1 ? 'one person' : `${n} people`);

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
  const preview = useTemplatePreview(template.id);
  const apply = useApplyTemplate(template.id);
  const back = useTakeBack();
  const rows = preview.data?.rows;
  const toChange = rows?.filter((row) => row.changes > 0 || !row.follows) ?? [];
  const look = () => preview.mutate([...chosen]);
  const footer = apply.isSuccess ? (
    <>
      <Button
        label="Undo"
        busy={back.isPending}
        disabled={back.isSuccess}
        onPress={() => back.mutate(apply.data.entries)}
      />
      <Button kind="main" grow label="Done" onPress={onClose} />
    </>
  ) : rows ? (
    <>
      <Button label="Choose others" onPress={() => preview.reset()} />
      <Button
        kind="main"
        grow
        disabled={toChange.length === 0}
        busy={apply.isPending}
        label={toChange.length === 0 ? 'Nothing changes' : `Put live for ${count(toChange.length)}`}
        onPress={() => apply.mutate(toChange.map(({ id, version }) => ({ id, version })))}
      />
    </>
  ) : (
    <Button
      kind="main"
      grow
      disabled={chosen.size === 0}
      busy={preview.isPending}
      label={chosen.size === 0 ? 'Choose people first' : `Look at what changes for ${count(chosen.size)}`}
      onPress={look}
    />
  );
  return (
    <Sheet title={`Start people from ${template.name}`} open onClose={onClose} footer={footer}>
      {unsaved ? (
        <Words tone="ochre">
          The template has changes that are not live yet. People are started from the live one.
        </Words>
      ) : null}
      {preview.isError ? <Trouble message={messageOf(preview.error)} retry={look} /> : null}
      {apply.isError ? <Trouble message={messageOf(apply.error)} retry={look} /> : null}
      {back.isError ? <Trouble message={messageOf(back.error)} /> : null}
      {apply.isSuccess ? (
        <Words strong live>
          {back.isSuccess
            ? `Undone: ${count(back.data.people)} as before.`
            : `Live now for ${count(apply.data.changed)}.`}
        </Words>
      ) : rows ? (
        <Rows rows={rows} />
      ) : (
        <Chooser chosen={chosen} departed={departed} onChange={setChosen} />
      )}
    </Sheet>
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

function Rows({ rows }: { rows: readonly TemplatePreview[] }) {
  const palette = usePalette();
  const zone = useZone();
  const worse = rows.filter((row) => RANK[row.after] > RANK[row.before]);
  const dropping = rows.filter((row) => row.drops.length > 0);
  const same = rows.filter((row) => row.changes === 0 && row.follows).length;
  return (
    <>
      <Words live>
        {[
          `${count(rows.length - same)} would change`,
          ...(same > 0
            ? [`${count(same)} ${same === 1 ? 'follows' : 'follow'} it to the letter already`]
            : []),
          worse.length > 0
            ? `${count(worse.length)} would be harder to reach now`
            : 'nobody would be harder to reach now',
          ...(dropping.length > 0
            ? [`of ${count(dropping.length)} a phone would ring no more, or not at all hours`]
            : []),
        ].join('; ')}
        .
      </Words>
      <View>
        {[...rows]
          .sort(
            (a, b) =>
              RANK[b.after] - RANK[b.before] - (RANK[a.after] - RANK[a.before]) ||
              b.drops.length - a.drops.length,
          )
          .map((row) => (
            <View
              key={row.id}
              style={{
                paddingVertical: space(2),
                gap: 2,
                borderTopWidth: 1,
                borderColor: palette.line,
              }}
            >
              <View style={{ flexDirection: 'row', justifyContent: 'space-between', gap: space(2) }}>
                <Words strong style={{ flexShrink: 1 }}>
                  {row.name}
                </Words>
                <ReachMark state={row.after} />
              </View>
              <Words size="small" tone="soft">
                {row.changes === 0
                  ? row.follows
                    ? 'Follows it already'
                    : 'The plan stays as it is, and is held against the template'
                  : `${row.changes} ${row.changes === 1 ? 'setting changes' : 'settings change'}`}
              </Words>
              {row.after !== row.before || row.after !== 'reached' ? (
                <Words size="small" tone={RANK[row.after] > RANK[row.before] ? 'rust' : 'soft'}>
                  {row.why}
                </Words>
              ) : null}
              {row.drops.map(({ endpoint, label, atMs }) => (
                <Words key={endpoint} size="small" tone="rust">
                  {atMs === null
                    ? `${label} would not ring any more`
                    : `${label} would not ring on ${DateTime.fromMillis(atMs, { zone: zoneNamed(zone) })
                        .setLocale('en')
                        .toFormat('cccc, d LLLL, HH:mm')}, nor at hours like it`}
                </Words>
              ))}
              {row.left.map((left, i) => (
                <Words key={i} size="small" tone="ochre">
                  {sayLeft(left)}
                </Words>
              ))}
            </View>
          ))}
      </View>
    </>
  );
}
