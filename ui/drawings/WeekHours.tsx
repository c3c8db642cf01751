import { Text as SvgText } from 'react-native-svg';
import { MONO, usePalette } from '../kit/theme';

/** The hours over a week that is drawn in half hours. @param left where midnight stands; @param cell the width of one */
export function WeekHours({ left, cell }: { readonly left: number; readonly cell: number }) {
  const palette = usePalette();
  return [0, 6, 12, 18, 24].map((hour) => (
    <SvgText
      key={hour}
      x={left + hour * 2 * cell}
      y={12}
      fontFamily={MONO}
      fontSize={12}
      fill={palette.soft}
      textAnchor={hour === 0 ? 'start' : hour === 24 ? 'end' : 'middle'}
    >
      {String(hour).padStart(2, '0')}
    </SvgText>
  ));
}
