import { useState, type ReactNode } from 'react';
import { Pressable, StyleSheet, View, type StyleProp, type ViewStyle } from 'react-native';
import type { ReachState } from '../../core/calls/views';
import type { TermId } from '../../core/glossary';
import { space, TARGET, usePalette } from './theme';
import { messageOf } from '../data/api';
import { Icon } from './icons';
import { Button } from './controls';
import { PressLink } from './PressLink';
import { Ask } from './Term';
import { Words } from './Words';

export * from './controls';

/** The bar of a state: filled as far as it goes, struck through where all is lost. */
function Bar({ color, part, struck }: { color: string; part: number; struck: boolean }) {
  return (
    <View style={[marks.bar, { borderColor: color }]}>
      {part > 0 ? <View style={[marks.filled, { width: `${part * 100}%`, backgroundColor: color }]} /> : null}
      {struck ? <View style={[marks.struck, { backgroundColor: color }]} /> : null}
    </View>
  );
}

const marks = StyleSheet.create({
  bar: { width: 22, height: 9, borderWidth: 1.5, borderRadius: 2, overflow: 'hidden' },
  filled: { height: '100%' },
  struck: {
    position: 'absolute',
    left: -2,
    right: -2,
    top: 2.5,
    height: 1.5,
    transform: [{ rotate: '18deg' }],
  },
  withWord: { flexDirection: 'row', alignItems: 'center', gap: space(2) },
});

const REACH_WORDS: Record<ReachState, string> = { reached: 'Reached', 'at-risk': 'At risk', lost: 'Lost' };

/** How somebody can be reached: a full, half or open bar, and always the word. */
export function ReachMark({ state }: { readonly state: ReachState }) {
  const palette = usePalette();
  const color = { reached: palette.kelp, 'at-risk': palette.ochre, lost: palette.rust }[state];
  return (
    <View style={marks.withWord}>
      <Bar
        color={color}
        part={state === 'reached' ? 1 : state === 'at-risk' ? 0.5 : 0}
        struck={state === 'lost'}
      />
      <Words
        size="small"
        tone={state === 'reached' ? 'soft' : state === 'at-risk' ? 'ochre' : 'rust'}
        strong={state !== 'reached'}
      >
        {REACH_WORDS[state]}
      </Words>
    </View>
  );
}

const PROOF_WORDS = { holds: 'Holds', broken: 'Broken', open: 'Not proved' } as const;

/** Whether a promise holds: a full, open or half bar, and the word for those who do not see it. */
export function ProofMark({ state }: { readonly state: keyof typeof PROOF_WORDS }) {
  const palette = usePalette();
  const color = { holds: palette.kelp, broken: palette.rust, open: palette.ochre }[state];
  return (
    <View role="img" aria-label={PROOF_WORDS[state]}>
      <Bar
        color={color}
        part={state === 'holds' ? 1 : state === 'open' ? 0.5 : 0}
        struck={state === 'broken'}
      />
    </View>
  );
}

/** A part of a page with its heading. */
export function Section({
  title,
  term,
  aside,
  children,
  style,
}: {
  readonly title?: string;
  /** Explains the title: a `?` beside it. */
  readonly term?: TermId;
  readonly aside?: ReactNode;
  readonly children: ReactNode;
  readonly style?: StyleProp<ViewStyle>;
}) {
  return (
    <View style={[{ paddingHorizontal: space(4), paddingVertical: space(3), gap: space(2) }, style]}>
      {title || aside ? (
        <View
          style={{
            flexDirection: 'row',
            alignItems: 'center',
            justifyContent: 'space-between',
            minHeight: TARGET,
            gap: space(2),
          }}
        >
          {title ? (
            <View style={{ flexDirection: 'row', alignItems: 'center', flexShrink: 1 }}>
              <Words size="lead" strong heading={2} style={{ flexShrink: 1 }}>
                {title}
              </Words>
              {term ? <Ask term={term} /> : null}
            </View>
          ) : (
            <View />
          )}
          {aside}
        </View>
      ) : null}
      {children}
    </View>
  );
}

export function Sheeted({
  children,
  style,
}: {
  readonly children: ReactNode;
  readonly style?: StyleProp<ViewStyle>;
}) {
  const palette = usePalette();
  return (
    <View
      style={[
        {
          backgroundColor: palette.sheet,
          borderColor: palette.line,
          borderTopWidth: 1,
          borderBottomWidth: 1,
        },
        style,
      ]}
    >
      {children}
    </View>
  );
}

