import { createContext, useContext } from 'react';
import { useWindowDimensions } from 'react-native';
import { configureFonts, MD3DarkTheme, MD3LightTheme, type MD3Theme } from 'react-native-paper';

/** Paper, ink and lines, one accent; three more for what became of a call. AA contrast on both grounds. */
export interface Palette {
  readonly dark: boolean;
  readonly ground: string;
  readonly sheet: string;
  readonly tint: string;
  readonly ink: string;
  readonly soft: string;
  readonly line: string;
  readonly accent: string;
  readonly onAccent: string;
  readonly kelp: string;
  readonly ochre: string;
  readonly rust: string;
  readonly rings: string;
  readonly shade: string;
}

export const LIGHT: Palette = {
  dark: false,
  ground: '#F7F3EA',
  sheet: '#FFFEF9',
  tint: '#EFE7D9',
  ink: '#1B2B34',
  soft: '#55626A',
  line: '#D9D0BF',
  accent: '#B94717',
  onAccent: '#FFFFFF',
  kelp: '#2F6B55',
  ochre: '#8A5D10',
  rust: '#9A3324',
  rings: '#A8741A',
  shade: 'rgba(27,43,52,0.45)',
};

export const DARK: Palette = {
  dark: true,
  ground: '#12191D',
  sheet: '#1A2429',
  tint: '#26333A',
  ink: '#EDE7DA',
  soft: '#A9B4B8',
  line: '#3A474E',
  accent: '#F08A57',
  onAccent: '#1B1005',
  kelp: '#7FC2A7',
  ochre: '#E0AE57',
  rust: '#F0968A',
  rings: '#C9953A',
  shade: 'rgba(0,0,0,0.6)',
};

/** The palette of the day or the night: chosen once, above all screens, for there are hundreds of texts below. */
export const PaletteContext = createContext<Palette>(LIGHT);
export const usePalette = (): Palette => useContext(PaletteContext);

/** A length that grows with the text size that is set in the browser; `px` is what it is at the usual 16. */
export const rem = (px: number): number => `${px / 16}rem` as unknown as number;
/** How large text is set in the browser: 1 as it usually is. A page that is open takes it when it is loaded anew. */
const TEXT_SCALE =
  typeof document === 'undefined' || typeof getComputedStyle === 'undefined'
    ? 1
    : Math.max(1, (parseFloat(getComputedStyle(document.documentElement).fontSize) || 16) / 16);
/** The height of a row that holds text and is drawn before it is measured, in px. */
export const rowHeight = (px: number): number => Math.round(px * TEXT_SCALE);
/** Sizes of type, in px at the usual text size: five, no more. */
export const SIZE = { small: 13, body: 15, lead: 17, title: 20, page: 25 } as const;
export type Size = keyof typeof SIZE;
export const FONT = "Hyperlegible, 'Helvetica Neue', Arial, sans-serif";
export const MONO = "Mono, 'DejaVu Sans Mono', monospace";
/** Steps of four. */
export const space = (n: number): number => n * 4;
export const CORNER = 6;
export const TARGET = 44;

export const useIsWide = (): boolean => useWindowDimensions().width >= 900;
export const useIsVeryWide = (): boolean => useWindowDimensions().width >= 1280;

/** React Native Paper's theme in our colours. */
export function paperTheme(palette: Palette): MD3Theme {
  const base = palette.dark ? MD3DarkTheme : MD3LightTheme;
  return {
    ...base,
    roundness: 2,
    fonts: configureFonts({ config: { fontFamily: FONT, letterSpacing: 0 } }),
    colors: {
      ...base.colors,
      primary: palette.accent,
      onPrimary: palette.onAccent,
      primaryContainer: palette.tint,
      onPrimaryContainer: palette.ink,
      secondary: palette.kelp,
      secondaryContainer: palette.tint,
      onSecondaryContainer: palette.ink,
      background: palette.ground,
      onBackground: palette.ink,
      surface: palette.sheet,
      onSurface: palette.ink,
      surfaceVariant: palette.tint,
      onSurfaceVariant: palette.soft,
      outline: palette.soft,
      outlineVariant: palette.line,
      error: palette.rust,
      elevation: {
        ...base.colors.elevation,
        level1: palette.sheet,
        level2: palette.sheet,
        level3: palette.sheet,
      },
    },
  };
}
