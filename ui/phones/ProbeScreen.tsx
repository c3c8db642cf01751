import { useState } from 'react';
import { View } from 'react-native';
import { DateTime } from 'luxon';
import { useMutation, useQuery } from '@tanstack/react-query';
import { api, besideNoField, faultOf, messageOf } from '../data/api';
import { queryClient } from '../data/data';
import { useCanEdit } from '../data/session';
import { ServersPart } from './ServersPart';
import { PageFrame } from '../kit/PageFrame';
import { Button, Empty, Field, Refused, Section, Skeleton, Trouble } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';
import { space, usePalette } from '../kit/theme';

interface Address {
  readonly id: number;
  readonly name: string;
  readonly host: string;
  readonly port: number;
  readonly tlsPort: number;
}
interface Range {
  readonly id: number;
  readonly name: string;
  readonly range: string;
}
interface Result {
  readonly transport: 'udp' | 'tcp' | 'tls';
  readonly port: number;
  readonly status: number | null;
  readonly reason: string;
  readonly tookMs: number | null;
  readonly allow: string | null;
  readonly certificate: {
    readonly subject: string;
    readonly issuer: string;
    readonly until: string;
    readonly trouble: string | null;
  } | null;
  readonly trouble: string | null;
}
interface Answer {
  readonly results: readonly Result[];
  readonly advised: 'udp' | 'tcp' | 'tls' | null;
}

const PROBE = '/api/probe';
const refresh = () => void queryClient.invalidateQueries({ queryKey: [PROBE] });

const TRUST: Record<string, string> = {
  DEPTH_ZERO_SELF_SIGNED_CERT: 'it signed itself, and nobody vouches for it',
  SELF_SIGNED_CERT_IN_CHAIN: 'one in its chain signed itself',
  CERT_HAS_EXPIRED: 'it has run out',
  ERR_TLS_CERT_ALTNAME_INVALID: 'it is for another name',
  UNABLE_TO_VERIFY_LEAF_SIGNATURE: 'who signed it is not known here',
};

/** What came of one transport: the answer and how fast, or why there is none. */
function ResultRow({ result, isAdvised }: { readonly result: Result; readonly isAdvised: boolean }) {
  const { transport, port, status, reason, tookMs, certificate, trouble } = result;
  return (
    <View style={{ gap: 2 }}>
      <View style={{ flexDirection: 'row', gap: space(2), flexWrap: 'wrap' }}>
        <Words mono strong style={{ width: 92 }}>
          {`${transport.toUpperCase()} ${port}`}
        </Words>
        <Words tone={trouble ? 'rust' : 'kelp'} strong>
          {trouble ? `▱ ${trouble}` : `▰ ${status} ${reason}`}
        </Words>
        {tookMs === null ? null : <Words mono tone="soft">{`${tookMs} ms`}</Words>}
        {isAdvised ? <Words tone="accent">use this one</Words> : null}
      </View>
      {certificate ? (
        <Words size="small" tone={certificate.trouble ? 'ochre' : 'soft'}>
          {`Certificate of ${certificate.subject}, signed by ${certificate.issuer}, good until ${DateTime.fromISO(certificate.until).setLocale('en').toFormat('d LLL yyyy')}${certificate.trouble ? `: ${TRUST[certificate.trouble] ?? certificate.trouble}` : ''}`}
        </Words>
      ) : null}
    </View>
  );
}

function AddressPart({ address }: { readonly address: Address }) {
  const palette = usePalette();
  const canEdit = useCanEdit();
  const ask = useMutation({ mutationFn: () => api<Answer>('POST', `${PROBE}/${address.id}`, {}) });
  const remove = useMutation({
    mutationFn: () => api('DELETE', `${PROBE}/${address.id}`),
    onSuccess: refresh,
  });
  return (
    <View style={{ gap: space(2), paddingBottom: space(3), borderBottomWidth: 1, borderColor: palette.line }}>
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: space(3) }}>
        <View style={{ flexGrow: 1, flexShrink: 1 }}>
          <Words strong>{address.name}</Words>
          <Words size="small" mono tone="soft">
            {`${address.host}, ${address.port} for UDP and TCP, ${address.tlsPort} for TLS`}
          </Words>
        </View>
        <Button
          label={ask.isPending ? 'Asking' : 'Ask it now'}
          busy={ask.isPending}
          onPress={() => ask.mutate()}
        />
        {canEdit && address.id !== 0 ? (
          <Button kind="quiet" label="Take it away" busy={remove.isPending} onPress={() => remove.mutate()} />
        ) : null}
      </View>
      <Refused error={ask.error} />
      {ask.data ? (
        <View aria-live="polite" style={{ gap: space(2) }}>
          {ask.data.results.map((result) => (
            <ResultRow
              key={result.transport}
              result={result}
              isAdvised={ask.data.advised === result.transport}
            />
          ))}
          {ask.data.advised === null ? (
            <Words>No softphone can register there: no transport gives an answer.</Words>
          ) : null}
        </View>
      ) : null}
    </View>
  );
}

