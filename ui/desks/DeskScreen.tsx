import type { ObjectPage } from '../../api/objects';
import { useRouter } from 'expo-router';
import type { Desk } from '../../core/estate';
import { messageOf } from '../data/api';
import { useObject, useObjectWork } from '../data/objects';
import { useCanEdit, useZone } from '../data/session';
import { ObjectBar } from '../edit/ObjectBar';
import { RemovePart } from '../edit/RemovePart';
import { tidy } from '../edit/tidy';
import { useNamed } from '../edit/Search';
import { HerePart } from './HerePart';
import { PersonPicks } from './PersonPicks';
import { PhonePart } from './PhonePart';
import { SpotPart } from './SpotPart';
import { PageFrame } from '../kit/PageFrame';
import { Choice, Field, LinkRow, LinkRows, Section, Skeleton, Tick, Trouble } from '../kit/parts';
import { Words } from '../kit/Words';
import { Several } from '../plan/Several';
import { CheckedField } from '../networks/CheckedField';
import { useDevices, useSites } from '../phones/DevicesScreen';
import { CREDENTIALS, TAKEN } from './words';
import { fieldLabel } from '../kit/fieldLabel';

const DAY_MIN = 1440;
const readMinutes = (text: string): { readonly value: number | null } | { readonly error: string } => {
  if (text.trim() === '') return { value: null };
  const value = /^\d{1,4}$/.test(text.trim()) ? Number(text) : NaN;
  return value >= 1 && value <= DAY_MIN ? { value } : { error: 'Minutes, from 1 to 1440' };
};
const readTime = (text: string): { readonly value: string | null } | { readonly error: string } => {
  if (text.trim() === '') return { value: null };
  return /^([01]\d|2[0-3]):[0-5]\d$/.test(text.trim())
    ? { value: text.trim() }
    : { error: 'A time such as 20:00' };
};

export function DeskScreen({ id }: { readonly id: string }) {
  const page = useObject<Desk>('desk', id);
  if (page.isError) return <Trouble message={messageOf(page.error)} retry={() => void page.refetch()} />;
  if (page.isPending) return <Skeleton />;
  return <DeskView key={id} page={page.data} />;
}

function DeskView({ page }: { readonly page: ObjectPage<Desk> }) {
  const router = useRouter();
  const canEdit = useCanEdit();
  const devices = useDevices();
  const sites = useSites();
  const templates = useNamed('template');
  const statuses = useNamed('status');
  const work = useObjectWork('desk', page);
  const desk = work.object;
  const set = (part: Partial<Desk>) => work.edit((before) => tidy({ ...before, ...part }));
  const device = devices.data?.objects.find(({ id }) => id === desk.device);
  const site = sites.data?.objects.find(({ id }) => id === device?.site);
  const organisation = useZone();
  const zone = site?.timeZone ?? organisation;
  const { signOff = {}, allowed } = desk;
  const off = (part: NonNullable<Desk['signOff']>) => set({ signOff: tidy({ ...signOff, ...part }) });
  const allow = (part: NonNullable<Desk['allowed']>) => set({ allowed: tidy({ ...allowed, ...part }) });
  return (
    <PageFrame
      title={desk.name}
      text={['Shared desk', site?.name, desk.area].filter(Boolean).join(', ')}
      back={{ path: '/desks', label: 'Desks' }}
      bar={<ObjectBar work={work} />}
    >
      <HerePart desk={page.object.id} />
      <PhonePart desk={page.object.id} timeZone={zone} />
      <Section title="Its phone">
        <LinkRows>
          <LinkRow
            title={device?.name ?? desk.device}
            text={site ? `Stands at ${site.name}` : 'Nobody has said where it stands'}
            href={`/devices/${encodeURIComponent(desk.device)}`}
          />
        </LinkRows>
      </Section>
      {canEdit ? (
        <>
          <Section title="What it is">
            <Field
              label={fieldLabel('desk', 'name')}
              value={desk.name}
              onChange={(name) => name.trim() && set({ name })}
            />
            <Field
              label="Area, such as a hall or deck"
              value={desk.area ?? ''}
              onChange={(area) => set({ area: area.trim() === '' ? undefined : area })}
            />
          </Section>
          <SpotPart desk={desk} devices={devices.data?.objects ?? []} onEdit={(spot) => set({ spot })} />
          <Section title="Who may sign on">
            <Choice
              label="Who"
              value={allowed ? 'some' : 'all'}
              options={[
                { value: 'all', label: 'Everybody' },
                { value: 'some', label: 'Only some' },
              ]}
              onChange={(who) => set({ allowed: who === 'all' ? undefined : { people: [] } })}
            />
            {allowed ? (
              <>
                <PersonPicks
                  people={allowed.people ?? []}
                  onChange={(people) => allow({ people: people.length > 0 ? people : undefined })}
                />
                <Several
                  label="Who follow a template"
                  value={allowed.templates}
                  options={(templates.data?.objects ?? []).map(({ id, name }) => ({
                    value: id,
                    label: name,
                  }))}
                  onChange={(list) => allow({ templates: list })}
                />
                <Several
                  label="Who have a status"
                  value={allowed.statuses}
                  options={(statuses.data?.objects ?? []).map(({ id, name }) => ({ value: id, label: name }))}
                  onChange={(list) => allow({ statuses: list })}
                />
              </>
            ) : null}
            <Choice
              label="They show who they are by"
              titled
              value={desk.credential ?? 'pin'}
              options={CREDENTIALS}
              onChange={(credential) => set({ credential })}
            />
            <Choice
              label={fieldLabel('desk', 'taken')}
              titled
              value={desk.taken ?? 'refuse'}
              options={TAKEN}
              onChange={(taken) => set({ taken })}
            />
          </Section>
          <Section title="Signed off by itself">
            <Words size="small" tone="soft">
              Whichever comes first. Nobody is signed off while the phone has a call.
            </Words>
            <Tick
              label={fieldLabel('desk', 'signOff.atShiftEnd')}
              on={signOff.atShiftEnd !== false}
              onPress={() => off({ atShiftEnd: signOff.atShiftEnd === false })}
            />
            <CheckedField
              label="After so many minutes without a call or key"
              value={typeof signOff.afterIdleS !== 'number' ? null : Math.round(signOff.afterIdleS / 60)}
              show={(minutes) => (minutes === null ? '' : String(minutes))}
              read={readMinutes}
              onChange={(minutes) => off({ afterIdleS: minutes === null ? undefined : minutes * 60 })}
              hint="Leave it empty where that does not matter"
            />
            <CheckedField
              label={fieldLabel('desk', 'signOff.dailyAt')}
              value={signOff.dailyAt ?? null}
              show={(time) => time ?? ''}
              read={readTime}
              onChange={(time) => off({ dailyAt: time ?? undefined })}
              hint="By the clock of its site; leave it empty where that does not matter"
            />
          </Section>
          <Section>
            <RemovePart
              kind="desk"
              id={page.object.id}
              name={page.object.name}
              label="Remove this desk"
              onRemoved={() => router.navigate('/desks')}
            />
          </Section>
        </>
      ) : null}
    </PageFrame>
  );
}
