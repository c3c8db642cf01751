import { useState } from 'react';
import { View } from 'react-native';
import type { LineCheck } from '../../api/lines';
import type { BoxFile, SiteLine } from '../../core/estate';
import { learnedOf } from '../../core/network';
import { lineAdvice, lineWords, qualityOfLine, type LineFigures } from '../../core/quality';
import { messageOf } from '../data/api';
import { useLines } from '../data/lines';
import { LinePlot } from '../drawings/LinePlot';
import { Button, Empty, Section, Skeleton } from '../kit/parts';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';
import { figuresOf, MAPPING_WORDS, measuredBy } from '../lines/words';

const SHOWN = 3;
const rounded = (value: number) => Math.round(value * 10) / 10;
/** A measurement as a site keeps it. */
const lineOfCheck = (at: string, figures: LineFigures): SiteLine => ({
  at,
  delayMs: rounded(figures.delayMs),
  jitterMs: rounded(figures.jitterMs),
  lossPercent: rounded(figures.lossPercent),
  ...(figures.burst > 1 ? { burst: rounded(figures.burst) } : {}),
});

/** The boxes of a site as they are being edited, and how they become others. */
export interface NetworkEdit {
  readonly boxes: readonly BoxFile[];
  readonly onBoxes: (boxes: readonly BoxFile[]) => void;
}

/** One measurement: its figures, its course, and what it says of the router. */
function Measured({
  line,
  open,
  onKeep,
  network,
}: {
  readonly line: LineCheck;
  readonly open: boolean;
  readonly onKeep: ((line: SiteLine) => void) | null;
  readonly network: NetworkEdit | null;
}) {
  const palette = usePalette();
  const [isOpen, setOpen] = useState(open);
  const { figures, mapping, outside } = line;
  const learned = network && learnedOf(network.boxes, line);
  const what = [
    figures ? lineWords[lineAdvice(qualityOfLine(figures).mos)] : null,
    line.by === null || line.by === 'udp'
      ? null
      : 'UDP does not pass here: the app came through another way.',
    mapping ? MAPPING_WORDS[mapping] : null,
    outside ? `Seen from outside as ${outside}.` : null,
  ].filter((each) => each !== null);
  return (
    <View style={{ gap: space(1), paddingBottom: space(2), borderBottomWidth: 1, borderColor: palette.line }}>
      <Words strong>{measuredBy(line)}</Words>
      <Words>{figuresOf(line)}</Words>
      {isOpen ? (
        <>
          {figures ? <LinePlot figures={figures} /> : null}
          {what.map((each) => (
            <Words key={each} size="small">
              {each}
            </Words>
          ))}
          {network && learned ? (
            <View style={{ gap: space(1) }}>
              <Words size="small" strong>
                Not yet in the network of this site:
              </Words>
              {learned.says.map((each) => (
                <Words key={each} size="small">{`${each}.`}</Words>
              ))}
              <View style={{ flexDirection: 'row' }}>
                <Button label="Put it into the network" onPress={() => network.onBoxes(learned.boxes)} />
              </View>
            </View>
          ) : null}
          {onKeep && figures ? (
            <View style={{ flexDirection: 'row' }}>
              <Button
                label="Use its figures for this site"
                onPress={() => onKeep(lineOfCheck(line.at, figures))}
              />
            </View>
          ) : null}
        </>
      ) : (
        <View style={{ flexDirection: 'row' }}>
          <Button kind="quiet" label={`Show ${measuredBy(line)}`} onPress={() => setOpen(true)} />
        </View>
      )}
    </View>
  );
}

/** What people measured of the line of a site, or one person anywhere, the latest first. */
export function LinesPart({
  of,
  id,
  onKeep = null,
  network = null,
}: {
  readonly of: 'site' | 'person';
  readonly id: string;
  readonly onKeep?: ((line: SiteLine) => void) | null;
  /** Where the network of the site may be edited. */
  readonly network?: NetworkEdit | null;
}) {
  const lines = useLines(of, id);
  const [all, setAll] = useState(false);
  const found = lines.data?.lines ?? [];
  return (
    <Section title={of === 'site' ? 'Measured here' : 'Lines measured'}>
      {lines.isPending ? <Skeleton rows={1} /> : null}
      {lines.isError ? <Words tone="rust">{messageOf(lines.error)}</Words> : null}
      {lines.data && found.length === 0 ? (
        <Empty
          title="Nothing measured yet"
          text="Whoever is there measures the line on their own page, in 20 s."
        />
      ) : null}
      {(all ? found : found.slice(0, SHOWN)).map((line, at) => (
        <View key={line.id}>
          {of === 'person' ? (
            <Words size="small" tone="soft">
              {line.place}
            </Words>
          ) : null}
          <Measured line={line} open={at === 0} onKeep={onKeep} network={network} />
        </View>
      ))}
      {!all && found.length > SHOWN ? (
        <View style={{ flexDirection: 'row' }}>
          <Button kind="quiet" label={`Show all ${found.length}`} onPress={() => setAll(true)} />
        </View>
      ) : null}
    </Section>
  );
}
