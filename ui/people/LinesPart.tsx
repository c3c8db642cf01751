import { memo, useState } from 'react';
import { View } from 'react-native';
import { showNumber } from '../../core/calls/dialling';
import {
  addLine,
  editLine,
  removeLine,
  rulesOfLine,
  setMaxCalls,
  setName,
  setPermission,
} from '../../core/editing';
import type { Estate, Line, Person } from '../../core/estate';
import { useNewPerson } from '../data/data';
import { usePeople } from '../data/people';
import { useNamed } from '../edit/Search';
import { typedNumber } from '../edit/typedNumber';
import { Button, Choice, Field, IconButton, Section } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';
import { fieldLabel } from '../kit/fieldLabel';

type Edit = (change: (person: Person) => Person, merge?: string) => void;

/** What somebody is called by and may do: name, lines with their direct numbers, permission, calls at once. */
export const LinesPart = memo(function LinesPart({
  person,
  estate,
  onEdit,
}: {
  readonly person: Person;
  readonly estate: Estate;
  readonly onEdit: Edit | null;
}) {
  const [open, setOpen] = useState(false);
  const permission = estate.permissions.find(({ id }) => id === person.permission);
  return (
    <Section
      title="Name, lines and permission"
      aside={onEdit ? <Button kind="quiet" label="Change" onPress={() => setOpen(true)} /> : null}
    >
      {person.lines.map((line) => (
        <Words key={line.id}>
          {`Line ${line.extension}${line.numbers.length ? `, direct ${line.numbers.map(showNumber).join(', ')}` : ''}`}
        </Words>
      ))}
      {person.lines.length === 0 ? <Words tone="ochre">No line: nobody can call them.</Words> : null}
      <Words tone="soft">
        {`May dial by the permission “${permission?.name ?? 'not known'}” · ${callsAtOnce(person.maxCalls)}`}
      </Words>
      {open && onEdit ? (
        <LinesSheet person={person} estate={estate} onEdit={onEdit} onClose={() => setOpen(false)} />
      ) : null}
    </Section>
  );
});

const callsAtOnce = (count: number) => (count === 1 ? '1 call at once' : `${count} calls at once`);

function LinesSheet({
  person,
  estate,
  onEdit,
  onClose,
}: {
  readonly person: Person;
  readonly estate: Estate;
  readonly onEdit: Edit;
  readonly onClose: () => void;
}) {
  const proposal = useNewPerson();
  const [name, setTyped] = useState(person.name);
  const [most, setMost] = useState(String(person.maxCalls));
  const wrongMost = !/^[1-9]\d{0,2}$/.test(most);
  const free = proposal.data?.extension;
  return (
    <Sheet
      title="Name, lines and permission"
      open
      onClose={onClose}
      action={{ label: 'Done', onPress: onClose }}
    >
      <Field
        label={fieldLabel('person', 'name')}
        value={name}
        onChange={(text) => {
          setTyped(text);
          if (text.trim() !== '' && text.trim().length <= 200)
            onEdit((before) => setName(before, text.trim()), 'name');
        }}
        error={
          name.trim() === ''
            ? 'Everybody has a name'
            : name.trim().length > 200
              ? 'At most 200 letters'
              : null
        }
      />
      {person.lines.map((line, i) => (
        <LineFields
          key={line.id}
          line={line}
          title={person.lines.length === 1 ? 'Line' : `Line ${i + 1}`}
          person={person}
          estate={estate}
          onEdit={onEdit}
        />
      ))}
      <Button
        icon="add"
        label={free ? `Add a line, ${free}` : 'Add a line'}
        disabled={!free || person.lines.some(({ extension }) => extension === free)}
        onPress={() => free && onEdit((before) => addLine(before, free))}
      />
      <Choice
        titled
        label="May dial by the permission"
        value={person.permission}
        options={estate.permissions.map((each) => ({ value: each.id, label: each.name }))}
        onChange={(id) => onEdit((before) => setPermission(before, id))}
      />
      <Field
        label={fieldLabel('person', 'maxCalls')}
        keyboard="decimal-pad"
        value={most}
        onChange={(text) => {
          setMost(text);
          if (/^[1-9]\d{0,2}$/.test(text)) onEdit((before) => setMaxCalls(before, Number(text)), 'max-calls');
        }}
        error={wrongMost ? 'A number from 1 to 999' : null}
        hint="With as many calls already, one more is treated as busy"
      />
      <Words size="small" tone="soft">
        Nothing of this is live until you put it live.
      </Words>
    </Sheet>
  );
}

