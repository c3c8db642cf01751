import type { ObjectPage } from '../../api/objects';
import type { SeatSitting } from '../../api/seats';
import { useMemo, useState } from 'react';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import { showNumber } from '../../core/calls/dialling';
import { GROUP_MODES, memberId, type Group, type GroupMode, type Member, type Seat } from '../../core/estate';
import { mergeSlices } from '../../core/editing';
import {
  ANY_OUTSIDE_CALLER,
  compileEstate,
  endpointName,
  runCall,
  type EstateIndex,
} from '../../core/calls/engine';
import { isoIn } from '../../core/calls/time';
import { phoneId } from '../../core/seats';
import { messageOf } from '../data/api';
import { useObject, useObjects, useObjectWork } from '../data/objects';
import { meetPerson, useMet } from '../data/met';
import { useSeatsNow, useSeatStates } from '../data/seats';
import { useCanEdit, useZone } from '../data/session';
import { sayState, sayWho } from '../seats/words';
import { space, usePalette } from '../kit/theme';
import { ObjectBar } from '../edit/ObjectBar';
import { RemovePart } from '../edit/RemovePart';
import { WithFindings } from '../findings/WithFindings';
import { PageFrame } from '../kit/PageFrame';
import { PermissionChoice } from '../edit/PermissionChoice';
import { EndingEditor } from '../plan/EndingEditor';
import { PersonSearch } from '../edit/Search';
import {
  Choice,
  Empty,
  Field,
  IconButton,
  LinkRow,
  LinkRows,
  Section,
  Skeleton,
  Trouble,
} from '../kit/parts';
import { TimeField } from '../kit/TimeField';
import { TryStrip } from '../calls/TryStrip';
import { WeekPart } from '../calls/WeekPart';
import { Words } from '../kit/Words';
import { Ask } from '../kit/Term';
import { fieldLabel } from '../kit/fieldLabel';

const MODES: Record<GroupMode, string> = {
  simultaneous: 'All together',
  linear: 'In order',
  circular: 'In turn, after the last',
  'longest-idle': 'Longest idle first',
  'by-rank': 'By rank',
};

export function GroupScreen({ id }: { readonly id: string }) {
  const page = useObject<Group>('group', id);
  if (page.isError) return <Trouble message={messageOf(page.error)} retry={() => void page.refetch()} />;
  if (page.isPending) return <Skeleton />;
  return <GroupView key={id} page={page.data} />;
}

function GroupView({ page }: { page: ObjectPage<Group> }) {
  const palette = usePalette();
  const canEdit = useCanEdit();
  const router = useRouter();
  const work = useObjectWork('group', page);
  const met = useMet((state) => state.part);
  const seats = useObjects<Seat>('seat');
  const group = work.object;
  const slice = useMemo(() => {
    const whole = mergeSlices(page.slice, met);
    return {
      ...whole,
      // A seat that is just being added is not in what was read of the group.
      ...(seats.data ? { seats: seats.data.objects } : {}),
      groups: whole.groups.map((each) => (each.id === group.id ? group : each)),
    };
  }, [page.slice, met, group, seats.data]);
  const index = useMemo(() => compileEstate(slice), [slice]);
  const seatsNow = useSeatsNow(slice, true);
  const states = useSeatStates((slice.seats?.length ?? 0) > 0);
  const zone = useZone();
  /** The seat that the next call rings first, if it is one. */
  const next = useMemo(() => {
    const { legs } = runCall(index, {
      from: ANY_OUTSIDE_CALLER,
      to: group.extension,
      at: isoIn(Date.now(), slice.timeZone),
      world: { seats: seatsNow },
    });
    const first = legs[0]?.endpoint;
    return Object.entries(seatsNow).find(([, { at }]) => at && phoneId(at) === first)?.[0];
  }, [index, group.extension, slice.timeZone, seatsNow]);
  const [now] = useState(() => Date.now());
  const set = (patch: Partial<Group>) => work.edit((before) => ({ ...before, ...patch }));
  const people = group.members.flatMap((member) => ('person' in member ? [member.person] : []));
  return (
    <PageFrame
      title={group.name}
      term="group"
      text={[group.extension, ...(group.numbers ?? []).map(showNumber)].join('  ')}
      back={{ path: '/groups', label: 'Back to groups and menus' }}
      bar={<ObjectBar work={work} />}
    >
      <WithFindings subject={`group/${page.object.id}`}>
        <TryStrip
          slice={slice}
          to={group.extension}
          seats={seatsNow}
          {...(work.changed ? {} : { whom: { group: group.id, name: group.name } })}
        />
        <Section title="Members">
          {group.members.length === 0 ? (
            <Empty title="Nobody yet" text="Calls for this group go straight to its ending." />
          ) : null}
          <View style={{ borderWidth: group.members.length ? 1 : 0, borderColor: palette.line }}>
            {group.members.map((member, i) => (
              <MemberRow
                key={`${nameOf(index, member)}-${i}`}
                name={nameOf(index, member)}
                state={
                  'seat' in member
                    ? saySeat(states.data?.seats[member.seat], zone, member.seat === next)
                    : null
                }
                i={i}
                of={group.members.length}
                onMove={
                  canEdit
                    ? (to) => {
                        const rest = group.members.filter((_, n) => n !== i);
                        set({ members: [...rest.slice(0, to), member, ...rest.slice(to)] });
                      }
                    : null
                }
                onRemove={() => set({ members: group.members.filter((_, n) => n !== i) })}
                rank={group.mode === 'by-rank' && 'seat' in member ? (member.rank ?? 1) : null}
                onRank={(rank) =>
                  set({ members: group.members.map((each, n) => (n === i ? { ...each, rank } : each)) })
                }
              />
            ))}
          </View>
          {canEdit ? (
            <PersonSearch
              label="Add a member"
              onPick={(person) =>
                void meetPerson(person).then(() => set({ members: [...group.members, { person }] }))
              }
            />
          ) : null}
          {canEdit ? (
            <SeatPick
              group={group}
              seats={seats.data?.objects ?? []}
              onPick={(seat) => set({ members: [...group.members, { seat }] })}
            />
          ) : null}
        </Section>
        <Section title="Seats and load">
          <LinkRows>
            <LinkRow
              title="How many seats are needed"
              text="By Erlang’s formulas, and by trying this group with 20,000 calls"
              href={`/groups/${encodeURIComponent(page.object.id)}/seats`}
            />
          </LinkRows>
        </Section>
        {canEdit ? (
          <Section title="How it rings">
            <Choice
              label="In which order"
              value={group.mode}
              options={GROUP_MODES.map((value) => ({ value, label: MODES[value] }))}
              onChange={(mode) => set({ mode })}
            />
            <TimeField
              label={group.mode === 'simultaneous' ? 'Rings for' : 'Each rings for'}
              value={group.ringMs}
              least={1}
              step={1000}
              onChange={(ms) => ms !== null && set({ ringMs: ms })}
            />
            <Field
              label={fieldLabel('group', 'name')}
              value={group.name}
              onChange={(name) => name.trim() && set({ name })}
            />
            <Words size="small" tone="soft">
              Dials out by the permission
            </Words>
            <PermissionChoice value={group.permission} onChange={(permission) => set({ permission })} />
            <EndingEditor
              label="Nobody answers"
              ending={group.ending}
              estate={slice}
              index={index}
              owner={null}
              holder={work.object}
              canQueue
              onPermission={(permission) => set({ permission })}
              onChange={(ending) => set({ ending })}
            />
          </Section>
        ) : null}
        {people.length > 0 ? (
          <WeekPart
            slice={slice}
            people={people}
            index={index}
            atMs={now}
            group={group.extension}
            onCell={() => undefined}
          />
        ) : null}
        {canEdit ? (
          <Section>
            <RemovePart
              kind="group"
              id={page.object.id}
              name={page.object.name}
              label="Remove this group"
              onRemoved={() => router.navigate('/groups')}
            />
          </Section>
        ) : null}
      </WithFindings>
    </PageFrame>
  );
}

