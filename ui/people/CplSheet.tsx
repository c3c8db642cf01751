import { useMemo, useState } from 'react';
import { View } from 'react-native';
import { useMutation, useQuery } from '@tanstack/react-query';
import { writeCpl, type CplNote } from '../../core/formats';
import type { Estate, Person, Plan, Schedule } from '../../core/estate';
import { api, isApiError, messageOf } from '../data/api';
import { chooseFile, saveFile } from '../data/files';
import { personKey, queryClient } from '../data/data';
import { useMet } from '../data/met';
import { Button, Choice, Field, Trouble } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';

type Way = 'out' | 'in';

interface ScriptRead {
  readonly plan: Plan;
  readonly notes: readonly CplNote[];
  readonly schedules: readonly Schedule[];
  /** What calls can come to by this plan. */
  readonly slice: Estate;
}

/** A person's plan as a CPL script (RFC 3880), and a script as the plan. */
export function CplSheet({
  person,
  estate,
  onEdit,
  onClose,
}: {
  readonly person: Person;
  readonly estate: Estate;
  readonly onEdit: (change: (person: Person) => Person) => void;
  readonly onClose: () => void;
}) {
  const [way, setWay] = useState<Way>('out');
  return (
    <Sheet title="Call script (CPL)" open onClose={onClose}>
      <Choice
        label="Which way"
        value={way}
        options={[
          { value: 'out', label: 'The plan as a script' },
          { value: 'in', label: 'A script as the plan' },
        ]}
        onChange={setWay}
      />
      {way === 'out' ? (
        <Out person={person} estate={estate} />
      ) : (
        <In person={person} onEdit={onEdit} onClose={onClose} />
      )}
    </Sheet>
  );
}

function Notes({ title, notes }: { title: string; notes: readonly string[] }) {
  if (notes.length === 0) return <Words tone="kelp">All of it could be carried over.</Words>;
  return (
    <View style={{ gap: 4 }}>
      <Words strong>{title}</Words>
      {notes.map((note) => (
        <Words key={note} size="small" tone="ochre">
          {note}
        </Words>
      ))}
    </View>
  );
}

function Out({ person, estate }: { person: Person; estate: Estate }) {
  const [domain, setDomain] = useState('');
  const isDomain = domain === '' || /^[a-z0-9-]+(\.[a-z0-9-]+)*$/i.test(domain);
  const { xml, notes } = useMemo(
    () => writeCpl(person, estate, isDomain && domain !== '' ? domain : undefined),
    [person, estate, domain, isDomain],
  );
  return (
    <>
      <Words tone="soft">A script of RFC 3880, for any server that runs it. The plan stays as it is.</Words>
      <Field
        label="Domain of your SIP addresses"
        value={domain}
        onChange={setDomain}
        placeholder="phones.invalid"
        error={isDomain ? null : 'A name such as phones.example.com'}
      />
      <Notes title="What a script cannot say" notes={notes} />
      <Button
        kind="main"
        label="Save the script"
        onPress={() => saveFile(`${person.id}.cpl.xml`, xml, 'application/cpl+xml')}
      />
      <Words mono size="small">
        {xml}
      </Words>
    </>
  );
}

function In({
  person,
  onEdit,
  onClose,
}: {
  person: Person;
  onEdit: (change: (person: Person) => Person) => void;
  onClose: () => void;
}) {
  const [text, setText] = useState('');
  const [script, setScript] = useState('');
  const meet = useMet((state) => state.meet);
  /** Read by the server, which knows every extension that a script may name. */
  const reading = useQuery({
    queryKey: ['/api/people/script', person.id, script],
    queryFn: () => api<ScriptRead>('POST', `${personKey(person.id)}/script`, { script }),
    enabled: script.trim() !== '',
    retry: false,
  });
  const read = reading.data ?? null;
  const faults = isApiError(reading.error) ? reading.error.faults : [];
  const add = useMutation({
    mutationFn: async (schedules: readonly Schedule[]) => {
      for (const object of schedules)
        await api('PUT', `/api/objects/schedule/${encodeURIComponent(object.id)}`, { version: null, object });
    },
    onSuccess: () => queryClient.invalidateQueries(),
  });
  const choose = async () => {
    const file = await chooseFile('.xml,.cpl,application/cpl+xml');
    if (file) setText(await file.text());
  };
  return (
    <>
      <Button label="Choose a file" onPress={() => void choose()} />
      <Field label="Or paste the script" value={text} onChange={setText} multiline mono />
      <Button
        {...(read ? {} : { kind: 'main' as const })}
        label="Read it"
        disabled={text.trim() === ''}
        busy={reading.isFetching}
        onPress={() => setScript(text)}
      />
      {reading.isError && faults.length === 0 ? <Trouble message={messageOf(reading.error)} /> : null}
      {faults.map((fault) => (
        <Words key={fault.path} tone="rust" live>
          {`${fault.path}: ${fault.message}`}
        </Words>
      ))}
      {read ? (
        <>
          <Words live>
            {`${read.plan.rules.length === 0 ? 'The default rule for every call' : `${read.plan.rules.length} ${read.plan.rules.length === 1 ? 'rule' : 'rules'} and the default rule`}.`}
          </Words>
          <Notes
            title="What could not be carried over"
            notes={read.notes.map(({ line, text: said }) => `Line ${line}: ${said}`)}
          />
          {add.isError ? <Trouble message={messageOf(add.error)} /> : null}
          {read.schedules.length > 0 ? (
            <>
              <Words>
                {`The script has hours that the organisation has not: ${read.schedules.length === 1 ? 'they are' : `${read.schedules.length} sets, which are`} made first, under Routes.`}
              </Words>
              <Button
                kind="main"
                label="Make these hours"
                busy={add.isPending}
                onPress={() => add.mutate(read.schedules)}
              />
            </>
          ) : (
            <Button
              kind="main"
              label="Take it as the plan"
              onPress={() => {
                const others = read.slice.people.filter(({ id }) => id !== person.id);
                meet({ ...read.slice, people: others });
                onEdit((before) => ({ ...before, plan: read.plan }));
                onClose();
              }}
            />
          )}
        </>
      ) : null}
    </>
  );
}
