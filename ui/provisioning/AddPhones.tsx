import type { ListedRow } from '../../api/provisioning';
import { useState } from 'react';
import { View } from 'react-native';
import { MODELS } from '../../core/devices/phones';
import { faultOf, messageOf } from '../data/api';
import { chooseFile } from '../data/files';
import { placedFaults, useAddPhone, useReadPhones, useTakePhones } from '../data/provisioning';
import { space } from '../kit/theme';
import { Button, Field, Refused, Skeleton, Trouble } from '../kit/parts';
import { ModelChoice } from '../phones/ModelChoice';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';

const SHOWN = 60;
const ACTIONS: Record<Exclude<ListedRow['action'], 'refuse'>, string> = {
  add: 'new',
  change: 'changed',
  same: 'as it is',
};

/** Phones from a table: what was understood is seen, row by row, before anything is written. */
export function ListSheet({ onClose }: { readonly onClose: () => void }) {
  const [file, setFile] = useState<File | null>(null);
  const read = useReadPhones();
  const take = useTakePhones();
  const rows = read.data ?? [];
  const refused = rows.filter(({ action }) => action === 'refuse');
  const right = rows.length - refused.length;
  const choose = async () => {
    const next = await chooseFile('.csv,.txt,text/csv,text/plain');
    if (!next) return;
    setFile(next);
    read.mutate(next);
  };
  return (
    <Sheet
      title="Phones from a list"
      open
      onClose={onClose}
      action={{
        label: right === 1 ? 'Take the one phone' : `Take the ${right} phones`,
        disabled: !file || !read.isSuccess || right === 0,
        busy: take.isPending,
        onPress: () => file && take.mutate(file, { onSuccess: onClose }),
      }}
    >
      <Words>
        A table with the MAC address, the model, and the extension or name of whom it is for, or the shared
        desk where it stands; the name of the phone where it has one.
      </Words>
      <Button
        icon="import"
        label={file ? 'Choose another file' : 'Choose a file'}
        onPress={() => void choose()}
      />
      {read.isPending ? <Skeleton rows={3} /> : null}
      {read.isError ? (
        <View style={{ gap: space(1) }}>
          <Trouble message={messageOf(read.error)} />
          {placedFaults(read.error).map(({ line, message }) => (
            <Words key={`${line}${message}`} size="small" tone="rust">
              {line > 0 ? `Line ${line}: ${message}` : message}
            </Words>
          ))}
        </View>
      ) : null}
      {refused.length > 0 ? (
        <View style={{ gap: 2 }}>
          <Words strong tone="rust" live>
            {refused.length === 1 ? 'One row is left out' : `${refused.length} rows are left out`}
          </Words>
          {refused.slice(0, SHOWN).map(({ line, address, faults = [] }) => (
            <Words key={line} size="small">
              {`Line ${line}${address ? `, ${address}` : ''}: ${faults.map(({ field, message }) => `${field} ${message}`).join('; ')}`}
            </Words>
          ))}
        </View>
      ) : null}
      {right > 0 ? (
        <View style={{ gap: 2 }}>
          <Words strong live>
            {right === 1 ? 'One phone is right' : `${right} phones are right`}
          </Words>
          {rows
            .filter(({ action }) => action !== 'refuse')
            .slice(0, SHOWN)
            .map(({ line, address, whose, model, action, replaces }) => (
              <Words key={line} size="small">
                <Words size="small" mono>{`${address} `}</Words>
                {`${whose}, ${model ?? ''}, ${ACTIONS[action as 'add']}${replaces === undefined ? '' : `, in the place of ${replaces}`}`}
              </Words>
            ))}
          {right > SHOWN ? <Words size="small" tone="soft">{`and ${right - SHOWN} more`}</Words> : null}
        </View>
      ) : null}
      <Refused error={take.error} />
    </Sheet>
  );
}

/** One phone, by hand. */
export function OneSheet({
  address: given,
  onClose,
}: {
  readonly address: string;
  readonly onClose: () => void;
}) {
  const add = useAddPhone();
  const [address, setAddress] = useState(given);
  const [model, setModel] = useState(MODELS[0]!.id);
  const [person, setPerson] = useState('');
  const [name, setName] = useState('');
  return (
    <Sheet
      title="One phone"
      open
      onClose={onClose}
      action={{
        label: 'Take it',
        disabled: address.trim() === '' || person.trim() === '',
        busy: add.isPending,
        onPress: () =>
          add.mutate({ address, model, person, ...(name.trim() ? { name } : {}) }, { onSuccess: onClose }),
      }}
    >
      <Field
        label="MAC address, from the label below it"
        mono
        value={address}
        onChange={setAddress}
        error={faultOf(add.error, 'address')}
      />
      <ModelChoice value={model} onChange={setModel} />
      <Field
        label="For whom: extension, name or shared desk"
        value={person}
        onChange={setPerson}
        error={faultOf(add.error, 'person')}
      />
      <Field label="Name of the phone, if it is to have one" value={name} onChange={setName} />
      {add.isError && !['address', 'person'].some((field) => faultOf(add.error, field)) ? (
        <Refused error={add.error} />
      ) : null}
    </Sheet>
  );
}
