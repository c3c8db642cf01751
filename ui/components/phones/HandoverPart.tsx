import { useState } from 'react';
import { View } from 'react-native';
import QRCode from 'react-native-qrcode-svg';
import { accountUri, handoverSteps, handoverText, type AccountValues } from '../../../core/phones';
import { saveFile } from '../../hooks/files';
import { useAccount, usePassword, type PhoneRow } from '../../hooks/phones';
import { useRole } from '../../stores/session';
import { space, usePalette } from '../../theme';
import { Button, Choice, Refused, Section } from '../parts';
import { Words } from '../Words';

const TRANSPORTS = ['TLS', 'TCP', 'UDP'] as const;

/** What a person gets to set up a softphone: steps, values, and a code for the app to read. */
export function HandoverPart({ row }: { readonly row: PhoneRow }) {
  const palette = usePalette();
  const role = useRole();
  const account = useAccount(row.endpoint, role !== 'manager');
  const password = usePassword(row.endpoint);
  const [transport, setTransport] = useState<(typeof TRANSPORTS)[number]>('TLS');
  const [open, setOpen] = useState(false);
  if (role === 'manager' || !account.data?.ports || account.data.server === null) return null;
  const { user, server, ports } = account.data;
  const values: AccountValues = {
    user,
    password: password.data?.password ?? null,
    server,
    port: transport === 'TLS' ? ports.tls : transport === 'TCP' ? ports.tcp : ports.udp,
    transport,
  };
  const steps = handoverSteps(row.kind, values, row.extension ?? 'your extension');
  const uri = accountUri(values);
  const title = `${row.label} of ${row.name}`;
  return (
    <Section title="Hand-over sheet">
      {open ? (
        <View style={{ gap: space(3) }}>
          <Choice
            label="How SIP is carried"
            value={transport}
            options={TRANSPORTS.map((value) => ({ value, label: value }))}
            onChange={setTransport}
          />
          <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(4) }}>
            <View
              role="img"
              aria-label={`Code with ${uri}`}
              style={{ padding: space(3), backgroundColor: '#FFFFFF', alignSelf: 'flex-start' }}
            >
              <QRCode value={uri} size={168} />
            </View>
            <View style={{ flex: 1, minWidth: 260, gap: space(2) }}>
              {steps.map((step, i) => (
                <View key={i} style={{ flexDirection: 'row', gap: space(2) }}>
                  <Words mono tone="soft" style={{ width: 24, textAlign: 'right' }}>
                    {i + 1}
                  </Words>
                  <View style={{ flex: 1 }}>
                    <Words>{step.says}</Words>
                    {step.value !== undefined ? (
                      <Words mono strong>
                        {step.value}
                      </Words>
                    ) : null}
                    {step.expect ? (
                      <Words size="small" tone="kelp">
                        {step.expect}
                      </Words>
                    ) : null}
                  </View>
                </View>
              ))}
            </View>
          </View>
          <Words mono size="small" tone="soft">
            {uri}
          </Words>
          <View
            style={{
              flexDirection: 'row',
              flexWrap: 'wrap',
              gap: space(2),
              borderTopWidth: 1,
              borderColor: palette.line,
              paddingTop: space(3),
            }}
          >
            <Button
              label="Save the sheet"
              onPress={() => saveFile(`${row.endpoint}.txt`, handoverText(title, steps, uri), 'text/plain')}
            />
            {role === 'specialist' && !password.data ? (
              <Button label="With its password" onPress={() => password.mutate(false)} />
            ) : null}
            <Button label="Close it" onPress={() => setOpen(false)} />
          </View>
          <Refused error={password.error} />
        </View>
      ) : (
        <View style={{ gap: space(2) }}>
          <Words tone="soft">Steps and values for the person, with a code that the app reads.</Words>
          <View style={{ flexDirection: 'row' }}>
            <Button label="Open the sheet" onPress={() => setOpen(true)} />
          </View>
        </View>
      )}
    </Section>
  );
}
