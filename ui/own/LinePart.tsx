import { useState } from 'react';
import { View } from 'react-native';
import { ProgressBar } from 'react-native-paper';
import type { LineCheck, LineMeasured } from '../../api/lines';
import { messageOf } from '../data/api';
import { useMyLines, useSendLine } from '../data/lines';
import { LinePlot } from '../drawings/LinePlot';
import { Button, Choice, Field, Fold, Refused, Section } from '../kit/parts';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';
import type { MeasureStep } from '../lines/measure';
import { useMeasuring } from '../lines/useMeasuring';
import { adviceOf, figuresOf, measuredBy, OWN_ADVICE, WAY_NAMES } from '../lines/words';

const CALL_S = 20;
const ELSEWHERE = '';
const MOST_PLACE = 80;

const stepWords = (step: MeasureStep): string => {
  switch (step.step) {
    case 'address':
      return 'Looking how this line is seen from outside';
    case 'way':
      return `Trying ${WAY_NAMES[step.way]}`;
    case 'call':
      return `Measuring by ${WAY_NAMES[step.way]}: ${step.leftS} s left`;
  }
};
const shareOf = (step: MeasureStep): number =>
  step.step === 'call' ? 0.1 + (0.9 * (CALL_S - step.leftS)) / CALL_S : 0.05;

/** A line as its own person reads it. */
function Result({ line }: { readonly line: LineCheck }) {
  const advice = adviceOf(line);
  return (
    <View style={{ gap: space(1) }}>
      <Words strong live tone={advice === 'app' ? 'kelp' : advice === 'either' ? 'ink' : 'rust'}>
        {OWN_ADVICE[advice]}
      </Words>
      <Words size="small" tone="soft">{`${line.place}: ${figuresOf(line)}`}</Words>
      {line.figures ? <LinePlot figures={line.figures} /> : null}
    </View>
  );
}

/** Whether the app is good where one is: measured in the browser, kept with its place and date. */
export function LinePart() {
  const palette = usePalette();
  const mine = useMyLines();
  const send = useSendLine();
  const [where, setWhere] = useState<string | null>(null);
  const [place, setPlace] = useState('');
  const [shown, setShown] = useState(false);
  const sites = mine.data?.sites ?? [];
  const site = where ?? sites[0]?.id ?? ELSEWHERE;
  const keep = (measured: LineMeasured) =>
    send.mutate(
      { site: site === ELSEWHERE ? null : site, place: site === ELSEWHERE ? place : null, measured },
      { onSuccess: () => setShown(true) },
    );
  const { step, trouble, measure, stop } = useMeasuring(keep);
  const [latest, ...before] = mine.data?.lines ?? [];
  return (
    <Section title="Does the app work well here?">
      <Words size="small" tone="soft">
        Measures the line that you are on now with packets as of a call, for 20 s. Leave this page open
        meanwhile. Nothing is recorded of you but the figures.
      </Words>
      {mine.isError ? <Words tone="rust">{messageOf(mine.error)}</Words> : null}
      <Choice
        label="Where you are"
        titled
        value={site}
        options={[
          ...sites.map(({ id, name }) => ({ value: id, label: name })),
          { value: ELSEWHERE, label: 'Another place' },
        ]}
        onChange={setWhere}
      />
      {site === ELSEWHERE ? (
        <View style={{ maxWidth: 320 }}>
          <Field
            label="Which place, if you like"
            value={place}
            onChange={(text) => setPlace(text.slice(0, MOST_PLACE))}
          />
        </View>
      ) : null}
      <View style={{ flexDirection: 'row', gap: space(2) }}>
        <Button
          kind="main"
          label={step ? 'Measuring' : 'Measure my line'}
          disabled={step !== null}
          busy={send.isPending}
          onPress={() => void measure()}
        />
        {step ? <Button label="Stop" onPress={stop} /> : null}
      </View>
      {step ? (
        <View style={{ gap: space(1) }}>
          <ProgressBar progress={shareOf(step)} color={palette.accent} />
          <Words size="small" live={step.step !== 'call'}>
            {stepWords(step)}
          </Words>
        </View>
      ) : null}
      {trouble ? (
        <Words tone="rust" live>
          {trouble}
        </Words>
      ) : null}
      <Refused error={send.error} />
      {shown && latest && !step ? <Result line={latest} /> : null}
      {(shown ? before : (mine.data?.lines ?? [])).length > 0 ? (
        <Fold title="What you measured before">
          <View style={{ gap: space(2), paddingHorizontal: space(4) }}>
            {(shown ? before : (mine.data?.lines ?? [])).map((line) => (
              <View key={line.id}>
                <Words strong>{line.place}</Words>
                <Words size="small">{OWN_ADVICE[adviceOf(line)]}</Words>
                <Words size="small" tone="soft">{`${measuredBy(line)} · ${figuresOf(line)}`}</Words>
              </View>
            ))}
          </View>
        </Fold>
      ) : null}
    </Section>
  );
}
