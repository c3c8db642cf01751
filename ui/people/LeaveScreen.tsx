import { useState } from 'react';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import { useQuery } from '@tanstack/react-query';
import type { Loose } from '../../core/changes/leaver';
import type { SlateEntry } from '../../core/changes/slate';
import { api, messageOf } from '../data/api';
import { personKey, usePersonPage } from '../data/data';
import { usePeople } from '../data/people';
import { useRemoveDrill } from '../data/findings';
import { addSlate, putOnSlate } from '../data/slates';
import { useSlateInWork } from '../data/slate';
import { space, usePalette } from '../kit/theme';
import { PageFrame } from '../kit/PageFrame';
import { PersonSearch } from '../edit/Search';
import { Button, Choice, Section, Skeleton, Tick, Trouble } from '../kit/parts';
import { WorkBar } from '../kit/WorkBar';
import { Words } from '../kit/Words';

interface Answer {
  readonly loose: readonly Loose[];
  readonly entries: readonly SlateEntry[];
  readonly drills: readonly string[];
  readonly phones: readonly string[];
}
type Way = 'nobody' | 'stand' | 'successor';

/** Somebody leaves: everything that leads to them, what becomes of it, and the changes for a slate. */
export function LeaveScreen({ id }: { readonly id: string }) {
  const router = useRouter();
  const page = usePersonPage(id);
  const people = usePeople();
  const [way, setWay] = useState<Way>('nobody');
  const [heir, setHeir] = useState<string | null>(null);
  const [handLine, setLine] = useState(true);
  const [handPhones, setPhones] = useState(true);
  const [withDrills, setDrills] = useState(true);
  const [busy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const choose = useSlateInWork((state) => state.choose);
  const remove = useRemoveDrill();
  const isReady = way === 'nobody' || heir !== null;
  const given = {
    successor: way === 'successor' ? heir : null,
    stand: way === 'stand' ? heir : null,
    handLine,
    handPhones,
  };
  const answer = useQuery({
    queryKey: [personKey(id), 'leaving', given],
    queryFn: () => api<Answer>('POST', `${personKey(id)}/leaving`, given),
    enabled: isReady,
    placeholderData: (before) => before,
  });
  if (page.isError) return <Trouble message={messageOf(page.error)} retry={() => void page.refetch()} />;
  if (page.isPending) return <Skeleton />;
  const { person } = page.data;
  const heirName = people.data?.people.find((each) => each.id === heir)?.name;
  const go = async () => {
    if (!answer.data) return;
    setBusy(true);
    setTrouble(null);
    try {
      const slate = await addSlate(`${person.name} leaves`);
      choose(slate);
      await putOnSlate(slate, answer.data.entries);
      if (withDrills) for (const drill of answer.data.drills) await remove.mutateAsync(drill);
      router.navigate(`/slates/${slate}`);
    } catch (error) {
      setTrouble(messageOf(error));
    } finally {
      setBusy(false);
    }
  };
  return (
    <PageFrame
      title={`${person.name} leaves`}
      back={{ path: `/people/${encodeURIComponent(id)}`, label: `Back to ${person.name}` }}
      bar={
        <Bar
          busy={busy}
          trouble={trouble}
          count={answer.data?.entries.length ?? 0}
          disabled={!isReady || !answer.data || answer.isPlaceholderData}
          onPress={() => void go()}
        />
      }
    >
      <Section>
        <Choice
          titled
          label="Who takes over"
          value={way}
          options={[
            { value: 'nobody', label: 'Nobody' },
            { value: 'stand', label: 'Somebody gets the calls' },
            { value: 'successor', label: 'A successor' },
          ]}
          onChange={setWay}
        />
        {way === 'nobody' ? null : (
          <>
            <Words strong={heirName !== undefined} tone={heirName ? 'ink' : 'soft'}>
              {heirName ?? 'Nobody chosen yet'}
            </Words>
            <PersonSearch
              label={way === 'successor' ? 'Choose the successor' : 'Choose who gets the calls'}
              onPick={(picked) => setHeir(picked === id ? null : picked)}
            />
          </>
        )}
        {way === 'successor' ? (
          <>
            <Tick
              label="The successor gets line and numbers"
              on={handLine}
              onPress={() => setLine(!handLine)}
            />
            <Tick
              label={`The successor gets the phones${answer.data?.phones.length ? `: ${answer.data.phones.join(', ')}` : ''}`}
              on={handPhones}
              onPress={() => setPhones(!handPhones)}
            />
            <Words size="small" tone="soft">
              Private mobiles and landlines go to nobody.
            </Words>
          </>
        ) : null}
      </Section>
      {answer.isError ? <Trouble message={messageOf(answer.error)} /> : null}
      {answer.data ? (
        <Section
          title="What leads there, and what becomes of it"
          aside={<Words tone="soft">{answer.data.loose.length}</Words>}
        >
          <View role="list">
            {answer.data.loose.map((loose, i) => (
              <LooseRow key={`${loose.kind}${loose.where.id}${i}`} loose={loose} />
            ))}
          </View>
          {answer.data.drills.length > 0 ? (
            <Tick
              label="Remove the drills that are about them; they can be restored from the record"
              on={withDrills}
              onPress={() => setDrills(!withDrills)}
            />
          ) : null}
        </Section>
      ) : isReady ? (
        <Skeleton rows={4} />
      ) : null}
    </PageFrame>
  );
}

function LooseRow({ loose }: { readonly loose: Loose }) {
  const palette = usePalette();
  return (
    <View
      role="listitem"
      style={{ paddingVertical: space(2), borderBottomWidth: 1, borderColor: palette.line, gap: 2 }}
    >
      <Words>{`${loose.says}.`}</Words>
      <Words size="small" tone="soft">{`→ ${loose.proposal}`}</Words>
    </View>
  );
}

function Bar({
  busy,
  trouble,
  count,
  disabled,
  onPress,
}: {
  readonly busy: boolean;
  readonly trouble: string | null;
  readonly count: number;
  readonly disabled: boolean;
  readonly onPress: () => void;
}) {
  return (
    <WorkBar label="What is to be done">
      {trouble ? (
        <Words tone="rust" live>
          {trouble}
        </Words>
      ) : null}
      <View style={{ flexDirection: 'row' }}>
        <Button
          kind="main"
          grow
          label={`Put ${count} ${count === 1 ? 'change' : 'changes'} on a new slate`}
          busy={busy}
          disabled={disabled}
          onPress={onPress}
        />
      </View>
    </WorkBar>
  );
}
