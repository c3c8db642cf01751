import { useMemo, useState } from 'react';
import { View } from 'react-native';
import { NAT_METHODS, type Device, type Site } from '../../core/estate';
import {
  helperOf,
  nameIn,
  networkOf,
  pathAnswers,
  pathWith,
  topologyOf,
  verdictsOf,
  wayHome,
  type Way,
  type WayHome,
} from '../../core/network';
import {
  backInOffice,
  keypadSteps,
  METHOD_NAMES,
  officeAndHome,
  prerequisites,
  type AccountValues,
  type PhoneModel,
} from '../../core/devices/phones';
import { useNetworks } from '../data/networks';
import { useAccount, usePassword } from '../data/phones';
import { useCanEdit, useRole } from '../data/session';
import { Marks } from '../kit/Marks';
import { space, usePalette } from '../kit/theme';
import { Button, Choice, Fold, LinkRow, LinkRows, Refused, Section } from '../kit/parts';
import { Words } from '../kit/Words';
import { PdfButton } from './PdfButton';

const ways = (model: PhoneModel) => NAT_METHODS.filter((each) => model.methods.includes(each));
const NAMES = { udp: 'UDP', tcp: 'TCP', tls: 'TLS' } as const;

/** A phone with the way of its home set in it. */
const takenHome = (device: Device, site: string, way: Way): Device => ({
  ...device,
  site,
  natMethod: way.method,
  remoteRegistration: true,
  path: pathWith(device.path, way),
});

/** Whether all packets of a phone get where they should, as its site is described; null: nobody knows. */
function worksFromThere(page: Parameters<typeof networkOf>[0], device: Device): boolean | null {
  if (device.site === undefined) return null;
  const devices = [...(page.devices ?? []).filter(({ id }) => id !== device.id), device];
  const of = networkOf({ ...page, devices }, device.site);
  if (typeof of === 'string') return null;
  const phone = of.network.phones.find(({ id }) => id === `device:${device.id}`);
  return phone === undefined
    ? null
    : pathAnswers(verdictsOf(topologyOf(of.network, true), phone), nameIn(of)).every(({ works }) => works);
}