/** Who has an extension or number already, of people, groups and menus; null: nobody but this line. */
function useHolder(person: Person, line: Line): (key: string) => string | null {
  const people = usePeople();
  const groups = useNamed('group');
  const menus = useNamed('menu');
  return (key) => {
    const other = person.lines.find(
      (each) => each.id !== line.id && (each.extension === key || each.numbers.includes(key)),
    );
    if (other) return `${person.name}, on line ${other.extension}`;
    const holder =
      people.data?.people.find(
        (each) => each.id !== person.id && (each.extension === key || each.numbers.includes(key)),
      ) ??
      [...(groups.data?.objects ?? []), ...(menus.data?.objects ?? [])].find(
        ({ extension, numbers }) => extension === key || numbers?.includes(key),
      );
    return holder?.name ?? null;
  };
}

function LineFields({
  line,
  title,
  person,
  estate,
  onEdit,
}: {
  readonly line: Line;
  readonly title: string;
  readonly person: Person;
  readonly estate: Estate;
  readonly onEdit: Edit;
}) {
  const palette = usePalette();
  const holder = useHolder(person, line);
  const [extension, setExtension] = useState(line.extension);
  const [number, setNumber] = useState('');
  const [asks, setAsks] = useState(false);
  const digits = estate.dialling.extensionDigits;
  const faultIn = (text: string): string | null => {
    if (!new RegExp(`^\\d{${digits}}$`).test(text)) return `${digits} digits`;
    const other = holder(text);
    return other ? `${text} belongs to ${other} already` : null;
  };
  const read = typedNumber(number, estate.dialling);
  const taken = read.e164 === null ? null : holder(read.e164);
  const numberFault =
    read.error ??
    (read.e164 !== null && line.numbers.includes(read.e164)
      ? 'This line has it already'
      : taken
        ? `Belongs to ${taken} already`
        : null);
  const add = () => {
    if (read.e164 === null || numberFault) return;
    const e164 = read.e164;
    onEdit((before) => editLine(before, line.id, { numbers: [...line.numbers, e164] }));
    setNumber('');
  };
  const rules = rulesOfLine(person, line.id);
  return (
    <View style={{ gap: space(2), borderLeftWidth: 3, borderColor: palette.line, paddingLeft: space(3) }}>
      <View style={{ flexDirection: 'row', alignItems: 'center', justifyContent: 'space-between' }}>
        <Words strong heading={3}>
          {title}
        </Words>
        {asks ? null : <Button kind="quiet" label="Remove line" onPress={() => setAsks(true)} />}
      </View>
      {asks ? (
        <View style={{ gap: space(2) }}>
          <Words tone="rust" live>
            {`Nobody can call ${[line.extension, ...line.numbers.map(showNumber)].join(' or ')} any more.${
              rules.length > 0
                ? ` ${rules.length === 1 ? `The rule “${rules[0]!.name}” goes` : `${rules.length} rules go`} with it.`
                : ''
            }`}
          </Words>
          <View style={{ flexDirection: 'row', gap: space(2) }}>
            <Button label="Remove it" onPress={() => onEdit((before) => removeLine(before, line.id))} />
            <Button kind="quiet" label="Keep it" onPress={() => setAsks(false)} />
          </View>
        </View>
      ) : null}
      <Field
        label={fieldLabel('person', 'lines.extension')}
        mono
        keyboard="phone-pad"
        value={extension}
        onChange={(text) => {
          setExtension(text);
          if (faultIn(text) === null)
            onEdit((before) => editLine(before, line.id, { extension: text }), `extension ${line.id}`);
        }}
        error={faultIn(extension)}
      />
      {line.numbers.map((each) => (
        <View key={each} style={{ flexDirection: 'row', alignItems: 'center', gap: space(2) }}>
          <Words mono style={{ flex: 1 }}>
            {showNumber(each)}
          </Words>
          <IconButton
            icon="close"
            label={`Take the direct number ${showNumber(each)} away`}
            onPress={() =>
              onEdit((before) =>
                editLine(before, line.id, { numbers: line.numbers.filter((one) => one !== each) }),
              )
            }
          />
        </View>
      ))}
      <Field
        label={line.numbers.length ? 'One more direct number' : 'Direct number, if there is one'}
        mono
        keyboard="phone-pad"
        value={number}
        onChange={setNumber}
        onSubmit={add}
        error={numberFault}
        hint={read.shown}
      />
      {read.e164 !== null && !numberFault ? (
        <Button label={`Give the line ${read.shown}`} onPress={add} />
      ) : null}
    </View>
  );
}
