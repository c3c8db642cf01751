import type { ProvisioningPage } from '../../api/provisioning';
import { useState } from 'react';
import { View } from 'react-native';
import { DateTime } from 'luxon';
import { CREDENTIAL_NAMES, CREDENTIALS } from '../../core/devices/provisioning';
import { faultOf } from '../data/api';
import {
  useAddAuthority,
  useRemoveAuthority,
  useSetPolicy,
  type ProvisioningPolicy,
} from '../data/provisioning';
import { space } from '../kit/theme';
import { Button, Choice, Field, IconButton, Refused } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';

const HELP: Record<ProvisioningPolicy['credential'], string> = {
  code: 'A code for each phone, made here and used up when the phone has its settings.',
  pin: 'The person types the PIN that they have for the phone system.',
  certificate: 'The phone shows the certificate that its maker put in, over TLS: nobody types anything.',
};
const CHOICES = {
  tries: [3, 5, 10],
  lockMinutes: [5, 15, 60],
  codeHours: [24, 72, 168],
} as const;

/** How phones prove who they are for, and how often they may be wrong. */
export function PolicySheet({
  page,
  onClose,
}: {
  readonly page: ProvisioningPage;
  readonly onClose: () => void;
}) {
  const [policy, setPolicy] = useState(page.policy);
  const set = useSetPolicy();
  const choose = <K extends keyof typeof CHOICES>(label: string, key: K, say: (value: number) => string) => (
    <Choice
      label={label}
      titled
      value={String(policy[key])}
      options={[...new Set<number>([...CHOICES[key], policy[key]])].map((value) => ({
        value: String(value),
        label: say(value),
      }))}
      onChange={(value) => setPolicy({ ...policy, [key]: Number(value) })}
    />
  );
  return (
    <Sheet
      title="How phones prove who they are for"
      open
      onClose={onClose}
      action={{
        label: 'Put live',
        busy: set.isPending,
        disabled: JSON.stringify(policy) === JSON.stringify(page.policy),
        onPress: () => set.mutate(policy, { onSuccess: onClose }),
      }}
    >
      <Choice
        label="By"
        value={policy.credential}
        options={CREDENTIALS.map((value) => ({ value, label: CREDENTIAL_NAMES[value] }))}
        onChange={(credential) => setPolicy({ ...policy, credential })}
      />
      <Words>{HELP[policy.credential]}</Words>
      {policy.credential === 'certificate' ? (
        <Makers page={page} />
      ) : (
        <>
          {choose('Wrong tries before it is locked', 'tries', String)}
          {choose('Locked for', 'lockMinutes', (value) => (value === 60 ? 'an hour' : `${value} minutes`))}
          {policy.credential === 'code'
            ? choose(
                'A code is good for',
                'codeHours',
                (value) => `${value / 24} ${value === 24 ? 'day' : 'days'}`,
              )
            : null}
        </>
      )}
      <Refused error={set.error} />
    </Sheet>
  );
}

/** The makers whose certificates are believed. */
function Makers({ page: { authorities, tlsPort } }: { readonly page: ProvisioningPage }) {
  const add = useAddAuthority();
  const remove = useRemoveAuthority();
  const [name, setName] = useState('');
  const [certificate, setCertificate] = useState('');
  return (
    <View style={{ gap: space(2) }}>
      <Words>
        {tlsPort === null
          ? 'The service does not listen over TLS.'
          : `The service listens over TLS at port ${tlsPort}.`}
      </Words>
      <Words strong>Trusted certificate authorities</Words>
      {authorities.length === 0 ? (
        <Words tone="soft">
          None yet. That of the stand-ins is made when the first of them is plugged in.
        </Words>
      ) : null}
      {authorities.map(({ id, name: maker, fingerprint, until, isOurs }) => (
        <View key={id} style={{ flexDirection: 'row', alignItems: 'center', gap: space(2) }}>
          <View style={{ flex: 1 }}>
            <Words>{maker}</Words>
            <Words size="small" tone="soft" mono>{`${fingerprint.slice(0, 23)}…`}</Words>
            <Words size="small" tone="soft">
              {`good until ${DateTime.fromISO(until).setLocale('en').toFormat('d LLLL yyyy')}`}
            </Words>
          </View>
          {isOurs ? null : (
            <IconButton icon="close" label={`Remove ${maker}`} onPress={() => remove.mutate(id)} />
          )}
        </View>
      ))}
      <Field label="Another CA" value={name} onChange={setName} error={faultOf(add.error, 'name')} />
      <Field
        label="Its certificate, in PEM"
        mono
        multiline
        value={certificate}
        onChange={setCertificate}
        error={faultOf(add.error, 'certificate')}
      />
      <View style={{ flexDirection: 'row' }}>
        <Button
          label="Trust this CA"
          disabled={name.trim() === '' || certificate.trim() === ''}
          busy={add.isPending}
          onPress={() =>
            add.mutate(
              { name: name.trim(), certificate: certificate.trim() },
              {
                onSuccess: () => {
                  setName('');
                  setCertificate('');
                },
              },
            )
          }
        />
      </View>
      <Refused error={remove.error} />
    </View>
  );
}
