import { useState } from 'react';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import type { NewPersonPage } from '../../api/people';
import { besideNoField, faultOf, messageOf } from '../data/api';
import { useAddPerson, useNewPerson } from '../data/data';
import { PersonSearch } from '../edit/Search';
import { typedNumber } from '../edit/typedNumber';
import { Button, Choice, Field, Refused, Skeleton, Trouble } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';

/** Adds somebody: a name is enough, since the rest is proposed; what else there is to set is on their page. */
export function AddPerson({ onClose }: { readonly onClose: () => void }) {
  const page = useNewPerson();
  if (page.isError || page.isPending)
    return (
      <Sheet title="Add person" open onClose={onClose}>
        {page.isError ? (
          <Trouble message={messageOf(page.error)} retry={() => void page.refetch()} />
        ) : (
          <Skeleton rows={5} />
        )}
      </Sheet>
    );
  return <Form page={page.data} onClose={onClose} />;
}

const NONE = 'none';
const LIKE = 'like';

function Form({ page, onClose }: { readonly page: NewPersonPage; readonly onClose: () => void }) {
  const router = useRouter();
  const add = useAddPerson();
  const [name, setName] = useState('');
  const [extension, setExtension] = useState(page.extension ?? '');
  const [direct, setDirect] = useState('');
  const [mobile, setMobile] = useState('');
  const [status, setStatus] = useState(page.statuses[0]?.id ?? '');
  const [permission, setPermission] = useState(page.permissions[0]?.id ?? '');
  const [plan, setPlan] = useState(NONE);
  const [colleague, setColleague] = useState<{ id: string; name: string } | null>(null);
  const directRead = typedNumber(direct, page.dialling);
  const mobileRead = typedNumber(mobile, page.dialling);
  const digits = page.dialling.extensionDigits;
  const wrongExtension =
    extension !== '' && !new RegExp(`^\\d{${digits}}$`).test(extension) ? `${digits} digits` : null;
  const missing =
    name.trim() === '' || extension === '' || wrongExtension || directRead.error || mobileRead.error;
  const send = () => {
    if (missing || add.isPending) return;
    add.mutate(
      {
        name: name.trim(),
        extension,
        ...(direct.trim() ? { direct } : {}),
        ...(mobile.trim() ? { mobile } : {}),
        status,
        permission,
        ...(plan === LIKE
          ? colleague
            ? { colleague: colleague.id }
            : {}
          : plan === NONE
            ? {}
            : { template: plan }),
      },
      {
        onSuccess: ({ id }) => {
          onClose();
          router.navigate(`/people/${encodeURIComponent(id)}`);
        },
      },
    );
  };
  return (
    <Sheet
      title="Add person"
      open
      onClose={onClose}
      action={{ label: 'Add person', disabled: Boolean(missing), busy: add.isPending, onPress: send }}
    >
      <Field
        label="Name"
        autoFocus
        value={name}
        onChange={setName}
        onSubmit={send}
        error={faultOf(add.error, 'name')}
      />
      <Field
        label="Extension"
        mono
        keyboard="phone-pad"
        value={extension}
        onChange={setExtension}
        onSubmit={send}
        error={wrongExtension ?? faultOf(add.error, 'extension')}
        hint={
          page.extension === null
            ? 'No extension of the usual length is free'
            : extension === page.extension
              ? 'The next free one'
              : null
        }
      />
      <Field
        label="Mobile, if there is one"
        mono
        keyboard="phone-pad"
        value={mobile}
        onChange={setMobile}
        onSubmit={send}
        error={mobileRead.error ?? faultOf(add.error, 'mobile')}
        hint={mobileRead.shown}
      />
      <Field
        label="Direct number, if there is one"
        mono
        keyboard="phone-pad"
        value={direct}
        onChange={setDirect}
        onSubmit={send}
        error={directRead.error ?? faultOf(add.error, 'direct')}
        hint={directRead.shown}
      />
      <Choice
        titled
        label="Plan"
        value={plan}
        options={[
          { value: NONE, label: 'Desk phone and mobile, then voicemail' },
          ...page.templates.map(({ id, name: label }) => ({ value: id, label })),
          { value: LIKE, label: 'Like a colleague’s' },
        ]}
        onChange={setPlan}
      />
      {plan === LIKE ? (
        colleague ? (
          <View style={{ flexDirection: 'row', alignItems: 'center', gap: space(2) }}>
            <Words style={{ flex: 1 }}>{`Like ${colleague.name}’s plan`}</Words>
            <Button kind="quiet" label="Choose another" onPress={() => setColleague(null)} />
          </View>
        ) : (
          <PersonSearch label="Whose plan" onPick={(id, called) => setColleague({ id, name: called })} />
        )
      ) : null}
      <Choice
        titled
        label="Status"
        value={status}
        options={page.statuses.map((each) => ({ value: each.id, label: each.name }))}
        onChange={setStatus}
      />
      <Choice
        titled
        label="May dial by the permission"
        value={permission}
        options={page.permissions.map((each) => ({ value: each.id, label: each.name }))}
        onChange={setPermission}
      />
      <Refused error={besideNoField(add.error)} />
    </Sheet>
  );
}
