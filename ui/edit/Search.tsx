import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { useQuery } from '@tanstack/react-query';
import { api } from '../data/api';
import { usePeople, usePeopleFound } from '../data/people';
import { space, TARGET, usePalette } from '../kit/theme';
import { Field, Skeleton } from '../kit/parts';
import { Words } from '../kit/Words';

export interface Found {
  readonly key: string;
  readonly title: string;
  readonly text: string;
  readonly onPick: () => void;
}

/** Results of a search, each a row to tap. */
export function FoundList({ found }: { readonly found: readonly Found[] }) {
  const palette = usePalette();
  return (
    <View
      style={{ borderWidth: found.length ? 1 : 0, borderColor: palette.line, backgroundColor: palette.sheet }}
    >
      {found.map((each, i) => (
        <Pressable
          key={each.key}
          role="button"
          onPress={each.onPick}
          style={({ pressed }) => ({
            minHeight: TARGET,
            paddingHorizontal: space(3),
            paddingVertical: space(2),
            borderTopWidth: i > 0 ? 1 : 0,
            borderColor: palette.line,
            backgroundColor: pressed ? palette.tint : palette.sheet,
          })}
        >
          <Words strong>{each.title}</Words>
          <Words size="small" tone="soft">
            {each.text}
          </Words>
        </Pressable>
      ))}
    </View>
  );
}

const MOST = 6;

/** A search over everybody; what is picked is told. */
export function PersonSearch({
  label,
  except,
  onPick,
}: {
  readonly label: string;
  readonly except?: string;
  readonly onPick: (id: string, name: string) => void;
}) {
  const people = usePeople();
  const [text, setText] = useState('');
  const { people: fitting, isLooking } = usePeopleFound({ query: text, status: null, reach: null });
  const found = text.trim() === '' ? [] : fitting.filter(({ id }) => id !== except).slice(0, MOST);
  return (
    <View style={{ gap: space(2) }}>
      <Field
        label={label}
        value={text}
        onChange={setText}
        placeholder="Name, extension or number"
        hint={text.trim() === '' || found.length > 0 ? null : isLooking ? 'Looking…' : 'Nobody fits'}
      />
      {people.isPending ? <Skeleton rows={2} /> : null}
      <FoundList
        found={found.map((p) => ({
          key: p.id,
          title: p.name,
          text: p.extension,
          onPick: () => {
            setText('');
            onPick(p.id, p.name);
          },
        }))}
      />
    </View>
  );
}

/** All groups or menus by name. */
export const useNamed = (
  kind: 'access' | 'group' | 'menu' | 'seat' | 'schedule' | 'status' | 'permission' | 'site' | 'template',
) =>
  useQuery({
    queryKey: [`/api/objects/${kind}`],
    queryFn: () =>
      api<{
        objects: readonly {
          id: string;
          name: string;
          extension?: string;
          number?: string;
          numbers?: readonly string[];
        }[];
      }>('GET', `/api/objects/${kind}`),
  });
