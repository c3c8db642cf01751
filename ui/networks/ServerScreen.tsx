import type { ObjectPage } from '../../api/objects';
import { useRouter } from 'expo-router';
import { View } from 'react-native';
import { INTERNET, type ServerFile } from '../../core/estate';
import { wholeServer } from '../../core/network';
import { messageOf } from '../data/api';
import { useNetworks } from '../data/networks';
import { useObject, useObjectWork } from '../data/objects';
import { useCanEdit } from '../data/session';
import { ObjectBar } from '../edit/ObjectBar';
import { RemovePart } from '../edit/RemovePart';
import { PageFrame } from '../kit/PageFrame';
import { Choice, Field, Section, Skeleton, Tick, Trouble } from '../kit/parts';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';
import { CheckedField, readAddress, readOwnAddress, readPort, showNumber } from './CheckedField';
import { SERVER_WORDS } from './words';
import { fieldLabel } from '../kit/fieldLabel';

/** One server of the organisation, as packets find it. */
export function ServerScreen({ id }: { readonly id: string }) {
  const page = useObject<ServerFile>('server', id);
  if (page.isError) return <Trouble message={messageOf(page.error)} retry={() => void page.refetch()} />;
  if (page.isPending) return <Skeleton />;
  return <ServerView key={id} page={page.data} />;
}

function ServerView({ page }: { readonly page: ObjectPage<ServerFile> }) {
  const router = useRouter();
  const canEdit = useCanEdit();
  const networks = useNetworks();
  const work = useObjectWork('server', page);
  const server = work.object;
  const set = (part: Partial<ServerFile>) => work.edit((before) => ({ ...before, ...part }));
  const { kind } = server;
  const whole = wholeServer(server);
  const answersSip = kind === 'system' || kind === 'border-controller';
  const places = (networks.data?.sites ?? []).flatMap((site) =>
    (site.network?.boxes ?? []).map((box) => ({
      value: `${site.id}/${box.id}`,
      label: `${site.name}, behind ${box.name}`,
    })),
  );
  return (
    <PageFrame
      title={server.name}
      text={server.name === SERVER_WORDS[kind] ? 'Server of the organisation' : SERVER_WORDS[kind]}
      back={{ path: '/networks', label: 'Networks' }}
      bar={<ObjectBar work={work} />}
    >
      {canEdit ? (
        <Section title="Where it stands">
          <Field
            label={fieldLabel('server', 'name')}
            value={server.name}
            onChange={(name) => name.trim() && set({ name })}
          />
          <Choice
            label="It stands in"
            titled
            value={server.in}
            options={[{ value: INTERNET, label: 'The internet' }, ...places]}
            onChange={(at) => set({ in: at })}
          />
          <CheckedField
            label="Address"
            value={server.address}
            show={String}
            read={readAddress}
            onChange={(address) => set({ address })}
          />
          <CheckedField
            label="Public address"
            value={server.public}
            show={(address) => address ?? ''}
            read={readOwnAddress}
            onChange={(address) =>
              work.edit(({ public: _before, ...rest }) =>
                address === undefined ? rest : { ...rest, public: address },
              )
            }
            hint="By which those outside know it; leave it empty where that is its address"
          />
          <View style={{ flexDirection: 'row', gap: space(2) }}>
            <View style={{ flex: 1 }}>
              <CheckedField
                label={fieldLabel('server', 'port')}
                value={whole.port}
                show={showNumber}
                read={readPort}
                onChange={(port) => set({ port })}
              />
            </View>
            {kind === 'stun' || kind === 'vpn' ? null : (
              <View style={{ flex: 1 }}>
                <CheckedField
                  label={fieldLabel('server', 'tlsPort')}
                  value={whole.tlsPort}
                  show={showNumber}
                  read={readPort}
                  onChange={(tlsPort) => set({ tlsPort })}
                />
              </View>
            )}
            {answersSip ? (
              <View style={{ flex: 1 }}>
                <CheckedField
                  label={fieldLabel('server', 'mediaPort')}
                  value={whole.mediaPort}
                  show={showNumber}
                  read={readPort}
                  onChange={(mediaPort) => set({ mediaPort })}
                />
              </View>
            ) : null}
          </View>
          <Tick
            label="Knows its public address, and writes it in what it sends"
            on={whole.knowsPublic}
            onPress={() => set({ knowsPublic: !whole.knowsPublic })}
          />
          {answersSip ? (
            <>
              <Tick label="Takes part in ICE" on={whole.ice} onPress={() => set({ ice: !whole.ice })} />
              <Tick
                label="Answers to where a message came from"
                on={whole.answersToSource}
                onPress={() => set({ answersToSource: !whole.answersToSource })}
              />
              <Tick
                label="Keeps where a registration came from as the contact"
                on={whole.contactFromSource}
                onPress={() => set({ contactFromSource: !whole.contactFromSource })}
              />
              <Tick
                label="Sends sound to where the phone’s sound comes from"
                on={whole.latches}
                onPress={() => set({ latches: !whole.latches })}
              />
            </>
          ) : null}
          <RemovePart
            kind="server"
            id={page.object.id}
            name={page.object.name}
            label="Remove this server"
            onRemoved={() => router.navigate('/networks')}
          />
        </Section>
      ) : (
        <Section title="Where it stands">
          <Words>{server.public ?? server.address}</Words>
        </Section>
      )}
    </PageFrame>
  );
}
