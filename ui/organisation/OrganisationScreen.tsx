import type { OrganisationPage } from '../../api/organisation';
import { useState } from 'react';
import { View } from 'react-native';
import { isZone } from '../../core/zones';
import { faultOf, messageOf } from '../data/api';
import { fetchFile } from '../data/files';
import { useOrganisation, useSetOrganisation } from '../data/organisation';
import { useCanEdit } from '../data/session';
import { PageFrame } from '../kit/PageFrame';
import { Button, Field, LinkRow, LinkRows, Refused, Section, Skeleton, Trouble } from '../kit/parts';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';
import { FilePart } from './FilePart';

/** The organisation itself: its name and zone, all it consists of, and the estate as a file. */
export function OrganisationScreen() {
  const page = useOrganisation();
  if (page.isError) return <Trouble message={messageOf(page.error)} retry={() => void page.refetch()} />;
  if (page.isPending) return <Skeleton />;
  return <OrganisationView key={`${page.data.name} ${page.data.timeZone}`} page={page.data} />;
}

const count = (n: number, one: string, many = `${one}s`) => (n === 1 ? `1 ${one}` : `${n} ${many}`);

function OrganisationView({ page }: { readonly page: OrganisationPage }) {
  const canEdit = useCanEdit();
  const save = useSetOrganisation();
  const [name, setName] = useState(page.name);
  const [zone, setZone] = useState(page.timeZone);
  const [trouble, setTrouble] = useState<string | null>(null);
  const changed = name.trim() !== page.name || zone !== page.timeZone;
  const wrong = name.trim() === '' || !isZone(zone);
  const { counts, dialling } = page;
  return (
    <PageFrame title="Organisation" text={page.name} back={{ path: '/today', label: 'Back to Today' }}>
      {page.unbegun ? (
        <Section>
          <Words strong>Nothing is here yet.</Words>
          <LinkRows>
            <LinkRow
              title="Begin"
              text="Name, dial plan, first trunk, first people, to the first call that is proved"
              href="/begin"
            />
          </LinkRows>
        </Section>
      ) : null}
      <Section title="Name and zone">
        {canEdit ? (
          <View style={{ gap: space(3), maxWidth: 420 }}>
            <Field
              label="Name"
              value={name}
              onChange={setName}
              error={name.trim() === '' ? 'It has a name' : faultOf(save.error, 'name')}
            />
            <Field
              label="Time zone, as the IANA names it"
              mono
              value={zone}
              onChange={(text) => setZone(text.trim())}
              error={isZone(zone) ? null : 'A zone such as America/Vancouver'}
              hint="Times on all screens are of this zone; hours have zones of their own"
            />
            <Refused error={save.error} />
            {changed ? (
              <View style={{ flexDirection: 'row', gap: space(2) }}>
                <Button
                  kind="main"
                  label="Put live"
                  disabled={wrong}
                  busy={save.isPending}
                  onPress={() =>
                    save.mutate({
                      name: name.trim(),
                      timeZone: zone,
                      before: { name: page.name, timeZone: page.timeZone },
                    })
                  }
                />
                <Button
                  label="Discard"
                  onPress={() => {
                    setName(page.name);
                    setZone(page.timeZone);
                    save.reset();
                  }}
                />
              </View>
            ) : null}
          </View>
        ) : (
          <Words>{`${page.name}, ${page.timeZone}`}</Words>
        )}
      </Section>
      <Section title="What it consists of">
        <LinkRows>
          <LinkRow
            title="People"
            text={`${count(counts.people, 'person', 'people')}, with lines, phones and plans`}
            href="/people"
          />
          <LinkRow
            title="Dial plan, permissions and trunks"
            text={`Country ${dialling.country}, extensions of ${dialling.extensionDigits} digits, ${count(counts.permissions, 'permission')}, ${count(counts.trunks, 'trunk')}`}
            href="/routes/dialling"
          />
          <LinkRow
            title="Statuses and hours"
            text={`${count(counts.statuses, 'status', 'statuses')}, ${count(counts.hours, 'set of hours', 'sets of hours')}`}
            href="/hours"
          />
          <LinkRow
            title="Groups and menus"
            text={`${count(counts.groups, 'group')}, ${count(counts.menus, 'menu')}`}
            href="/groups"
          />
          <LinkRow title="Devices and sites" text={count(counts.phones, 'telephone')} href="/devices" />
        </LinkRows>
      </Section>
      <Section title="What it runs on">
        <LinkRows>
          <LinkRow
            title="Servers"
            text="Which run, long work and how far it is, what should be seen to"
            href="/server"
          />
        </LinkRows>
      </Section>
      {canEdit ? (
        <>
          <Section title="The estate as a file">
            <Words tone="soft">
              Everything that is computed with, as one open file (hostler-estate/1): to keep, to compare, to
              work on elsewhere.
            </Words>
            <View style={{ flexDirection: 'row' }}>
              <Button
                label="Save the estate file"
                onPress={() =>
                  void fetchFile('/api/estate', 'estate.json').catch((error: unknown) =>
                    setTrouble(messageOf(error)),
                  )
                }
              />
            </View>
            {trouble ? (
              <Words tone="rust" live>
                {trouble}
              </Words>
            ) : null}
          </Section>
          <FilePart unbegun={page.unbegun} />
        </>
      ) : null}
    </PageFrame>
  );
}