/** What stands where there is nothing yet, with what to do about it. */
export function Empty({
  title,
  text,
  action,
  heading = false,
}: {
  readonly title: string;
  /** The page has no other heading. */
  readonly heading?: boolean;
  readonly text: string;
  readonly action?: ReactNode;
}) {
  return (
    <View style={{ padding: space(6), gap: space(3), alignItems: 'flex-start' }}>
      <Words size="lead" strong {...(heading ? { heading: 1 } : {})}>
        {title}
      </Words>
      <Words tone="soft">{text}</Words>
      {action}
    </View>
  );
}

export function Trouble({ message, retry }: { readonly message: string; readonly retry?: () => void }) {
  return (
    <View role="alert" style={{ padding: space(4), gap: space(3), alignItems: 'flex-start' }}>
      <Words tone="rust" strong>
        {message}
      </Words>
      {retry ? <Button label="Try again" onPress={retry} /> : null}
    </View>
  );
}

/** Grey shapes in the place of rows that are on their way. */
export function Skeleton({ rows = 6 }: { readonly rows?: number }) {
  const palette = usePalette();
  return (
    <View role="status" aria-label="Loading" style={{ padding: space(4), gap: space(4) }}>
      {Array.from({ length: rows }, (_, i) => (
        <View key={i} style={{ gap: space(2) }}>
          <View
            style={{
              height: 14,
              width: `${45 + ((i * 17) % 40)}%`,
              backgroundColor: palette.tint,
              borderRadius: 3,
            }}
          />
          <View
            style={{
              height: 10,
              width: `${25 + ((i * 11) % 30)}%`,
              backgroundColor: palette.tint,
              borderRadius: 3,
            }}
          />
        </View>
      ))}
    </View>
  );
}

/** Rows that lead somewhere, as one block. */
export function LinkRows({ children }: { readonly children: ReactNode }) {
  const palette = usePalette();
  return <View style={{ borderWidth: 1, borderBottomWidth: 0, borderColor: palette.line }}>{children}</View>;
}

/** A row that leads to a page (`href`, a real link) or does something (`onPress`). */
export function LinkRow({
  title,
  text,
  mark,
  href,
  onPress,
}: {
  readonly title: string;
  readonly text?: string;
  readonly mark?: ReactNode;
} & (
  | { readonly href: string; readonly onPress?: () => void }
  | { readonly href?: undefined; readonly onPress: () => void }
)) {
  const palette = usePalette();
  const style = ({ pressed }: { readonly pressed: boolean }) =>
    ({
      minHeight: TARGET + 12,
      paddingHorizontal: space(4),
      paddingVertical: space(2),
      borderBottomWidth: 1,
      borderColor: palette.line,
      backgroundColor: pressed ? palette.tint : palette.sheet,
      justifyContent: 'center',
      gap: 2,
    }) as const;
  const inner = (
    <>
      <View style={{ flexDirection: 'row', justifyContent: 'space-between', gap: space(3) }}>
        <Words strong style={{ flexShrink: 1 }}>
          {title}
        </Words>
        {mark}
      </View>
      {text ? (
        <Words size="small" tone="soft">
          {text}
        </Words>
      ) : null}
    </>
  );
  return href === undefined ? (
    <Pressable role="button" onPress={onPress} style={style}>
      {inner}
    </Pressable>
  ) : (
    <PressLink href={href} style={style} {...(onPress ? { onGo: onPress } : {})}>
      {inner}
    </PressLink>
  );
}

/** Shows more where it is wanted. */
export function Fold({
  title,
  children,
  open = false,
}: {
  readonly title: string;
  readonly children: ReactNode;
  readonly open?: boolean;
}) {
  const palette = usePalette();
  const [isOpen, setOpen] = useState(open);
  return (
    <View>
      <Pressable
        role="button"
        aria-expanded={isOpen}
        onPress={() => setOpen(!isOpen)}
        style={{
          minHeight: TARGET,
          flexDirection: 'row',
          alignItems: 'center',
          gap: space(2),
          paddingHorizontal: space(4),
        }}
      >
        <Icon name={isOpen ? 'down' : 'next'} size={18} color={palette.ink} />
        <Words strong style={{ flex: 1 }}>
          {title}
        </Words>
      </Pressable>
      {isOpen ? children : null}
    </View>
  );
}

/** What the server said when it did not do as asked, beside what was asked; nothing while all is well. */
export function Refused({ error }: { readonly error: unknown }) {
  return error === null || error === undefined ? null : (
    <Words tone="rust" live>
      {messageOf(error)}
    </Words>
  );
}
