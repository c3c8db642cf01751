import type { ObjectPage } from '../../api/objects';
import { useRouter } from 'expo-router';
import { SIP_ALGS, SITE_KINDS, type Site, type SipAlg } from '../../core/estate';
import { isZone } from '../../core/zones';
import { CheckedField } from '../networks/CheckedField';
import { modelOf } from '../../core/devices/phones';
import { messageOf } from '../data/api';
import { useObject, useObjectWork } from '../data/objects';
import { useCanEdit } from '../data/session';
import { WithFindings } from '../findings/WithFindings';
import { ObjectBar } from '../edit/ObjectBar';
import { RemovePart } from '../edit/RemovePart';
import { PageFrame } from '../kit/PageFrame';
import { Choice, Empty, Field, LinkRow, LinkRows, Section, Skeleton, Trouble } from '../kit/parts';
import { Words } from '../kit/Words';
import { SitePlacePart } from '../safety/SitePlacePart';
import { DeskPromisesPart } from './DeskPromisesPart';
import { RelayPart } from './RelayPart';
import { SITE_WORDS, useDevices } from './DevicesScreen';
import { fieldLabel } from '../kit/fieldLabel';

const readZone = (text: string): { readonly value: string } | { readonly error: string } => {
  const zone = text.trim();
  return zone === '' || isZone(zone) ? { value: zone } : { error: 'Such as America/Vancouver' };
};
const HELPERS: Record<SipAlg, string> = {
  none: 'Leaves it alone',
  'rewrites-well': 'Rewrites it well',
  'breaks-contact': 'Breaks the addresses in it',
  'breaks-sdp': 'Breaks the sound in it',
};

export function SiteScreen({ id }: { readonly id: string }) {
  const page = useObject<Site>('site', id);
  if (page.isError) return <Trouble message={messageOf(page.error)} retry={() => void page.refetch()} />;
  if (page.isPending) return <Skeleton />;
  return <SiteView key={id} page={page.data} />;
}

function SiteView({ page }: { readonly page: ObjectPage<Site> }) {
  const router = useRouter();
  const canEdit = useCanEdit();
  const devices = useDevices();
  const work = useObjectWork('site', page);
  const site = work.object;
  const { edit } = work;
  const here = (devices.data?.objects ?? []).filter((each) => each.site === site.id);
  const setRelay = (relay: Site['relay'] | null) =>
    edit(({ relay: _before, ...rest }) => (relay ? { ...rest, relay } : rest));
  return (
    <PageFrame
      title={site.name}
      text={SITE_WORDS[site.kind]}
      back={{ path: '/sites', label: 'Sites' }}
      bar={<ObjectBar work={work} />}
    >
      <WithFindings subject={`site/${site.id}`}>
        <Section title="Network">
          <LinkRows>
            <LinkRow
              title="What stands between it and the internet"
              text={
                site.network
                  ? site.network.boxes.map((box) => box.name).join(', ') ||
                    'Nothing: its phones stand in the internet'
                  : 'Not said yet'
              }
              href={`/networks/${encodeURIComponent(site.id)}`}
            />
          </LinkRows>
        </Section>
        <Section title="Phones here">
          {here.length === 0 ? (
            <Empty title="No phone stands here" text="Set a phone’s site on its own page." />
          ) : (
            <LinkRows>
              {here.map((device) => (
                <LinkRow
                  key={device.id}
                  title={device.name}
                  text={modelOf(device.model)?.name ?? device.model}
                  href={`/devices/${encodeURIComponent(device.id)}`}
                />
              ))}
            </LinkRows>
          )}
        </Section>
        <RelayPart
          site={site}
          devices={devices.data?.objects ?? []}
          isChanged={work.changed}
          canEdit={canEdit}
        />
        {canEdit ? <SitePlacePart site={site} onEdit={edit} /> : null}
        <DeskPromisesPart site={site} onEdit={canEdit ? edit : null} />
        {canEdit ? (
          <Section title="What it is">
            <Field
              label={fieldLabel('site', 'name')}
              value={site.name}
              onChange={(name) => name.trim() && edit((before) => ({ ...before, name }))}
            />
            <Choice
              label="What it is"
              value={site.kind}
              options={SITE_KINDS.map((value) => ({ value, label: SITE_WORDS[value] }))}
              onChange={(kind) => edit((before) => ({ ...before, kind }))}
            />
            <Field
              label="Address told in an emergency"
              value={site.address ?? ''}
              onChange={(address) =>
                edit(({ address: _before, ...rest }) => (address.trim() === '' ? rest : { ...rest, address }))
              }
            />
            <CheckedField
              label="Time zone, where it is another one than the organisation’s"
              value={site.timeZone ?? ''}
              show={(zone) => zone}
              read={readZone}
              onChange={(zone) =>
                edit(({ timeZone: _before, ...rest }) => (zone === '' ? rest : { ...rest, timeZone: zone }))
              }
            />
            <Choice
              label="What its router does to SIP"
              titled
              value={site.sipAlg ?? 'none'}
              options={SIP_ALGS.map((value) => ({ value, label: HELPERS[value] }))}
              onChange={(sipAlg) => edit((before) => ({ ...before, sipAlg }))}
            />
            <Choice
              label="Its outside address"
              titled
              value={site.stableAddress === true ? 'stable' : 'changes'}
              options={[
                { value: 'stable', label: 'Stays the same' },
                { value: 'changes', label: 'May change' },
              ]}
              onChange={(value) => edit((before) => ({ ...before, stableAddress: value === 'stable' }))}
            />
            <Choice
              label="Branch relay: the phone through which the others get out"
              titled
              value={site.relay?.device ?? 'none'}
              options={[
                { value: 'none', label: 'None' },
                ...here.map(({ id, name }) => ({ value: id, label: name })),
              ]}
              onChange={(device) =>
                setRelay(device === 'none' ? null : { alwaysOn: site.relay?.alwaysOn ?? true, device })
              }
            />
            {site.relay ? (
              <Choice
                label="The relay"
                titled
                value={site.relay.alwaysOn ? 'on' : 'off'}
                options={[
                  { value: 'on', label: 'Is always on' },
                  { value: 'off', label: 'Is switched off at times' },
                ]}
                onChange={(value) => site.relay && setRelay({ ...site.relay, alwaysOn: value === 'on' })}
              />
            ) : null}
            <RemovePart
              kind="site"
              id={page.object.id}
              name={page.object.name}
              label="Remove this site"
              onRemoved={() => router.navigate('/sites')}
            />
          </Section>
        ) : (
          <Section title="What it is">
            <Words>{site.address ?? 'No address is set.'}</Words>
          </Section>
        )}
      </WithFindings>
    </PageFrame>
  );
}
