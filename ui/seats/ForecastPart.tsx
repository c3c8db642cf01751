import { useState } from 'react';
import { View } from 'react-native';
import { readForecast, staffing, type ForecastSlot, type Wanted } from '../../core/staffing';
import { Field, Section } from '../kit/parts';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';

const asText = (slots: readonly ForecastSlot[]) => slots.map(({ at, calls }) => `${at} ${calls}`).join('\n');
const EXAMPLE: readonly ForecastSlot[] = [
  { at: '08:00', calls: 6 },
  { at: '08:30', calls: 14 },
  { at: '09:00', calls: 18 },
  { at: '09:30', calls: 12 },
];

/** How many seats each half hour of a day needs, from what was counted or from a forecast that is typed. */
export function ForecastPart({
  slots,
  handleS,
  patienceS,
  wanted,
}: {
  readonly slots: readonly ForecastSlot[];
  readonly handleS: number;
  readonly patienceS?: number;
  readonly wanted: Wanted;
}) {
  const palette = usePalette();
  const [text, setText] = useState(() => asText(slots.length > 0 ? slots : EXAMPLE));
  const read = readForecast(text);
  const staffed = read.ok
    ? staffing(read.slots, { handleS, ...(patienceS === undefined ? {} : { patienceS }) }, wanted)
    : [];
  const most = Math.max(1, ...staffed.map(({ seats }) => seats ?? 0));
  return (
    <Section title="By half hour">
      <Words tone="soft">
        {slots.length > 0
          ? 'The calls of a day as they were counted; type or paste a forecast in their place.'
          : 'An example: type or paste your own forecast.'}
      </Words>
      <View style={{ maxWidth: 320 }}>
        <Field
          label="Half hours and calls, a line each"
          mono
          multiline
          value={text}
          onChange={setText}
          error={read.ok ? null : `Line ${read.line}: ${read.message}`}
        />
      </View>
      <View role="list" aria-label="Seats by half hour">
        {staffed.map(({ at, calls, seats }) => (
          <View
            role="listitem"
            key={at}
            style={{ flexDirection: 'row', alignItems: 'center', gap: space(2), minHeight: 28 }}
          >
            <Words mono size="small" style={{ width: 48 }}>
              {at}
            </Words>
            <View style={{ flex: 1, maxWidth: 320 }}>
              <View
                style={{
                  height: 12,
                  borderRadius: 2,
                  backgroundColor: palette.kelp,
                  width: `${Math.round((100 * (seats ?? most)) / most)}%`,
                }}
              />
            </View>
            <Words size="small">
              {seats === null
                ? 'over 10,000 seats'
                : `${seats} ${seats === 1 ? 'seat' : 'seats'} for ${calls} calls`}
            </Words>
          </View>
        ))}
      </View>
    </Section>
  );
}
