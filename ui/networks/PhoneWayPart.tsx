import { useMemo } from 'react';
import { NAT_METHODS, type Device, type Endpoint } from '../../core/estate';
import { networkOf, pathWith, type NoNetwork } from '../../core/network';
import { METHOD_NAMES } from '../../core/devices/phones';
import { useNetworks } from '../data/networks';
import { Choice, LinkRow, LinkRows, Section } from '../kit/parts';
import { Words } from '../kit/Words';
import { AnswersPart } from './AnswersPart';
import { PathPart } from './PathPart';
import { WaysPart } from './WaysPart';

/** Why nothing is computed, and where that is mended. */
function NotComputed({ why, site }: { readonly why: NoNetwork; readonly site: string }) {
  return (
    <Section title="Does it work from there?">
      <Words tone="soft">
        {why === 'no-servers'
          ? 'The phone system is not described yet.'
          : why === 'no-network'
            ? 'What stands between this site and the internet is not described yet.'
            : why === 'address-twice'
              ? 'Two routers or servers have one address.'
              : 'That site is gone.'}
      </Words>
      <LinkRows>
        {why === 'no-network' || why === 'address-twice' ? (
          <LinkRow
            title="Say what stands there"
            text="Network of the site"
            href={`/networks/${encodeURIComponent(site)}`}
          />
        ) : (
          <LinkRow title="Networks" text="Servers and sites" href="/networks" />
        )}
      </LinkRows>
    </Section>
  );
}

/** How a phone as a thing gets out of its site, what comes of it, and what would work; all of the edit as it is. */
export function DeviceWayPart({
  device,
  onEdit,
}: {
  readonly device: Device;
  readonly onEdit: ((change: (device: Device) => Device) => void) | null;
}) {
  const networks = useNetworks();
  const { site } = device;
  const page = networks.data;
  const of = useMemo(
    () =>
      page && site !== undefined
        ? networkOf(
            { ...page, devices: [...page.devices.filter(({ id }) => id !== device.id), device] },
            site,
          )
        : null,
    [page, device, site],
  );
  if (!page || site === undefined || of === null) return null;
  if (typeof of === 'string') return <NotComputed why={of} site={site} />;
  const phone = of.network.phones.find(({ id }) => id === `device:${device.id}`);
  const boxes = page.sites.find(({ id }) => id === site)?.network?.boxes ?? [];
  return (
    <>
      {onEdit ? (
        <Section title="How it gets out">
          <PathPart
            path={device.path ?? {}}
            method={device.natMethod}
            boxes={boxes}
            onEdit={(change) => onEdit((before) => ({ ...before, path: change(before.path ?? {}) }))}
          />
        </Section>
      ) : null}
      {phone ? (
        <>
          <AnswersPart of={of} phone={phone} />
          <WaysPart
            of={of}
            phone={phone}
            onUse={
              onEdit
                ? (way) =>
                    onEdit((before) => ({
                      ...before,
                      natMethod: way.method,
                      path: pathWith(before.path, way),
                    }))
                : null
            }
          />
        </>
      ) : null}
    </>
  );
}

/** The same of a softphone: where it is used from outside, and how. */
export function AppWayPart({
  endpoint,
  onChange,
}: {
  readonly endpoint: Endpoint;
  readonly onChange: (path: Endpoint['path']) => void;
}) {
  const networks = useNetworks();
  const page = networks.data;
  const { path } = endpoint;
  const site = path?.site;
  const of = useMemo(
    () =>
      page && site !== undefined
        ? networkOf(
            {
              ...page,
              people: page.people.map((person) => ({
                ...person,
                endpoints: person.endpoints.map((each) => (each.id === endpoint.id ? endpoint : each)),
              })),
            },
            site,
          )
        : null,
    [page, endpoint, site],
  );
  if (!page) return null;
  const phone =
    of === null || typeof of === 'string'
      ? undefined
      : of.network.phones.find(({ id }) => id === `endpoint:${endpoint.id}`);
  return (
    <>
      <Choice
        label="Used from outside at"
        titled
        value={site ?? 'none'}
        options={[
          { value: 'none', label: 'Not said' },
          ...page.sites.map(({ id, name }) => ({ value: id, label: name })),
        ]}
        onChange={(next) => {
          const { site: _site, in: _in, ...rest } = path ?? {};
          onChange(
            next === 'none' ? (Object.keys(rest).length > 0 ? rest : undefined) : { ...rest, site: next },
          );
        }}
      />
      {site === undefined ? null : (
        <>
          <Choice
            label="How it gets to the phone system"
            titled
            value={path?.method ?? 'direct'}
            options={NAT_METHODS.map((value) => ({ value, label: METHOD_NAMES[value] }))}
            onChange={(method) => onChange({ ...path, method })}
          />
          <PathPart
            path={path ?? {}}
            method={path?.method}
            boxes={page.sites.find(({ id }) => id === site)?.network?.boxes ?? []}
            onEdit={(change) =>
              onChange({
                ...change(path ?? {}),
                site,
                ...(path?.method === undefined ? {} : { method: path.method }),
              })
            }
          />
          {typeof of === 'string' ? <NotComputed why={of} site={site} /> : null}
          {of !== null && typeof of !== 'string' && phone ? (
            <>
              <AnswersPart of={of} phone={phone} />
              <WaysPart
                of={of}
                phone={phone}
                onUse={(way) => onChange({ ...path, ...pathWith(path, way), method: way.method })}
              />
            </>
          ) : null}
        </>
      )}
    </>
  );
}
