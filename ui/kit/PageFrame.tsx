import type { ReactNode } from 'react';
import { ScrollView, View } from 'react-native';
import { useRouter } from 'expo-router';
import { space, useIsWide } from './theme';
import type { TermId } from '../../core/glossary';
import { IconButton } from './parts';
import { Ask } from './Term';
import { usePageTitle } from './usePageTitle';
import { Words } from './Words';

/** A page of its own: the way back, its title, its content, and a bar at the bottom where there is one. */
export function PageFrame({
  title,
  term,
  text,
  back,
  aside,
  bar,
  children,
}: {
  readonly title: string;
  /** Explains the title: a `?` beside it. */
  readonly term?: TermId;
  readonly text?: string;
  readonly back: { readonly path: string; readonly label: string } | null;
  readonly aside?: ReactNode;
  readonly bar?: ReactNode;
  readonly children: ReactNode;
}) {
  const router = useRouter();
  const wide = useIsWide();
  usePageTitle(title);
  return (
    <View style={{ flex: 1 }}>
      <ScrollView
        tabIndex={0}
        style={{ flex: 1 }}
        contentContainerStyle={{ paddingBottom: space(8), maxWidth: 1188 }}
      >
        <View
          style={{
            flexDirection: 'row',
            alignItems: 'center',
            gap: space(2),
            padding: space(3),
            paddingLeft: back ? space(1) : space(4),
          }}
        >
          {back ? (
            <IconButton icon="back" label={back.label} onPress={() => router.navigate(back.path)} />
          ) : null}
          <View style={{ flex: 1 }}>
            <Words size={wide ? 'page' : 'title'} strong heading={1}>
              {title}
            </Words>
            {text ? (
              <Words mono={/^[\d+][\d+ ·]*$/.test(text)} size="small" tone="soft">
                {text}
              </Words>
            ) : null}
          </View>
          {term ? <Ask term={term} /> : null}
          {aside}
        </View>
        {children}
      </ScrollView>
      {bar}
    </View>
  );
}
