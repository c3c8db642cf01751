import { memo, useState } from 'react';
import { Pressable } from 'react-native';
import { useRouter } from 'expo-router';
import { termOf, type TermId } from '../../core/glossary';
import { Button } from './controls';
import { Sheet } from './Sheet';
import { CORNER, space, TARGET, usePalette } from './theme';
import { Words } from './Words';

/** A `?` beside a term, which says in one sentence what it is. */
export const Ask = memo(function Ask({ term }: { readonly term: TermId }) {
  const palette = usePalette();
  const router = useRouter();
  const [open, setOpen] = useState(false);
  const { term: name, means, example } = termOf(term);
  return (
    <>
      <Pressable
        role="button"
        aria-label={`Explain: ${name}`}
        onPress={() => setOpen(true)}
        style={({ pressed }) => ({
          width: TARGET,
          marginLeft: -space(2),
          height: TARGET,
          alignItems: 'center',
          justifyContent: 'center',
          borderRadius: CORNER,
          backgroundColor: pressed ? palette.tint : 'transparent',
        })}
      >
        <Words tone="soft" strong>
          ?
        </Words>
      </Pressable>
      {open ? (
        <Sheet title={name} open onClose={() => setOpen(false)}>
          <Words>{means}</Words>
          <Words tone="soft">{`For example: ${example}`}</Words>
          <Button
            kind="quiet"
            label="All terms"
            onPress={() => {
              setOpen(false);
              router.navigate(`/glossary#${term}`);
            }}
          />
        </Sheet>
      ) : null}
    </>
  );
});
