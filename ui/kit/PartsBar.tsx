import { useEffect, useRef, useState, type ReactNode } from 'react';
import { Pressable, ScrollView, View, type NativeScrollEvent, type NativeSyntheticEvent } from 'react-native';
import { space, TARGET, usePalette } from './theme';
import { Words } from './Words';

/** While a page still grows above a part that was gone to, it is gone to again: after so many ms each. */
const AGAIN_MS = [150, 500, 1200, 2500];

/** Where the parts of a long page begin, and which of them is in view. */
export function useParts<T extends string>(first: T) {
  const scroll = useRef<ScrollView>(null);
  const nodes = useRef<Partial<Record<T, HTMLElement | null>>>({});
  const timers = useRef<ReturnType<typeof setTimeout>[]>([]);
  const [current, setCurrent] = useState<T>(first);
  const stop = () => {
    timers.current.forEach(clearTimeout);
    timers.current = [];
  };
  useEffect(() => stop, []);
  const show = (part: T) => nodes.current[part]?.scrollIntoView({ block: 'start' });
  return {
    scroll,
    current,
    /** Keeps the node with which a part begins. */
    at: (part: T) => (node: View | null) => {
      nodes.current[part] = node as unknown as HTMLElement | null;
    },
    go: (part: T) => {
      stop();
      setCurrent(part);
      show(part);
      timers.current = AGAIN_MS.map((ms) => setTimeout(() => show(part), ms));
    },
    /** Whoever scrolls by hand is not taken back. */
    byHand: { onWheel: stop, onTouchMove: stop, onKeyDown: stop },
    onScroll: ({ nativeEvent }: NativeSyntheticEvent<NativeScrollEvent>) => {
      if (timers.current.length > 0) return;
      const { contentOffset, layoutMeasurement, contentSize } = nativeEvent;
      const ground = (scroll.current as unknown as { getScrollableNode?: () => HTMLElement } | null)
        ?.getScrollableNode?.()
        .getBoundingClientRect().top;
      // The last part may be too short to come to the top.
      if (ground === undefined || contentOffset.y + layoutMeasurement.height >= contentSize.height - 8)
        return;
      const begun = (Object.entries(nodes.current) as [T, HTMLElement | null][])
        .map(([part, node]) => [part, (node?.getBoundingClientRect().top ?? Infinity) - ground] as const)
        .filter(([, top]) => top <= TARGET)
        .sort((a, b) => b[1] - a[1]);
      if (begun[0]) setCurrent(begun[0][0]);
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

/** Room that is left beside the part that is open, in px. */
const BESIDE = 24;
/** Scrolls the row sideways until the part that is open is seen whole; the page itself stays where it is. */
function bringIntoRow(part: HTMLElement | null): void {
  const row = part?.closest?.('[role="navigation"]')?.firstElementChild;
  if (!part || !row) return;
  const [seen, whole] = [row.getBoundingClientRect(), part.getBoundingClientRect()];
  if (whole.right > seen.right) row.scrollLeft += whole.right - seen.right + BESIDE;
  else if (whole.left < seen.left) row.scrollLeft -= seen.left - whole.left + BESIDE;
}

export function PartLabel({ title, on }: { readonly title: string; readonly on: boolean }) {
  const palette = usePalette();
  const own = useRef<View>(null);
  useEffect(() => {
    if (on) bringIntoRow(own.current as unknown as HTMLElement | null);
  }, [on]);
  return (
    <View
      ref={own}
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
