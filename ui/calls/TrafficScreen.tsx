import { useState } from 'react';
import { View } from 'react-native';
import type { TrafficPage } from '../../api/records';
import { useLongWork } from '../data/calls';
import { useSlateInWork } from '../data/slate';
import { PageFrame } from '../kit/PageFrame';
import { Fold, Section, Tick } from '../kit/parts';
import { usePalette } from '../kit/theme';
import { Words } from '../kit/Words';
import { CallPages } from './CallPages';
import { DaysChoice, Figures, HourRows, Worked, type Days } from './parts';
import { sayShare } from './words';

const erlangs = (value: number) => value.toFixed(value < 10 ? 2 : 1);

/** What the trunks carried, by hour, and how many channels they need. */
export function TrafficScreen() {
  const [days, setDays] = useState<Days>(28);
  const [withSlate, setWithSlate] = useState(false);
  const slate = useSlateInWork((state) => state.current);
  const asked = withSlate && slate !== null ? `&slate=${slate}` : '';
  const work = useLongWork<TrafficPage>(`/api/calls/traffic?days=${days}${asked}`);
  return (
    <PageFrame
      title="Trunks"
      term="erlang"
      text="How much trunks carried, and the channels that takes"
      back={{ path: '/calls', label: 'Back to the calls' }}
    >
      <CallPages path="/calls/traffic" />
      <Section>
        <DaysChoice days={days} onDays={setDays} />
        {slate === null ? null : (
          <Tick
            label="And what the slate in work would add to the same calls"
            on={withSlate}
            onPress={() => setWithSlate(!withSlate)}
          />
        )}
      </Section>
      <Worked work={work} isEmpty={({ trunks }) => trunks.length === 0}>
        {(page) => (
          <>
            {page.trunks.map((trunk) => (
              <TrunkPart
                key={trunk.trunk}
                trunk={trunk}
                added={page.slate?.find((each) => each.trunk === trunk.name)?.added ?? null}
              />
            ))}
          </>
        )}
      </Worked>
    </PageFrame>
  );
}

function TrunkPart({
  trunk,
  added,
}: {
  readonly trunk: TrafficPage['trunks'][number];
  readonly added: readonly number[] | null;
}) {
  const palette = usePalette();
  const { name, channels, byHour, busiest, blocked, secondShare, channelsForOne, blockedNow } = trunk;
  const most = Math.max(0.01, ...byHour.map((hour) => hour.most));
  const [top] = busiest;
  const isSmall = channelsForOne === null || channelsForOne > channels;
  const sorted = [...(added ?? [])].sort((a, b) => a - b);
  return (
    <View style={{ borderTopWidth: 1, borderColor: palette.line }}>
      <Section title={`${name}: ${channels} channels`}>
        <Words strong tone={isSmall ? 'rust' : 'kelp'}>
          {top === undefined
            ? 'It carried no call.'
            : isSmall
              ? `In the busiest hour ${erlangs(top.erlangs)} channels were taken on average: ${sayShare(blockedNow)} of the calls would find none. ${channelsForOne ?? 'More than 10,000'} channels are needed for one in a hundred.`
              : `In the busiest hour ${erlangs(top.erlangs)} channels were taken on average, ${top.peak} at most. With ${channelsForOne} channels one call in a hundred would find none.`}
        </Words>
        <Words>
          {`${sayShare(secondShare)} of it are second channels: a call from outside that rings a mobile takes two.${
            blocked > 0 ? ` ${blocked} calls found no channel.` : ''
          }`}
        </Words>
        {added && sorted.length > 0 ? (
          <Words strong>
            {`The slate in work adds ${erlangs(sorted[Math.floor(sorted.length / 2)] ?? 0)} channels in the busiest hour of half of the days, at most ${erlangs(sorted.at(-1) ?? 0)}.`}
          </Words>
        ) : null}
        <HourRows
          label={`${name} by hour`}
          rows={byHour
            .filter((hour) => hour.most > 0)
            .map((hour) => ({
              hour: hour.hour,
              share: hour.mean / most,
              says: `${erlangs(hour.mean)}, most ${erlangs(hour.most)}`,
            }))}
        />
        <Fold title="The busiest hours">
          <Section>
            <Figures
              label={`The busiest hours of ${name}`}
              headings={['Hour', 'Channels', 'Of these second', 'At once', 'Blocked']}
              rows={busiest.map((hour) => [
                `${hour.day} ${String(hour.hour).padStart(2, '0')}:00`,
                erlangs(hour.erlangs),
                erlangs(hour.second),
                String(hour.peak),
                String(hour.blocked),
              ])}
            />
          </Section>
        </Fold>
      </Section>
    </View>
  );
}
