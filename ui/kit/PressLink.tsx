import type { ReactNode } from 'react';
import { Pressable, type GestureResponderEvent, type StyleProp, type ViewStyle } from 'react-native';
import { useRouter } from 'expo-router';

/** The keys that ask the browser for something of its own: a new tab, a new window, a download. */
const isForBrowser = (event: GestureResponderEvent): boolean => {
  const { ctrlKey, metaKey, shiftKey } = event as unknown as Partial<MouseEvent>;
  return Boolean(ctrlKey || metaKey || shiftKey);
};

/** A real link to a page of the application: by tap, by Enter, into a new tab, copied. */
export function PressLink({
  href,
  label,
  current = false,
  screenOnly = false,
  inRow = false,
  onGo,
  style,
  children,
}: {
  readonly href: string;
  /** What it is called where its text does not say so. */
  readonly label?: string;
  /** Whether it leads to the page that is open. */
  readonly current?: boolean;
  /** Left out on paper. */
  readonly screenOnly?: boolean;
  /** It is what the arrows go to in a row of a table. */
  readonly inRow?: boolean;
  /** Done before the page changes. */
  readonly onGo?: () => void;
  readonly style: (state: { readonly pressed: boolean }) => StyleProp<ViewStyle>;
  readonly children: ReactNode;
}) {
  const router = useRouter();
  return (
    <Pressable
      role="link"
      {...(label === undefined ? {} : { 'aria-label': label })}
      {...({ href, 'aria-current': current ? 'page' : undefined } as object)}
      {...({
        dataSet: { ...(screenOnly ? { screen: '' } : {}), ...(inRow ? { row: '' } : {}) },
      } as object)}
      onPress={(event) => {
        if (isForBrowser(event)) return;
        event.preventDefault();
        onGo?.();
        router.navigate(href);
      }}
      style={style}
    >
      {children}
    </Pressable>
  );
}