/** The seats that can be added to a group. */
function SeatPick({
  group,
  seats,
  onPick,
}: {
  readonly group: Group;
  readonly seats: readonly Seat[];
  readonly onPick: (seat: string) => void;
}) {
  const taken = new Set(group.members.map(memberId));
  const free = seats.filter(({ id }) => !taken.has(id));
  if (free.length === 0) return null;
  return (
    <Choice
      label="Add a seat"
      value=""
      options={free.map(({ id, name }) => ({ value: id, label: name }))}
      onChange={onPick}
    />
  );
}

const nameOf = (index: EstateIndex, member: Member) =>
  'person' in member
    ? (index.people.get(member.person)?.name ?? member.person)
    : endpointName(index, memberId(member));

/** Who is at a seat and how it stands. */
const saySeat = (sitting: SeatSitting | undefined, zone: string, isNext: boolean): string =>
  `${isNext ? 'Next: ' : ''}${sitting ? `${sayWho(sitting)}: ${sayState(sitting, zone)}` : 'Nobody is signed on'}`;

function MemberRow({
  name,
  state,
  i,
  of,
  onMove,
  onRemove,
  rank,
  onRank,
}: {
  name: string;
  /** Of a seat: who is there. */
  state: string | null;
  i: number;
  of: number;
  onMove: ((to: number) => void) | null;
  onRemove: () => void;
  /** Of a seat in a group that goes by rank. */
  rank: number | null;
  onRank: (rank: number) => void;
}) {
  const palette = usePalette();
  return (
    <View
      style={{
        flexDirection: 'row',
        flexWrap: 'wrap',
        alignItems: 'center',
        justifyContent: 'flex-end',
        minHeight: 52,
        paddingLeft: space(3),
        borderTopWidth: i > 0 ? 1 : 0,
        borderColor: palette.line,
        backgroundColor: palette.sheet,
      }}
    >
      <View style={{ flexGrow: 1, flexBasis: 200, flexShrink: 1, paddingVertical: space(1) }}>
        <Words strong>{name}</Words>
        {state === null ? null : (
          <Words size="small" tone="soft">
            {state}
          </Words>
        )}
      </View>
      <View style={{ flexDirection: 'row', alignItems: 'center' }}>
        {rank !== null ? <Words size="small">{`Rank ${rank}`}</Words> : null}
        {rank !== null && i === 0 ? <Ask term="rank" /> : null}
        {onMove ? (
          <>
            {rank !== null && rank > 1 ? (
              <IconButton icon="minus" label={`${name}: rank ${rank - 1}`} onPress={() => onRank(rank - 1)} />
            ) : null}
            {rank !== null && rank < 9 ? (
              <IconButton icon="add" label={`${name}: rank ${rank + 1}`} onPress={() => onRank(rank + 1)} />
            ) : null}
            {i > 0 ? <IconButton icon="up" label={`${name}: earlier`} onPress={() => onMove(i - 1)} /> : null}
            {i < of - 1 ? (
              <IconButton icon="down" label={`${name}: later`} onPress={() => onMove(i + 1)} />
            ) : null}
            <IconButton icon="close" label={`Remove ${name}`} onPress={onRemove} />
          </>
        ) : null}
      </View>
    </View>
  );
}
