import type { ProvisioningPage, ProvisionedRow } from '../../api/provisioning';
import { useMemo, useState } from 'react';
import { View } from 'react-native';
import { CREDENTIAL_NAMES } from '../../core/devices/provisioning';
import { showHardwareAddress } from '../../core/devices/phones';
import { messageOf } from '../data/api';
import { useGiveCodes, usePush, useProvisioning } from '../data/provisioning';
import { useCanEdit } from '../data/session';
import { space, useIsWide, usePalette } from '../kit/theme';
import { PageFrame } from '../kit/PageFrame';
import { Button, Choice, Empty, Refused, Section, Skeleton, Trouble } from '../kit/parts';
import { SearchField } from '../kit/SearchField';
import { ListSheet, OneSheet } from './AddPhones';
import { CodesSheet } from './CodesSheet';
import { FirmwarePart } from './FirmwarePart';
import { PolicySheet } from './PolicySheet';
import { PhoneRow } from './PhoneRow';
import { isStuck, isWaiting } from './words';
import { Words } from '../kit/Words';

export function ProvisioningScreen() {
  const page = useProvisioning();
  if (page.isError) return <Trouble message={messageOf(page.error)} retry={() => void page.refetch()} />;
  if (page.isPending) return <Skeleton />;
  return <ProvisioningView page={page.data} />;
}

const FILTERS = ['all', 'waiting', 'stuck', 'under-way', 'registered'] as const;
type Filter = (typeof FILTERS)[number];
const FILTER_WORDS: Record<Filter, string> = {
  all: 'All',
  waiting: 'Waiting',
  stuck: 'Stuck',
  'under-way': 'Under way',
  registered: 'Registered',
};
const kindOf = (row: ProvisionedRow): Filter =>
  isStuck(row)
    ? 'stuck'
    : isWaiting(row)
      ? 'waiting'
      : row.state === 'registered'
        ? 'registered'
        : 'under-way';

/** How many have come how far, as one bar. */
function ProgressBar({
  counts,
  total,
}: {
  readonly counts: ReadonlyMap<Filter, number>;
  readonly total: number;
}) {
  const palette = usePalette();
  const part = (kind: Filter, color: string) => (
    <View style={{ flexGrow: counts.get(kind) ?? 0, backgroundColor: color }} />
  );
  const done = counts.get('registered') ?? 0;
  return (
    <View
      role="progressbar"
      aria-valuemin={0}
      aria-valuemax={total}
      aria-valuenow={done}
      aria-label="Phones registered"
      style={{ height: 10, flexDirection: 'row', borderWidth: 1, borderColor: palette.line, borderRadius: 2 }}
    >
      {part('registered', palette.kelp)}
      {part('under-way', palette.rings)}
      {part('stuck', palette.rust)}
      {part('waiting', 'transparent')}
    </View>
  );
}

