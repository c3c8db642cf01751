import { useState } from 'react';
import { View } from 'react-native';
import { NAT_METHODS, type Device, type Site } from '../../core/estate';
import {
  backInOffice,
  keypadSteps,
  METHOD_NAMES,
  officeAndHome,
  prerequisites,
  type AccountValues,
  type PhoneModel,
} from '../../core/devices/phones';
import { useAccount, usePassword } from '../data/phones';
import { useCanEdit, useRole } from '../data/session';
import { space, usePalette } from '../kit/theme';
import { Button, Choice, Fold, Refused, Section } from '../kit/parts';
import { Words } from '../kit/Words';

const ways = (model: PhoneModel) => NAT_METHODS.filter((each) => model.methods.includes(each));

/** A desk phone taken home: what must hold first, what differs, and each step at its keypad with the line's values. */
export function KeypadPart({
  device,
  model,
  sites,
  onEdit,
}: {
  readonly device: Device;
  readonly model: PhoneModel;
  readonly sites: readonly Site[];
  readonly onEdit: ((change: (before: Device) => Device) => void) | null;
}) {
  const palette = usePalette();
  const role = useRole();
  const canEdit = useCanEdit();
  const endpoint = device.endpoint ?? '';
  const account = useAccount(endpoint, endpoint !== '' && role !== 'manager');
  const password = usePassword(endpoint);
  const [transport, setTransport] = useState<AccountValues['transport']>('TLS');
  if (endpoint === '' || role === 'manager' || !account.data?.ports || account.data.server === null)
    return null;
  const { user, server, ports } = account.data;
  const outside = device.natMethod !== undefined;
  const method = device.natMethod ?? ways(model).find((each) => each !== 'direct') ?? 'direct';
  const site = sites.find(({ id }) => id === device.site);
  const carried = outside ? transport : 'UDP';
  const values: AccountValues = {
    user,
    password: password.data?.password ?? null,
    server,
    port: carried === 'TLS' ? ports.tls : carried === 'TCP' ? ports.tcp : ports.udp,
    transport: carried,
  };
  const steps = keypadSteps(model, values, outside ? method : null, device.passwordChanged === true);
  const needed = prerequisites(device, model, method, site);
  const missing = needed.filter(({ holds }) => !holds).length;
  return (
    <Section title={outside ? 'At home' : 'By hand at the keypad'}>
      {outside ? (
        <>
          <Words tone={missing > 0 ? 'rust' : 'kelp'} strong live>
            {missing > 0
              ? `${missing} ${missing === 1 ? 'thing is' : 'things are'} missing before it works from outside:`
              : 'Everything it needs from outside is in place.'}
          </Words>
          <View role="list" style={{ gap: space(1) }}>
            {needed.map(({ id, holds, says }) => (
              <View key={id} role="listitem" style={{ flexDirection: 'row', gap: space(2) }}>
                <Words strong tone={holds ? 'kelp' : holds === null ? 'ochre' : 'rust'} style={{ width: 90 }}>
                  {holds ? '▰ holds' : holds === null ? '▱ not known' : '▱ not yet'}
                </Words>
                <Words style={{ flex: 1 }}>{says}</Words>
              </View>
            ))}
          </View>
          <Choice
            label="How SIP is carried there"
            titled
            value={transport}
            options={(['TLS', 'TCP', 'UDP'] as const).map((value) => ({ value, label: value }))}
            onChange={setTransport}
          />
          <View style={{ borderWidth: 1, borderColor: palette.line, backgroundColor: palette.sheet }}>
            {[
              { setting: '', office: 'In the office', home: 'At home' },
              ...officeAndHome({ server, port: ports.udp, transport: 'UDP' }, { ...values, method }),
            ].map((each, i) => (
              <View
                key={each.setting}
                style={{
                  flexDirection: 'row',
                  padding: space(2),
                  gap: space(2),
                  borderTopWidth: i > 0 ? 1 : 0,
                  borderColor: palette.line,
                }}
              >
                <Words size="small" tone="soft" style={{ flex: 3 }}>
                  {each.setting}
                </Words>
                <Words size="small" strong={i === 0} mono={i > 0} style={{ flex: 3 }}>
                  {each.office}
                </Words>
                <Words size="small" strong mono={i > 0} style={{ flex: 4 }}>
                  {each.home}
                </Words>
              </View>
            ))}
          </View>
        </>
      ) : null}
      <View style={{ marginHorizontal: -space(4) }}>
        <Fold title={`The steps at the keypad of a ${model.name}`} open={outside}>
          <View style={{ paddingHorizontal: space(4), gap: space(3) }}>
            <Words size="small" tone="soft">
              {model.typing}
            </Words>
            {steps.map((step, i) => (
              <View key={step.setting} style={{ flexDirection: 'row', gap: space(2) }}>
                <Words mono tone="soft" style={{ width: 24, textAlign: 'right' }}>
                  {i + 1}
                </Words>
                <View style={{ flex: 1 }}>
                  <Words>{step.says}</Words>
                  {step.menus.length > 0 ? (
                    <Words size="small" tone="soft">
                      {step.menus.join(' › ')}
                    </Words>
                  ) : null}
                  {step.value !== null ? (
                    <Words mono strong>
                      {step.value}
                    </Words>
                  ) : null}
                </View>
              </View>
            ))}
          </View>
        </Fold>
      </View>
      <Refused error={password.error} />
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
        {canEdit && !password.data ? (
          <Button icon="eye" label="Show the password in the steps" onPress={() => password.mutate(false)} />
        ) : null}
        {onEdit && outside ? (
          <Button
            label="Back in the office"
            onPress={() => onEdit((before) => backInOffice(before, { sites }))}
          />
        ) : null}
        {onEdit && !outside ? (
          <Button
            label={`Take it home, by ${METHOD_NAMES[method]}`}
            onPress={() => onEdit((before) => ({ ...before, natMethod: method, remoteRegistration: true }))}
          />
        ) : null}
      </View>
    </Section>
  );
}
