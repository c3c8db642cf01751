import type { ObjectPage } from '../../api/objects';
import { useMemo, useState } from 'react';
import type { NetworksPage } from '../../api/networks';
import type { Site } from '../../core/estate';
import { networkOf, type PlacedPhone, type SiteNetworkOf } from '../../core/network';
import { messageOf } from '../data/api';
import { useNetworks } from '../data/networks';
import { useObject, useObjectWork } from '../data/objects';
import { useCanEdit } from '../data/session';
import { ObjectBar } from '../edit/ObjectBar';
import { PageFrame } from '../kit/PageFrame';
import { Choice, Empty, LinkRow, LinkRows, Section, Skeleton, Trouble } from '../kit/parts';
import { Words } from '../kit/Words';
import { AnswersPart } from './AnswersPart';
import { BoxesPart } from './BoxesPart';
import { LinesPart } from './LinesPart';
import { SiteLinePart } from './SiteLinePart';
import { QualityPart } from './QualityPart';
import { WaysPart } from './WaysPart';

/** The network of a site, with what comes of it for each phone there. */
export function NetworkScreen({ id }: { readonly id: string }) {
  const page = useObject<Site>('site', id);
  const networks = useNetworks();
  const failed = page.error ?? networks.error;
  if (failed)
    return (
      <Trouble
        message={messageOf(failed)}
        retry={() => {
          void page.refetch();
          void networks.refetch();
        }}
      />
    );
  if (!page.data || !networks.data) return <Skeleton />;
  return <NetworkView key={id} page={page.data} networks={networks.data} />;
}

function NetworkView({
  page,
  networks,
}: {
  readonly page: ObjectPage<Site>;
  readonly networks: NetworksPage;
}) {
  const canEdit = useCanEdit();
  const work = useObjectWork('site', page);
  const site = work.object;
  const of = useMemo(
    () =>
      networkOf(
        { ...networks, sites: networks.sites.map((each) => (each.id === site.id ? site : each)) },
        site.id,
      ),
    [networks, site],
  );
  return (
    <PageFrame
      title={`Network of ${site.name}`}
      text="What its phones’ packets go through, and what comes of them"
      back={{ path: '/networks', label: 'Networks' }}
      bar={<ObjectBar work={work} />}
    >
      {of === 'no-servers' ? (
        <Section>
          <Empty
            title="There is no phone system yet"
            text="Say under Networks where the phone system and its servers stand."
          />
          <LinkRows>
            <LinkRow title="Networks" text="Servers of the organisation" href="/networks" />
          </LinkRows>
        </Section>
      ) : null}
      {of === 'address-twice' ? (
        <Section>
          <Words tone="rust">
            A router here has the outside address of another router or server: nothing can be computed.
          </Words>
        </Section>
      ) : null}
      {typeof of === 'string' ? null : <PhonesHere of={of} />}
      <SiteLinePart site={site} onEdit={canEdit ? work.edit : null} />
      <LinesPart
        of="site"
        id={site.id}
        onKeep={canEdit ? (line) => work.edit((before) => ({ ...before, line })) : null}
        network={
          canEdit
            ? {
                boxes: site.network?.boxes ?? [],
                onBoxes: (boxes) => work.edit((before) => ({ ...before, network: { boxes } })),
              }
            : null
        }
      />
      <QualityPart onKeep={canEdit ? (line) => work.edit((before) => ({ ...before, line })) : null} />
      {canEdit ? <BoxesPart site={site} onEdit={work.edit} /> : null}
    </PageFrame>
  );
}

/** What a phone is called where many people's stand: a thing has a name of its own. */
const calledIn = ({ name, kind, person }: Pick<PlacedPhone, 'name' | 'kind' | 'person'>): string =>
  kind === 'endpoint' && person ? `${person.name}: ${name}` : name;

/** One of the phones there, chosen, and what comes of its packets. */
function PhonesHere({ of }: { readonly of: SiteNetworkOf }) {
  const [chosen, setChosen] = useState<string | null>(null);
  const placed = of.phones.find(({ id }) => id === chosen) ?? of.phones[0];
  const phone = of.network.phones.find(({ id }) => id === placed?.id);
  if (!placed || !phone)
    return (
      <Section title="Phones here">
        <Empty
          title="No phone stands here"
          text="Give a phone this site on its own page, or a softphone the site where it is used."
        />
      </Section>
    );
  const href =
    placed.kind === 'device'
      ? `/devices/${encodeURIComponent(placed.of)}`
      : `/phones/${encodeURIComponent(placed.of)}`;
  return (
    <>
      <Section title="Phones here">
        {of.phones.length > 1 ? (
          <Choice
            label="Phone"
            value={placed.id}
            options={of.phones.map(({ id, name, kind, person }) => ({
              value: id,
              label: calledIn({ name, kind, person }),
            }))}
            onChange={setChosen}
          />
        ) : (
          <Words>{calledIn(placed)}</Words>
        )}
        <LinkRows>
          <LinkRow
            title="How this phone gets out"
            text="Method, transport, keep-alive and ports"
            href={href}
          />
        </LinkRows>
      </Section>
      <AnswersPart of={of} phone={phone} />
      <WaysPart of={of} phone={phone} onUse={null} />
    </>
  );
}
