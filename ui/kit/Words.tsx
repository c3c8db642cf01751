import type { ReactNode } from 'react';
import { StyleSheet, Text, type TextStyle } from 'react-native';
import { FONT, MONO, rem, SIZE, usePalette, type Palette, type Size } from './theme';

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

const made = new Map<string, TextStyle>();

/** Each of the few ways in which text is set is made a style once; a list of hundreds of texts then only names it. */
function textStyle(palette: Palette, tone: Tone, size: Size, strong: boolean, mono: boolean): TextStyle {
  const key = `${palette.dark} ${tone} ${size} ${strong} ${mono}`;
  let style = made.get(key);
  if (!style) {
    const fontSize = mono && size !== 'small' ? SIZE[size] - 1 : SIZE[size];
    style = StyleSheet.create({
      text: {
        color: palette[tone],
        fontFamily: mono ? MONO : FONT,
        fontSize: rem(fontSize),
        lineHeight: rem(Math.round(fontSize * 1.4)),
        fontWeight: strong ? '700' : '400',
      },
    }).text;
    made.set(key, style);
  }
  return style;
}

/** All text of the application is set by this. */
export function Words({
  children,
  size = 'body',
  strong = false,
  mono = false,
  tone = 'ink',
  lines,
  heading,
  live,
  style,
}: WordsProps) {
  const own = textStyle(usePalette(), tone, size, strong, mono);
  return (
    <Text
      {...(lines ? { numberOfLines: lines } : {})}
      {...(heading ? { role: 'heading', 'aria-level': heading } : {})}
      {...(live ? { 'aria-live': 'polite' } : {})}
      style={style ? [own, style] : own}
    >
      {children}
    </Text>
  );
}
