import type { ReactNode } from 'react';
import { Text, type TextStyle } from 'react-native';
import { FONT, MONO, SIZE, usePalette, type Palette, type Size } from '../theme';

type Tone = 'ink' | 'soft' | 'accent' | 'kelp' | 'ochre' | 'rust' | 'onAccent';

export interface WordsProps {
  readonly children: ReactNode;
  readonly size?: Size;
  readonly strong?: boolean;
  /** Numbers, times and addresses: figures of equal width. */
  readonly mono?: boolean;
  readonly tone?: Tone;
  readonly lines?: number;
  readonly heading?: 1 | 2 | 3;
  readonly live?: boolean;
  readonly style?: TextStyle;
}

/** All text of the application is set by this. */
export function Words({
  children,
  size = 'body',
  strong,
  mono,
  tone = 'ink',
  lines,
  heading,
  live,
  style,
}: WordsProps) {
  const palette: Palette = usePalette();
  const fontSize = mono && size !== 'small' ? SIZE[size] - 1 : SIZE[size];
  return (
    <Text
      {...(lines ? { numberOfLines: lines } : {})}
      {...(heading ? { role: 'heading', 'aria-level': heading } : {})}
      {...(live ? { 'aria-live': 'polite' } : {})}
      style={[
        {
          color: palette[tone],
          fontFamily: mono ? MONO : FONT,
          fontSize,
          lineHeight: Math.round(fontSize * 1.4),
          fontWeight: strong ? '700' : '400',
        },
        style,
      ]}
    >
      {children}
    </Text>
  );
}
