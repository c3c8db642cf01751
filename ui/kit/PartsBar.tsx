import { useRef, useState, type ReactNode } from 'react';
import {
  Pressable,
  ScrollView,
  View,
  type LayoutChangeEvent,
  type NativeScrollEvent,
  type NativeSyntheticEvent,
} from 'react-native';
import { space, TARGET, usePalette } from './theme';
import { Words } from './Words';

const GROWS_MS = 3000;

/** Where the parts of a long page begin, and which of them is in view. */
export function useParts<T extends string>(first: T) {
  const scroll = useRef<ScrollView>(null);
  const tops = useRef<Partial<Record<T, number>>>({});
  /** What was gone to last: while the page above it still grows, it is gone to again. */
  const wanted = useRef<{ readonly part: T; readonly untilMs: number } | null>(null);
  const [current, setCurrent] = useState<T>(first);
  return {
    scroll,
    current,
    /** Notes where a part begins. */
    at: (part: T) => (event: LayoutChangeEvent) => {
      const { y } = event.nativeEvent.layout;
      tops.current[part] = y;
      if (wanted.current?.part === part && Date.now() < wanted.current.untilMs)
        scroll.current?.scrollTo({ y, animated: false });
    },
    go: (part: T) => {
      setCurrent(part);
      wanted.current = { part, untilMs: Date.now() + GROWS_MS };
      scroll.current?.scrollTo({ y: tops.current[part] ?? 0, animated: false });
    },
    onScroll: ({ nativeEvent }: NativeSyntheticEvent<NativeScrollEvent>) => {
      const { contentOffset, layoutMeasurement, contentSize } = nativeEvent;
      const isAtEnd = contentOffset.y + layoutMeasurement.height >= contentSize.height - 8;
      const begun = (Object.entries(tops.current) as [T, number][])
        .filter(([, top]) => top <= contentOffset.y + TARGET)
        .sort((a, b) => b[1] - a[1]);
      // The last part may be too short to come to the top.
      const isGoing = wanted.current !== null && Date.now() < wanted.current.untilMs;
      if (begun[0] && !isAtEnd && !isGoing) setCurrent(begun[0][0]);
    },
  };
}

/** The parts of a long page as a row that stays in view: each is one tap away. */
export function PartsBar<T extends string>({
  label,
  parts,
  current,
  onGo,
}: {
  readonly label: string;
  readonly parts: readonly { readonly part: T; readonly title: string }[];
  readonly current: T;
  readonly onGo: (part: T) => void;
}) {
  return (
    <PartsRow label={label}>
      {parts.map(({ part, title }) => (
        <Pressable
          key={part}
          role="button"
          {...({ 'aria-current': part === current ? 'true' : undefined } as object)}
          onPress={() => onGo(part)}
        >
          <PartLabel title={title} on={part === current} />
        </Pressable>
      ))}
    </PartsRow>
  );
}

/** A row of parts or pages that scrolls sideways where it is wider than the screen. */
export function PartsRow({ label, children }: { readonly label: string; readonly children: ReactNode }) {
  const palette = usePalette();
  return (
    <View
      role="navigation"
      aria-label={label}
      style={{ borderBottomWidth: 1, borderColor: palette.line, backgroundColor: palette.sheet }}
    >
      <ScrollView
        horizontal
        showsHorizontalScrollIndicator={false}
        contentContainerStyle={{ paddingHorizontal: space(2) }}
      >
        {children}
      </ScrollView>
    </View>
  );
}

export function PartLabel({ title, on }: { readonly title: string; readonly on: boolean }) {
  const palette = usePalette();
  return (
    <View
      style={{
        minHeight: TARGET,
        minWidth: TARGET,
        paddingHorizontal: space(3),
        alignItems: 'center',
        justifyContent: 'center',
        borderBottomWidth: 3,
        borderColor: on ? palette.accent : 'transparent',
      }}
    >
      <Words strong={on} tone={on ? 'ink' : 'soft'}>
        {title}
      </Words>
    </View>
  );
}
