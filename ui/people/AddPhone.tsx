import type { AddedPhone, PersonPage } from '../../api/people';
import { useState } from 'react';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import { useMutation } from '@tanstack/react-query';
import { readNumber } from '../../core/calls/dialling';
import { readHardwareAddress } from '../../core/devices/phones';
import { addPhone, type TreatmentAt } from '../../core/editing';
import { ENDPOINT_KINDS, isNumberKind, type EndpointKind, type Person } from '../../core/estate';
import { api, besideNoField, faultOf } from '../data/api';
import { personKey, queryClient } from '../data/data';
import { Choice, Field, Refused, Tick } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';
import { useNamed } from '../edit/Search';
import { typedSip } from '../edit/typedSip';
import { ModelChoice } from '../phones/ModelChoice';
import { KIND_WORDS } from '../phones/words';
import { ReadBack } from '../plan/ReadBack';
import { space } from '../kit/theme';

/** What a phone is called unless somebody calls it otherwise. */
const LABELS: Record<EndpointKind, string> = {
  desk: 'Desk phone',
  'desktop-app': 'Softphone on the computer',
  'mobile-app': 'Softphone on the mobile',
  'remote-desk': 'Desk phone at home',
  'hot-desk': 'Shared desk',
  mobile: 'Mobile',
  landline: 'Landline',
  sip: 'SIP address',
};
const isTelephone = (kind: EndpointKind) => kind === 'desk' || kind === 'remote-desk' || kind === 'hot-desk';
const isSoftphone = (kind: EndpointKind) => kind === 'desktop-app' || kind === 'mobile-app';
const NO_MODEL = 'later';
const NO_SITE = 'none';

/** What happens with the phone once it is added, in one sentence. */
function afterwards(kind: EndpointKind): string {
  if (isNumberKind(kind))
    return 'It rings with an answer guard of 2.3 s against a voicemail that answers at once, and stops ringing after 22 s, before a usual carrier’s voicemail answers.';
  if (isSoftphone(kind))
    return 'It gets its account within seconds. Next you see the hand-over sheet: the steps for the person, and the code that the app reads.';
  if (kind === 'sip') return 'Calls go to this address as they are; nothing of ours registers there.';
  return 'It gets its account within seconds. With its model you come to the telephone itself, where provisioning goes on.';
}

/**
 * A phone of any kind for somebody: mobiles, landlines and SIP addresses become an edit of the person, not live yet;
 * a softphone or desk phone gets its account, and the telephone that it is, in one go.
 */
