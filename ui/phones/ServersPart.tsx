import { useState } from 'react';
import { View } from 'react-native';
import { useQuery } from '@tanstack/react-query';
import type { Settings, SipServer } from '../../core/estate';
import { api, faultOf } from '../data/api';
import { useCanEdit } from '../data/session';
import { space } from '../kit/theme';
import { Button, Choice, Field, Refused, Section, Tick } from '../kit/parts';
import { SETTINGS_PATH as PATH, SettingsSheetFrame, useSaveSettings } from '../edit/SettingsSheetFrame';
import { Words } from '../kit/Words';

type Where = 'inside' | 'outside';
const WORDS: Record<Where, string> = { inside: 'At work', outside: 'Elsewhere' };
const sayServer = ({ host, port, transport }: SipServer) => `${host}:${port} over ${transport.toUpperCase()}`;

/** Where softphones register, by where their people are. */
export function ServersPart() {
  const canEdit = useCanEdit();
  const [open, setOpen] = useState(false);
  const stored = useQuery({ queryKey: [PATH], queryFn: () => api<{ settings: Settings }>('GET', PATH) });
  const servers = stored.data?.settings.servers ?? {};
  return (
    <Section
      title="Where softphones register"
      aside={
        canEdit && stored.data ? (
          <Button kind="quiet" label="Change it" onPress={() => setOpen(true)} />
        ) : null
      }
    >
      {(['inside', 'outside'] as const).map((where) => {
        const server = servers[where];
        return (
          <Words key={where}>
            <Words tone="soft">{`${WORDS[where]}: `}</Words>
            {server ? sayServer(server) : 'with the stand-in phone system'}
          </Words>
        );
      })}
      {open && stored.data ? (
        <ServersSheet settings={stored.data.settings} onClose={() => setOpen(false)} />
      ) : null}
    </Section>
  );
}

function ServersSheet({ settings, onClose }: { readonly settings: Settings; readonly onClose: () => void }) {
  const [servers, setServers] = useState(settings.servers ?? {});
  const { servers: _before, ...others } = settings;
  const after: Settings = Object.keys(servers).length > 0 ? { ...others, servers } : others;
  const save = useSaveSettings(settings, after, onClose);
  const faultAt = (where: Where, field: string) => faultOf(save.error, `settings.servers.${where}.${field}`);
  const put = (where: Where, server: SipServer | null) => {
    const { [where]: _was, ...rest } = servers;
    setServers(server ? { ...rest, [where]: server } : rest);
  };
  return (
    <SettingsSheetFrame
      title="Where softphones register"
      settings={settings}
      after={after}
      save={save}
      onClose={onClose}
    >
      {(['inside', 'outside'] as const).map((where) => {
        const server = servers[where];
        return (
          <View key={where} style={{ gap: space(2) }}>
            <Tick
              label={`${WORDS[where]}, at a server of the organisation’s own`}
              on={server !== undefined}
              onPress={() => put(where, server ? null : { host: '', port: 5061, transport: 'tls' })}
            />
            {server ? (
              <>
                <Field
                  label="Its name or address"
                  mono
                  value={server.host}
                  onChange={(host) => put(where, { ...server, host: host.trim() })}
                  error={faultAt(where, 'host')}
                />
                <Field
                  label="Port"
                  mono
                  keyboard="phone-pad"
                  value={String(server.port)}
                  onChange={(text) => put(where, { ...server, port: Number(text.replace(/\D/g, '')) })}
                  error={faultAt(where, 'port')}
                />
                <Choice
                  label="How SIP is carried there"
                  value={server.transport}
                  options={(['tls', 'tcp', 'udp'] as const).map((value) => ({
                    value,
                    label: value.toUpperCase(),
                  }))}
                  onChange={(transport) => put(where, { ...server, transport })}
                />
              </>
            ) : null}
          </View>
        );
      })}
      <Refused error={save.error} />
    </SettingsSheetFrame>
  );
}
