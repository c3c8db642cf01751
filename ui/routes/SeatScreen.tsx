import type { ObjectPage } from '../../api/objects';
import { useRouter } from 'expo-router';
import { CONFIRMS, DEFAULT_SEAT, type Confirm, type Group, type Seat } from '../../core/estate';
import { messageOf } from '../data/api';
import { useObject, useObjects, useObjectWork } from '../data/objects';
import { useRecordings } from '../data/rounds';
import { useCanEdit } from '../data/session';
import { ObjectBar } from '../edit/ObjectBar';
import { RemovePart } from '../edit/RemovePart';
import { tidy } from '../edit/tidy';
import { WithFindings } from '../findings/WithFindings';
import { PageFrame } from '../kit/PageFrame';
import { Choice, Empty, Field, LinkRow, LinkRows, Section, Skeleton, Tick, Trouble } from '../kit/parts';
import { TimeField } from '../kit/TimeField';
import { Words } from '../kit/Words';
import { CheckedField } from '../networks/CheckedField';
import { RecordingHeard, RecordingPick } from '../rounds/RecordingPick';
import { SeatNowPart } from '../seats/SeatNowPart';
import { fieldLabel } from '../kit/fieldLabel';

type Unattended = NonNullable<Seat['unattended']>;

export function SeatScreen({ id }: { readonly id: string }) {
  const page = useObject<Seat>('seat', id);
  if (page.isError) return <Trouble message={messageOf(page.error)} retry={() => void page.refetch()} />;
  if (page.isPending) return <Skeleton />;
  return <SeatView key={id} page={page.data} />;
}

const countIn =
  (most: number) =>
  (text: string): { readonly value: number } | { readonly error: string } => {
    const value = /^\d{1,4}$/.test(text.trim()) ? Number(text) : NaN;
    return value >= 1 && value <= most ? { value } : { error: `A number from 1 to ${most}` };
  };

const WAYS = [
  { value: 'signed-on', label: 'Only whoever is signed on' },
  { value: 'number', label: 'Without anybody: passes calls to a number' },
  { value: 'sip', label: 'Without anybody: passes calls to a SIP address' },
  { value: 'play', label: 'Without anybody: plays a recording' },
] as const;
type Way = (typeof WAYS)[number]['value'];

const wayOf = (unattended: Seat['unattended']): Way => {
  if (!unattended) return 'signed-on';
  if ('play' in unattended) return 'play';
  return 'number' in unattended.passTo ? 'number' : 'sip';
};
const FRESH: Record<Way, Unattended | undefined> = {
  'signed-on': undefined,
  number: { passTo: { number: '' } },
  sip: { passTo: { sip: '' } },
  play: { play: '' },
};
const CONFIRM_WORDS: Record<Confirm, string> = {
  none: 'Nothing: whatever answers has the call',
  key: 'A key',
  'key-name': 'A key, after hearing the caller’s name',
  pin: 'A PIN',
};

