import type { AccountValues as Account } from '../../api/phones';
import { useState } from 'react';
import { View } from 'react-native';
import QRCode from 'react-native-qrcode-svg';
import type { EndpointKind } from '../../core/estate';
import {
  accountUri,
  handoverSteps,
  handoverText,
  type AccountValues,
  type HandoverStep,
} from '../../core/devices/phones';
import { saveFile } from '../data/files';
import { PdfButton } from './PdfButton';
import { space } from '../kit/theme';
import { Button, Choice } from '../kit/parts';
import { Words } from '../kit/Words';

type Transport = AccountValues['transport'];
const TRANSPORTS: readonly Transport[] = ['TLS', 'TCP', 'UDP'];
type Where = 'inside' | 'outside' | 'stand-in';
const WHERE_WORDS: Record<Where, string> = {
  inside: 'At work',
  outside: 'Elsewhere',
  'stand-in': 'On this machine',
};

/** The values for where somebody is: as the organisation has set it, else those of the stand-in. */
function valuesFor(account: Account, where: Where, transport: Transport): AccountValues | null {
  const { user, server, ports, servers = {}, password = null } = account;
  const set = where === 'stand-in' ? undefined : servers[where];
  if (set)
    return {
      user,
      password,
      server: set.host,
      port: set.port,
      transport: set.transport.toUpperCase() as Transport,
    };
  if (!ports || server === null) return null;
  const port = transport === 'TLS' ? ports.tls : transport === 'TCP' ? ports.tcp : ports.udp;
  return { user, password, server, port, transport };
}

/** Steps and values by which a softphone is set up, with a code for the app to read. */
export function HandoverSheet({
  title,
  endpoint,
  kind,
  extension,
  account,
  more,
}: {
  readonly title: string;
  readonly endpoint: string;
  readonly kind: EndpointKind;
  readonly extension: string;
  readonly account: Account;
  /** What else can be done with it. */
  readonly more?: React.ReactNode;
}) {
  const places: readonly Where[] = [
    ...(account.servers?.inside ? (['inside'] as const) : []),
    ...(account.servers?.outside ? (['outside'] as const) : []),
    'stand-in',
  ];
  const [where, setWhere] = useState<Where>(places[0]!);
  const [transport, setTransport] = useState<Transport>('TLS');
  const values = valuesFor(account, where, transport);
  if (!values) return <Words tone="soft">The phone system is not there yet.</Words>;
  const steps = handoverSteps(kind, values, extension, account.notes, account.placing);
  const uri = accountUri(values);
  return (
    <View style={{ gap: space(3) }}>
      {places.length > 1 ? (
        <Choice
          label="Where they are"
          value={where}
          options={places.map((value) => ({ value, label: WHERE_WORDS[value] }))}
          onChange={setWhere}
        />
      ) : null}
      {where === 'stand-in' ? (
        <Choice
          label="How SIP is carried"
          value={transport}
          options={TRANSPORTS.map((value) => ({ value, label: value }))}
          onChange={setTransport}
        />
      ) : null}
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
            <Step key={i} nth={i + 1} step={step} />
          ))}
        </View>
      </View>
      <Words mono size="small" tone="soft">
        {uri}
      </Words>
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
        <PdfButton
          name={`${endpoint}.pdf`}
          sheet={{ title, code: uri, steps: steps.map((step) => ({ ...step })) }}
        />
        <Button
          label="Save as text"
          onPress={() => saveFile(`${endpoint}.txt`, handoverText(title, steps, uri), 'text/plain')}
        />
        {more}
      </View>
    </View>
  );
}

function Step({ nth, step: { says, value, expect } }: { readonly nth: number; readonly step: HandoverStep }) {
  return (
    <View style={{ flexDirection: 'row', gap: space(2) }}>
      <Words mono tone="soft" style={{ width: 24, textAlign: 'right' }}>
        {nth}
      </Words>
      <View style={{ flex: 1 }}>
        <Words>{says}</Words>
        {value !== undefined ? (
          <Words mono strong>
            {value}
          </Words>
        ) : null}
        {expect ? (
          <Words size="small" tone="kelp">
            {expect}
          </Words>
        ) : null}
      </View>
    </View>
  );
}
