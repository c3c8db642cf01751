import { useMemo, useState } from 'react';
import { useRouter } from 'expo-router';
import { View } from 'react-native';
import type { NetworksPage } from '../../api/networks';
import { INTERNET, SERVER_KINDS, type ServerFile, type ServerKind } from '../../core/estate';
import { networkOf, siteAnswers } from '../../core/network';
import { messageOf } from '../data/api';
import { useNetworks } from '../data/networks';
import { useAddObject } from '../data/objects';
import { useCanEdit } from '../data/session';
import { PageFrame } from '../kit/PageFrame';
import { Button, Empty, LinkRow, LinkRows, Refused, Section, Skeleton, Trouble } from '../kit/parts';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';
import { SERVER_WORDS } from './words';

/** What stands at the beginning: addresses that are nobody's (RFC 5737). */
const USUAL: Record<ServerKind, ServerFile> = {
  system: { id: 'system', name: 'Phone system', kind: 'system', in: INTERNET, address: '198.51.100.10' },
  'border-controller': {
    id: 'border-controller',
    name: 'Border controller',
    kind: 'border-controller',
    in: INTERNET,
    address: '198.51.100.40',
  },
  stun: { id: 'stun', name: 'STUN server', kind: 'stun', in: INTERNET, address: '198.51.100.20' },
  turn: { id: 'turn', name: 'TURN server', kind: 'turn', in: INTERNET, address: '198.51.100.30' },
  vpn: { id: 'vpn', name: 'VPN server', kind: 'vpn', in: INTERNET, address: '198.51.100.31' },
};

/** How many phones of a site do not work, and the first thing that is wrong. */
function stateOf(
  page: NetworksPage,
  site: string,
): { readonly text: string; readonly isWell: boolean | null } {
  const of = networkOf(page, site);
  if (of === 'no-servers') return { text: 'No phone system is described yet', isWell: null };
  if (of === 'address-twice')
    return { text: 'Its router has the outside address of another one', isWell: false };
  if (typeof of === 'string') return { text: 'Its network is not described yet', isWell: null };
  if (of.phones.length === 0) return { text: 'No phone stands here', isWell: null };
  const wrong = siteAnswers(of).flatMap(({ phone, answers }) => {
    const first = answers.find(({ works, verdict }) => !works && verdict);
    return first ? [`${phone.name}: ${first.says}`] : [];
  });
  const many = of.phones.length === 1 ? '1 phone' : `${of.phones.length} phones`;
  const [first] = wrong;
  return first === undefined
    ? { text: `${many}, all well`, isWell: true }
    : { text: `${wrong.length} of ${many} not well. ${first}`, isWell: false };
}

/** All sites with what comes of their networks, and the servers of the organisation. */
export function NetworksScreen() {
  const networks = useNetworks();
  if (networks.isError)
    return <Trouble message={messageOf(networks.error)} retry={() => void networks.refetch()} />;
  if (networks.isPending) return <Skeleton />;
  return <NetworksView page={networks.data} />;
}

function NetworksView({ page }: { readonly page: NetworksPage }) {
  const canEdit = useCanEdit();
  const sites = useMemo(() => page.sites.map((site) => ({ ...site, ...stateOf(page, site.id) })), [page]);
  return (
    <PageFrame
      title="Networks"
      text="Why a phone away from the office is deaf, mute or dead: from packets"
      back={null}
    >
      <Section title="Sites">
        {page.sites.length === 0 ? (
          <Empty title="There is no site yet" text="Add the places where phones stand under Sites." />
        ) : (
          <LinkRows>
            {sites.map(({ id, name, text, isWell }) => {
              return (
                <LinkRow
                  key={id}
                  title={name}
                  text={text}
                  href={`/networks/${encodeURIComponent(id)}`}
                  {...(isWell === null
                    ? {}
                    : {
                        mark: (
                          <Words size="small" strong tone={isWell ? 'kelp' : 'rust'}>
                            {isWell ? 'Well' : 'Not well'}
                          </Words>
                        ),
                      })}
                />
              );
            })}
          </LinkRows>
        )}
      </Section>
      <Section title="Servers of the organisation">
        {page.servers.length === 0 ? (
          <Words tone="soft">
            Nothing is computed until the phone system is here. A server begins with an example address; write
            yours on its page.
          </Words>
        ) : (
          <LinkRows>
            {page.servers.map((server) => (
              <LinkRow
                key={server.id}
                title={server.name}
                text={[
                  ...(server.name === SERVER_WORDS[server.kind] ? [] : [SERVER_WORDS[server.kind]]),
                  server.public ?? server.address,
                ].join(', ')}
                href={`/networks/servers/${encodeURIComponent(server.id)}`}
              />
            ))}
          </LinkRows>
        )}
        {canEdit ? <AddServer page={page} /> : null}
      </Section>
    </PageFrame>
  );
}

function AddServer({ page }: { readonly page: NetworksPage }) {
  const router = useRouter();
  const add = useAddObject('server');
  const [choosing, setChoosing] = useState(false);
  const missing = SERVER_KINDS.filter((kind) => !page.servers.some((server) => server.kind === kind));
  if (missing.length === 0) return null;
  return (
    <View style={{ gap: space(2) }}>
      {choosing ? (
        <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
          {missing.map((kind) => (
            <Button
              key={kind}
              label={SERVER_WORDS[kind]}
              disabled={add.isPending}
              onPress={() =>
                add.mutate(USUAL[kind], {
                  onSuccess: () => router.navigate(`/networks/servers/${USUAL[kind].id}`),
                })
              }
            />
          ))}
        </View>
      ) : (
        <View style={{ flexDirection: 'row' }}>
          <Button kind="quiet" icon="add" label="Add a server" onPress={() => setChoosing(true)} />
        </View>
      )}
      <Refused error={add.error} />
    </View>
  );
}