function SeatView({ page }: { readonly page: ObjectPage<Seat> }) {
  const router = useRouter();
  const canEdit = useCanEdit();
  const groups = useObjects<Group>('group');
  const work = useObjectWork('seat', page);
  const seat = work.object;
  const set = (part: Partial<Seat>) => work.edit((before) => tidy({ ...before, ...part }));
  const mine = (groups.data?.objects ?? []).filter(({ members }) =>
    members.some((member) => 'seat' in member && member.seat === seat.id),
  );
  return (
    <PageFrame
      title={seat.name}
      term="seat"
      text={`Seat, signed on to by dialling ${seat.extension}`}
      back={{ path: '/groups', label: 'Back to groups and menus' }}
      bar={<ObjectBar work={work} />}
    >
      <WithFindings subject={`seat/${page.object.id}`}>
        <SeatNowPart seat={page.object.id} name={page.object.name} />
        <Section title="Takes calls of">
          {groups.isPending ? <Skeleton rows={1} /> : null}
          {groups.isSuccess && mine.length === 0 ? (
            <Empty title="No group yet" text="Add this seat to the members of a group." />
          ) : null}
          <LinkRows>
            {mine.map(({ id, name, extension }) => (
              <LinkRow key={id} title={name} text={extension} href={`/groups/${encodeURIComponent(id)}`} />
            ))}
          </LinkRows>
        </Section>
        {canEdit ? (
          <>
            <Section title="What it is">
              <Field
                label={fieldLabel('seat', 'name')}
                value={seat.name}
                onChange={(name) => name.trim() && set({ name })}
              />
              <Field
                label="Extension to sign on with"
                keyboard="phone-pad"
                mono
                value={seat.extension}
                onChange={(text) => {
                  const extension = text.replace(/\D/g, '');
                  if (extension) set({ extension });
                }}
              />
            </Section>
            <Section title="Its calls">
              <CheckedField
                label={fieldLabel('seat', 'callsAtOnce')}
                value={seat.callsAtOnce ?? DEFAULT_SEAT.callsAtOnce}
                show={String}
                read={countIn(100)}
                onChange={(callsAtOnce) => set({ callsAtOnce })}
              />
              <TimeField
                label="Rings for, where its group goes by rank"
                value={seat.ringMs ?? DEFAULT_SEAT.ringMs}
                least={1}
                step={1000}
                onChange={(ringMs) => ringMs !== null && set({ ringMs })}
              />
              <TimeField
                label="Wrap-up after a call"
                term="wrap-up"
                value={seat.wrapUpMs ?? DEFAULT_SEAT.wrapUpMs}
                least={0}
                step={1000}
                onChange={(wrapUpMs) => wrapUpMs !== null && set({ wrapUpMs })}
              />
              <CheckedField
                label="Paused after so many missed calls in a row"
                value={seat.missesUntilPaused ?? DEFAULT_SEAT.missesUntilPaused}
                show={String}
                read={countIn(1000)}
                onChange={(missesUntilPaused) => set({ missesUntilPaused })}
              />
              <Tick
                label="A phone outside stays connected from signing on to signing off"
                on={seat.holdOpen === true}
                onPress={() => set({ holdOpen: seat.holdOpen === true ? undefined : true })}
              />
            </Section>
            <UnattendedPart seat={seat} onChange={(unattended) => set({ unattended })} />
            <Section>
              <RemovePart
                kind="seat"
                id={page.object.id}
                name={page.object.name}
                label="Remove this seat"
                onRemoved={() => router.navigate('/groups')}
              />
            </Section>
          </>
        ) : null}
      </WithFindings>
    </PageFrame>
  );
}

/** What becomes of the seat's calls where nobody needs to sit at it. */
function UnattendedPart({
  seat: { unattended },
  onChange,
}: {
  readonly seat: Seat;
  readonly onChange: (unattended: Unattended | undefined) => void;
}) {
  const passing = unattended && 'passTo' in unattended ? unattended : null;
  const isNumber = passing !== null && 'number' in passing.passTo;
  return (
    <Section title="Who takes its calls">
      <Choice
        label="Who"
        titled
        value={wayOf(unattended)}
        options={WAYS}
        onChange={(way) => onChange(FRESH[way])}
      />
      {passing ? (
        <>
          <Field
            label={
              isNumber ? 'Number, with + and country code' : 'SIP address, such as sip:desk@partner.example'
            }
            mono
            keyboard={isNumber ? 'phone-pad' : 'default'}
            value={'number' in passing.passTo ? passing.passTo.number : passing.passTo.sip}
            onChange={(text) => {
              const value = text.replace(/\s/g, '');
              const accepted = passing.confirm === undefined ? {} : { confirm: passing.confirm };
              onChange(
                isNumber
                  ? { passTo: { number: value }, ...accepted }
                  : { passTo: { sip: value }, ...accepted },
              );
            }}
          />
          <Choice
            label="What is pressed there to accept"
            value={passing.confirm ?? (isNumber ? 'key' : 'none')}
            options={CONFIRMS.map((value) => ({ value, label: CONFIRM_WORDS[value] }))}
            onChange={(confirm) => onChange({ ...passing, confirm })}
          />
        </>
      ) : null}
      {unattended && 'play' in unattended ? (
        <>
          <PlayedPart play={unattended.play} onChange={(play) => onChange({ ...unattended, play })} />
          <TimeField
            label="Keys are listened for, after it"
            value={unattended.thenMs ?? 0}
            least={0}
            step={1000}
            onChange={(thenMs) => thenMs !== null && onChange({ ...unattended, thenMs })}
          />
          <Words size="small" tone="soft">
            Keys that are pressed while it plays, and for so long after it, are heard; then the call ends.
          </Words>
        </>
      ) : null}
    </Section>
  );
}

/** The recording that a seat plays by itself. */
function PlayedPart({
  play,
  onChange,
}: {
  readonly play: string;
  readonly onChange: (play: string) => void;
}) {
  const recordings = useRecordings();
  const known = recordings.data?.recordings.find(({ id }) => String(id) === play);
  return (
    <>
      {known ? (
        <RecordingHeard recording={known} />
      ) : (
        <Words>
          {play === '' || recordings.isPending
            ? 'None is chosen yet.'
            : `There is no recording “${play}” here.`}
        </Words>
      )}
      <RecordingPick value={known?.id ?? null} onChange={(id) => onChange(String(id))} />
    </>
  );
}