/** Provisioning: who may, how far each has come, and what keeps it. */
function ProvisioningView({ page }: { readonly page: ProvisioningPage }) {
  const wide = useIsWide();
  const canEdit = useCanEdit();
  const [query, setQuery] = useState('');
  const [filter, setFilter] = useState<Filter>('all');
  const [sheet, setSheet] = useState<'list' | 'one' | 'policy' | null>(null);
  const [stranger, setStranger] = useState('');
  const codes = useGiveCodes();
  const push = usePush();
  const { phones, policy, strangers } = page;
  const counts = useMemo(() => {
    const all = new Map<Filter, number>([['all', phones.length]]);
    for (const row of phones) all.set(kindOf(row), (all.get(kindOf(row)) ?? 0) + 1);
    return all;
  }, [phones]);
  const wanted = query.trim().toLowerCase();
  const shown = phones.filter(
    (row) =>
      (filter === 'all' || kindOf(row) === filter) &&
      `${row.name} ${row.person?.name ?? ''} ${row.desk?.name ?? ''} ${row.modelName} ${row.address} ${showHardwareAddress(row.address)}`
        .toLowerCase()
        .includes(wanted),
  );
  const codeless = phones.filter(
    (row) => row.state !== 'registered' && row.fetchedAt === null && !row.hasCode,
  );
  const behind = phones.filter(({ isBehind }) => isBehind);
  const close = () => {
    setSheet(null);
    setStranger('');
  };
  const list = (
    <View>
      <Section style={{ gap: space(3) }}>
        <View style={{ flexDirection: 'row', alignItems: 'center', gap: space(2) }}>
          <Words style={{ flex: 1 }}>
            <Words tone="soft">They prove themselves by: </Words>
            {CREDENTIAL_NAMES[policy.credential]}
          </Words>
          {canEdit ? <Button kind="quiet" label="Change" onPress={() => setSheet('policy')} /> : null}
        </View>
        {phones.length > 0 ? (
          <>
            <Words strong live>
              {`${counts.get('registered') ?? 0} of ${phones.length} registered`}
            </Words>
            <ProgressBar counts={counts} total={phones.length} />
          </>
        ) : null}
        {canEdit ? (
          <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
            {policy.credential === 'code' && codeless.length > 0 ? (
              <Button
                kind="main"
                label={
                  codeless.length === 1
                    ? 'Give a code to the one without'
                    : `Give codes to the ${codeless.length} without`
                }
                busy={codes.isPending}
                onPress={() => codes.mutate(codeless.map(({ address }) => address))}
              />
            ) : null}
            <Button icon="import" label="Add from a list" onPress={() => setSheet('list')} />
            <Button icon="add" label="Add one" onPress={() => setSheet('one')} />
          </View>
        ) : null}
        <Refused error={codes.error} />
        {behind.length > 0 ? (
          <View style={{ gap: space(1), alignItems: 'flex-start' }}>
            <Words tone="ochre" strong>
              {behind.length === 1
                ? `${behind[0]!.name} has older settings than the live ones.`
                : `${behind.length} phones have older settings than the live ones.`}
            </Words>
            {canEdit ? (
              <Button
                label={behind.length === 1 ? 'Push them to it' : 'Push them to all'}
                busy={push.isPending}
                onPress={() => push.mutate(behind.map(({ device }) => device))}
              />
            ) : null}
          </View>
        ) : null}
        <Refused error={push.error} />
        {push.data && push.data.absent > 0 ? (
          <Words
            tone="soft"
            live
          >{`${push.data.absent} not registered now: they are told when they ask again.`}</Words>
        ) : null}
        {phones.length > 0 ? (
          <>
            <SearchField
              label="Search these phones"
              placeholder="Name, model or MAC address"
              value={query}
              onChange={setQuery}
            />
            <Choice
              label="Show"
              value={filter}
              options={FILTERS.map((value) => ({
                value,
                label: `${FILTER_WORDS[value]} ${counts.get(value) ?? 0}`,
              }))}
              onChange={setFilter}
            />
          </>
        ) : null}
      </Section>
      {phones.length === 0 ? (
        <Empty
          title="No phone is in provisioning yet"
          text="Add phones by a list of MAC addresses, models and people. Each then asks for its settings when it is plugged in."
        />
      ) : shown.length === 0 ? (
        <Empty title="No phone fits" text="Clear the search or show all of them." />
      ) : (
        <View role="list">
          {shown.map((row) => (
            <PhoneRow
              key={row.address}
              row={row}
              canEdit={canEdit}
              onCode={(address) => codes.mutate([address])}
            />
          ))}
        </View>
      )}
    </View>
  );
  const beside = (
    <View>
      {strangers.length > 0 ? (
        <Section title="Asked, and on no list">
          {strangers.map(({ address, from }) => (
            <View key={address} style={{ flexDirection: 'row', alignItems: 'center', gap: space(2) }}>
              <View style={{ flex: 1 }}>
                <Words mono>{showHardwareAddress(address)}</Words>
                <Words size="small" tone="soft">{`from ${from}`}</Words>
              </View>
              {canEdit ? (
                <Button
                  kind="quiet"
                  label="Add it"
                  onPress={() => {
                    setStranger(showHardwareAddress(address));
                    setSheet('one');
                  }}
                />
              ) : null}
            </View>
          ))}
        </Section>
      ) : null}
      <FirmwarePart page={page} canEdit={canEdit} />
    </View>
  );
  return (
    <PageFrame
      title="Provisioning"
      term="provisioning"
      text="Plugged in, they ask for their settings, prove who they are for, and register."
      back={null}
    >
      {wide ? (
        <View style={{ flexDirection: 'row', alignItems: 'flex-start' }}>
          <View style={{ flex: 3 }}>{list}</View>
          <View style={{ flex: 2 }}>{beside}</View>
        </View>
      ) : (
        <>
          {list}
          {beside}
        </>
      )}
      {sheet === 'list' ? <ListSheet onClose={close} /> : null}
      {sheet === 'one' ? <OneSheet address={stranger} onClose={close} /> : null}
      {sheet === 'policy' ? <PolicySheet page={page} onClose={close} /> : null}
      {codes.data ? (
        <CodesSheet codes={codes.data.codes} until={codes.data.until} onClose={() => codes.reset()} />
      ) : null}
    </PageFrame>
  );
}