/** Where the phone is taken to, and the way that works from there. */
function TakeHome({
  device,
  model,
  sites,
  onEdit,
}: {
  readonly device: Device;
  readonly model: PhoneModel;
  readonly sites: readonly Site[];
  readonly onEdit: (change: (before: Device) => Device) => void;
}) {
  const networks = useNetworks();
  const homes = sites.filter(({ kind }) => kind === 'home');
  const [chosen, setChosen] = useState<string | null>(null);
  const home = homes.find(({ id }) => id === chosen);
  const found = useMemo<WayHome | null>(
    () => (home && networks.data ? wayHome(networks.data, device, home.id, model.methods) : null),
    [home, networks.data, device, model],
  );
  const [usual] = ways(model).filter((each) => each !== 'direct');
  return (
    <View style={{ gap: space(2) }}>
      <Words strong>Take it home</Words>
      {homes.length === 0 ? (
        <Words tone="soft">There is no home among the sites yet. Add one under Sites.</Words>
      ) : (
        <Choice
          label="To which home"
          titled
          value={chosen ?? ''}
          options={homes.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={setChosen}
        />
      )}
      {home && found?.ok ? (
        <>
          <Words live>
            {`From there ${METHOD_NAMES[found.way.method]} over ${NAMES[found.way.transport]} works best${
              found.way.keepAliveS === null ? '' : `, with a keep-alive every ${found.way.keepAliveS} s`
            }: so its packets say.`}
          </Words>
          <View style={{ flexDirection: 'row' }}>
            <Button
              kind="main"
              label={`Take it to ${home.name}`}
              onPress={() => onEdit((before) => takenHome(before, home.id, found.way))}
            />
          </View>
        </>
      ) : null}
      {home && found && !found.ok ? (
        <>
          <Words tone={found.why === 'no-way' ? 'rust' : 'ochre'} live>
            {found.why === 'no-way'
              ? `Nothing that a ${model.name} can do works from there with the servers that there are.`
              : 'Nobody has said yet what stands between that home and the internet, so nothing can be computed.'}
          </Words>
          <LinkRows>
            <LinkRow
              title={`Network of ${home.name}`}
              text="Say which router stands there"
              href={`/networks/${encodeURIComponent(home.id)}`}
            />
          </LinkRows>
          {found.why !== 'no-way' && usual ? (
            <View style={{ flexDirection: 'row' }}>
              <Button
                label={`Take it there all the same, by ${METHOD_NAMES[usual]}`}
                onPress={() =>
                  onEdit((before) => ({
                    ...before,
                    site: home.id,
                    natMethod: usual,
                    remoteRegistration: true,
                  }))
                }
              />
            </View>
          ) : null}
        </>
      ) : null}
    </View>
  );
}

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
  const networks = useNetworks();
  if (endpoint === '' || role === 'manager' || !account.data?.ports || account.data.server === null)
    return null;
  const { user, server, ports } = account.data;
  const outside = device.natMethod !== undefined;
  const method = device.natMethod ?? ways(model).find((each) => each !== 'direct') ?? 'direct';
  const site = sites.find(({ id }) => id === device.site);
  const transport = outside ? (device.path?.transport ?? 'udp') : 'udp';
  const helper = helperOf(networks.data ?? {}, method);
  // From outside a border controller stands in the system's place.
  const border = outside && helper?.kind === 'border-controller' ? helper : null;
  const values: AccountValues = {
    user,
    password: password.data?.password ?? null,
    server: border?.public ?? server,
    port: border ? (transport === 'tls' ? border.tlsPort : border.port) : ports[transport],
    transport: NAMES[transport],
  };
  const way = {
    method,
    helper: helper && !border ? { name: helper.name, address: helper.public, port: helper.port } : null,
    keepAliveS: device.path?.keepAliveS ?? null,
  };
  const steps = keypadSteps(model, values, outside ? way : null, device.passwordChanged === true);
  const needed = prerequisites(device, model, method, site);
  const missing = needed.filter(({ holds }) => !holds).length;
  const works = outside && networks.data ? worksFromThere(networks.data, device) : null;
  return (
    <Section title={outside ? 'At home' : 'By hand at the keypad'}>
      {outside ? (
        <>
          <Words
            tone={missing > 0 || works === false ? 'rust' : works === null ? 'ochre' : 'kelp'}
            strong
            live
          >
            {missing > 0
              ? `${missing} ${missing === 1 ? 'thing is' : 'things are'} missing before it works from outside:`
              : works === false
                ? 'What it needs is in place, and yet its packets do not all arrive: see “Does it work from there?” above.'
                : works === null
                  ? 'What can be looked at is in place. What stands between that site and the internet is not described: whether its packets arrive is not known.'
                  : 'Everything it needs from outside is in place, and its packets arrive.'}
          </Words>
          <Marks items={needed} />
          <View style={{ borderWidth: 1, borderColor: palette.line, backgroundColor: palette.sheet }}>
            {[
              { setting: '', office: 'In the office', home: 'At home' },
              ...officeAndHome(
                { server, port: ports.udp, transport: 'UDP' },
                { ...values, method, keepAliveS: way.keepAliveS },
              ),
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
        <Fold
          key={outside ? 'home' : 'office'}
          title={`The steps at the keypad of a ${model.name}`}
          open={outside}
        >
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
        <PdfButton
          name={`${device.id}.pdf`}
          sheet={{
            title: outside ? `${device.name}, at home` : `${device.name}, at its keypad`,
            note: `${model.name}. ${model.typing}`,
            steps: steps.map(({ says, menus, value }) => ({
              says,
              menus: [...menus],
              ...(value === null ? {} : { value }),
            })),
          }}
        />
        {onEdit && outside ? (
          <Button
            label="Back in the office"
            onPress={() => onEdit((before) => backInOffice(before, { sites }))}
          />
        ) : null}
      </View>
      {onEdit && !outside ? <TakeHome device={device} model={model} sites={sites} onEdit={onEdit} /> : null}
    </Section>
  );
}
