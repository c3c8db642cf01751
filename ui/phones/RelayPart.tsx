import { useState } from 'react';
import { View } from 'react-native';
import { useQuery, type UseQueryResult } from '@tanstack/react-query';
import type { RelayPage } from '../../api/networks';
import type { Device, Site } from '../../core/estate';
import { drillOf } from '../../core/calls/drills';
import { movedBack, movedOver, relaySteps, type RelayLoss } from '../../core/devices/relay';
import { api, messageOf } from '../data/api';
import { keepDrill } from '../data/findings';
import { ToSlate } from '../edit/ToSlate';
import { Button, LinkRow, LinkRows, Section } from '../kit/parts';
import { Marks } from '../kit/Marks';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';

const entryOf = ({ before, after }: { readonly before: Device; readonly after: Device }) => ({
  kind: 'device' as const,
  id: before.id,
  name: before.name,
  base: before,
  after,
});

/** What becomes of calls when the relay stops, and drills of it. */
function WhenItStops({
  site,
  canEdit,
  page,
}: {
  readonly site: Site;
  readonly canEdit: boolean;
  readonly page: UseQueryResult<RelayPage>;
}) {
  const [kept, setKept] = useState<string | null>(null);
  const losses = page.data?.losses ?? [];
  const keep = async () => {
    try {
      for (const { person, call, outcome } of losses)
        await keepDrill(
          drillOf(
            {
              id: `relay-${site.id}-${person.id}`,
              name: `${person.name} when the relay of ${site.name} stops`,
              standsFor: { person: person.id },
            },
            call,
            outcome,
            null,
            null,
          ),
        );
      setKept(
        `${losses.length === 1 ? 'One drill is' : `${losses.length} drills are`} kept: it is seen when this changes.`,
      );
    } catch (error) {
      setKept(messageOf(error));
    }
  };
  return (
    <View style={{ gap: space(2) }}>
      <Words strong>When it stops</Words>
      {page.isError ? <Words tone="rust">{messageOf(page.error)}</Words> : null}
      {page.data && losses.length === 0 ? (
        <Words tone="soft">Nobody’s phone hangs on it yet, as it is live.</Words>
      ) : null}
      <View role="list" style={{ gap: space(2) }}>
        {losses.map((each: RelayLoss) => (
          <View key={each.person.id} role="listitem">
            <Words strong tone={each.isSilent ? 'rust' : 'ink'}>
              {each.person.name}
            </Words>
            <Words size="small">{`Instead of “${each.before}”: “${each.after}”`}</Words>
          </View>
        ))}
      </View>
      {canEdit && losses.length > 0 ? (
        <View style={{ flexDirection: 'row' }}>
          <Button label="Keep it as drills" disabled={kept !== null} onPress={() => void keep()} />
        </View>
      ) : null}
      {kept ? <Words live>{kept}</Words> : null}
    </View>
  );
}

/** A branch relay from its choice to its test call, and the way back. */
export function RelayPart({
  site,
  devices,
  isChanged,
  canEdit,
}: {
  readonly site: Site;
  readonly devices: readonly Device[];
  /** Whether the site has changes that are not live yet. */
  readonly isChanged: boolean;
  readonly canEdit: boolean;
}) {
  const path = `/api/sites/${encodeURIComponent(site.id)}/relay`;
  const page = useQuery({
    queryKey: [path],
    queryFn: () => api<RelayPage>('GET', path),
    enabled: site.relay !== undefined,
  });
  const tester = page.data?.losses[0]?.person;
  const steps = relaySteps({ devices }, site);
  if (steps.length === 0) return null;
  const over = movedOver({ devices }, site);
  const back = movedBack({ devices }, site);
  const relay = devices.find(({ id }) => id === site.relay?.device);
  return (
    <Section title="The branch relay, step by step">
      <Marks items={steps} />
      {canEdit ? (
        <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
          {over.length > 0 ? (
            <ToSlate
              kind="plain"
              label={`Move ${over.length === 1 ? '1 phone' : `${over.length} phones`} over`}
              entries={() => over.map(entryOf)}
              disabled={isChanged}
            />
          ) : null}
          {back.length > 0 ? (
            <ToSlate
              kind="quiet"
              label={`Move ${back.length === 1 ? '1 phone' : `${back.length} phones`} back`}
              entries={() => back.map(entryOf)}
              disabled={isChanged}
            />
          ) : null}
        </View>
      ) : null}
      {isChanged ? (
        <Words size="small" tone="soft">
          Put the changes of the site live first; then phones can be moved.
        </Words>
      ) : null}
      <LinkRows>
        {relay ? (
          <LinkRow
            title={`Firmware and settings of ${relay.name}`}
            text="Loaded, verified and restarted on its page"
            href={`/devices/${encodeURIComponent(relay.id)}`}
          />
        ) : null}
        {tester ? (
          <LinkRow
            title={`A test call to ${tester.name}`}
            text="Place it live and listen both ways"
            href={`/people/${encodeURIComponent(tester.id)}/try`}
          />
        ) : null}
      </LinkRows>
      <WhenItStops site={site} canEdit={canEdit} page={page} />
    </Section>
  );
}