export function AddPhone({
  page,
  person,
  treatment,
  isEdited,
  onEdit,
  onClose,
}: {
  readonly page: PersonPage;
  readonly person: Person;
  readonly treatment: TreatmentAt;
  /** Whether there are edits of the person that are not live yet. */
  readonly isEdited: boolean;
  readonly onEdit: (change: (person: Person) => Person) => void;
  readonly onClose: () => void;
}) {
  const router = useRouter();
  const [kind, setKind] = useState<EndpointKind>('mobile');
  const [label, setLabel] = useState<string | null>(null);
  const [number, setNumber] = useState('');
  const [uri, setUri] = useState('');
  const [rings, setRings] = useState(true);
  const [model, setModel] = useState(NO_MODEL);
  const [mac, setMac] = useState('');
  const [site, setSite] = useState(NO_SITE);
  const sites = useNamed('site');
  const add = useMutation({
    mutationFn: (body: object) => api<AddedPhone>('POST', `${personKey(person.id)}/phones`, body),
    onSuccess: async ({ endpoint, device }) => {
      await queryClient.invalidateQueries();
      onClose();
      if (device) router.navigate(`/devices/${encodeURIComponent(device)}`);
      else if (isSoftphone(kind)) router.navigate(`/phones/${encodeURIComponent(endpoint)}`);
    },
  });
  const isPublic = isNumberKind(kind);
  const isAtOnce = !isPublic && kind !== 'sip';
  const name = (label ?? LABELS[kind]).trim();
  const read = number.trim() === '' ? null : readNumber(number, page.slice.dialling);
  const sip = typedSip(uri);
  const wrongMac = mac.trim() !== '' && readHardwareAddress(mac) === null;
  const withModel = isTelephone(kind) && model !== NO_MODEL;
  const missing =
    name === '' ||
    (isPublic && !read?.ok) ||
    (kind === 'sip' && sip.uri === null) ||
    (withModel && wrongMac) ||
    (isAtOnce && isEdited);
  const at = rings ? treatment : null;
  const send = () => {
    if (missing || add.isPending) return;
    if (isAtOnce) {
      add.mutate({
        kind,
        label: name,
        ...(at === null ? {} : { rings: at }),
        ...(withModel
          ? { model, ...(mac.trim() ? { mac } : {}), ...(site === NO_SITE ? {} : { site }) }
          : {}),
      });
      return;
    }
    onEdit((before) =>
      addPhone(
        before,
        {
          kind,
          label: name,
          ...(isPublic && read?.ok ? { number: read.e164 } : {}),
          ...(kind === 'sip' && sip.uri !== null ? { uri: sip.uri } : {}),
        },
        at,
      ),
    );
    onClose();
  };
  return (
    <Sheet
      title="Add phone"
      open
      onClose={onClose}
      action={{
        label: isSoftphone(kind) ? 'Add and hand over' : 'Add phone',
        disabled: missing,
        busy: add.isPending,
        onPress: send,
      }}
    >
      <Choice
        titled
        label="What it is"
        value={kind}
        options={[...ENDPOINT_KINDS]
          .sort((a, b) => ORDER.indexOf(a) - ORDER.indexOf(b))
          .map((value) => ({ value, label: KIND_WORDS[value] }))}
        onChange={setKind}
      />
      {isPublic ? (
        <View style={{ gap: space(2) }}>
          <Field
            label="Number, in any form"
            keyboard="phone-pad"
            mono
            autoFocus
            value={number}
            onChange={setNumber}
            onSubmit={send}
            error={read && !read.ok ? read.reason : null}
          />
          {read?.ok ? (
            <ReadBack
              e164={read.e164}
              holder={person}
              estate={page.slice}
              onPermission={(permission) => onEdit((before) => ({ ...before, permission }))}
            />
          ) : null}
        </View>
      ) : null}
      {kind === 'sip' ? (
        <Field
          label="SIP address"
          autoFocus
          value={uri}
          onChange={setUri}
          onSubmit={send}
          error={sip.error}
          hint={sip.shown}
        />
      ) : null}
      <Field
        label="Name of the phone"
        value={label ?? LABELS[kind]}
        onChange={setLabel}
        onSubmit={send}
        error={name === '' ? 'Give it a name, such as Mobile' : faultOf(add.error, 'label')}
      />
      {isTelephone(kind) ? (
        <View style={{ gap: space(3) }}>
          <ModelChoice
            value={model}
            onChange={setModel}
            more={[{ value: NO_MODEL, label: 'Which telephone: later' }]}
          />
          {withModel ? (
            <>
              <Field
                label="MAC address, from the label below it"
                mono
                value={mac}
                onChange={setMac}
                onSubmit={send}
                error={
                  wrongMac
                    ? 'Twelve digits from 0 to 9 and A to F, with or without separators.'
                    : faultOf(add.error, 'mac')
                }
                hint="Without it the telephone cannot be provisioned"
              />
              <Choice
                titled
                label="Site"
                value={site}
                options={[
                  { value: NO_SITE, label: 'Not known' },
                  ...(sites.data?.objects ?? []).map((each) => ({ value: each.id, label: each.name })),
                ]}
                onChange={setSite}
              />
            </>
          ) : null}
        </View>
      ) : null}
      <Tick
        label="Rings with the first step of the rule in view"
        on={rings}
        onPress={() => setRings(!rings)}
      />
      <Words tone="soft">{afterwards(kind)}</Words>
      {isAtOnce && isEdited ? (
        <Words tone="ochre" live>
          Put your other changes live first, or discard them: this phone is added at once.
        </Words>
      ) : null}
      <Refused error={besideNoField(add.error)} />
    </Sheet>
  );
}

/** What is added most often first. */
const ORDER: readonly EndpointKind[] = [
  'mobile',
  'mobile-app',
  'desktop-app',
  'desk',
  'remote-desk',
  'hot-desk',
  'landline',
  'sip',
];