function AddSheet({ onClose }: { readonly onClose: () => void }) {
  const [name, setName] = useState('');
  const [host, setHost] = useState('');
  const [port, setPort] = useState('5060');
  const [tlsPort, setTlsPort] = useState('5061');
  const add = useMutation({
    mutationFn: () =>
      api('POST', PROBE, {
        name: name.trim(),
        host: host.trim(),
        port: Number(port),
        tlsPort: Number(tlsPort),
      }),
    onSuccess: () => {
      refresh();
      onClose();
    },
  });
  return (
    <Sheet
      title="Allow an address"
      open
      onClose={onClose}
      action={{
        label: 'Allow it',
        disabled: name.trim() === '' || host.trim() === '',
        busy: add.isPending,
        onPress: () => add.mutate(),
      }}
    >
      <Words tone="soft">
        The probe asks only what stands on this list. Who put an address there is recorded.
      </Words>
      <Field label="Name" value={name} onChange={setName} error={faultOf(add.error, 'name')} />
      <Field
        label="Host name or IPv4 address"
        mono
        value={host}
        onChange={setHost}
        error={faultOf(add.error, 'host')}
      />
      <Field
        label="Port for UDP and TCP"
        mono
        keyboard="decimal-pad"
        value={port}
        onChange={setPort}
        error={faultOf(add.error, 'port')}
      />
      <Field
        label="Port for TLS"
        mono
        keyboard="decimal-pad"
        value={tlsPort}
        onChange={setTlsPort}
        error={faultOf(add.error, 'tlsPort')}
      />
      <Refused error={besideNoField(add.error)} />
    </Sheet>
  );
}

/** Ranges inside that may be asked: without one, names and addresses that lead inside are refused. */
function RangesPart({ ranges }: { readonly ranges: readonly Range[] }) {
  const canEdit = useCanEdit();
  const [adding, setAdding] = useState(false);
  const remove = useMutation({
    mutationFn: (id: number) => api('DELETE', `/api/probe-ranges/${id}`),
    onSuccess: refresh,
  });
  return (
    <Section
      title="Ranges inside that may be asked"
      aside={
        canEdit ? (
          <Button kind="quiet" icon="add" label="Allow a range" onPress={() => setAdding(true)} />
        ) : null
      }
    >
      {ranges.length === 0 ? (
        <Words tone="soft">
          None: loopback, private and link-local addresses are not asked, nor names that lead to them.
        </Words>
      ) : (
        ranges.map(({ id, name, range }) => (
          <View key={id} style={{ flexDirection: 'row', alignItems: 'center', gap: space(3) }}>
            <View style={{ flex: 1 }}>
              <Words strong>{name}</Words>
              <Words mono size="small" tone="soft">
                {range}
              </Words>
            </View>
            {canEdit ? (
              <Button
                kind="quiet"
                label="Remove range"
                busy={remove.isPending && remove.variables === id}
                onPress={() => remove.mutate(id)}
              />
            ) : null}
          </View>
        ))
      )}
      <Refused error={remove.error} />
      {adding ? <RangeSheet onClose={() => setAdding(false)} /> : null}
    </Section>
  );
}

function RangeSheet({ onClose }: { readonly onClose: () => void }) {
  const [name, setName] = useState('');
  const [range, setRange] = useState('');
  const add = useMutation({
    mutationFn: () => api('POST', '/api/probe-ranges', { name: name.trim(), range: range.trim() }),
    onSuccess: () => {
      refresh();
      onClose();
    },
  });
  return (
    <Sheet
      title="Allow a range"
      open
      onClose={onClose}
      action={{
        label: 'Allow range',
        disabled: name.trim() === '' || range.trim() === '',
        busy: add.isPending,
        onPress: () => add.mutate(),
      }}
    >
      <Words tone="soft">
        A probe from here reaches what the outside does not. Allow only where phone systems stand.
      </Words>
      <Field label="Name" value={name} onChange={setName} error={faultOf(add.error, 'name')} />
      <Field
        label="Range of addresses"
        mono
        value={range}
        onChange={setRange}
        error={faultOf(add.error, 'range')}
        hint="Such as 10.20.0.0/16, or 10.20.4.9/32 for one address"
      />
      <Refused error={besideNoField(add.error)} />
    </Sheet>
  );
}

/** Which transports of a SIP server give an answer, how fast, and whether its certificate is good. */
export function ProbeScreen() {
  const canEdit = useCanEdit();
  const [adding, setAdding] = useState(false);
  const list = useQuery({
    queryKey: [PROBE],
    queryFn: () =>
      api<{ readonly addresses: readonly Address[]; readonly ranges: readonly Range[] }>('GET', PROBE),
  });
  if (list.isError) return <Trouble message={messageOf(list.error)} retry={() => void list.refetch()} />;
  if (list.isPending) return <Skeleton />;
  return (
    <PageFrame title="Transport probe" text="Asks a SIP server, from here, over UDP, TCP and TLS" back={null}>
      <Section
        title="Addresses that may be asked"
        aside={
          canEdit ? (
            <Button kind="quiet" icon="add" label="Allow an address" onPress={() => setAdding(true)} />
          ) : null
        }
      >
        {list.data.addresses.length === 0 ? (
          <Empty title="None yet" text="A specialist allows the addresses that may be asked." />
        ) : (
          list.data.addresses.map((address) => <AddressPart key={address.id} address={address} />)
        )}
      </Section>
      <RangesPart ranges={list.data.ranges} />
      {adding ? <AddSheet onClose={() => setAdding(false)} /> : null}
      <ServersPart />
    </PageFrame>
  );
}
