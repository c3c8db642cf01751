import { memo, useState } from 'react';
import { Pressable } from 'react-native';
import { useRouter } from 'expo-router';
import { termOf, type TermId } from '../../core/glossary';
import { Button } from './controls';
import { Sheet } from './Sheet';
import { CORNER, TARGET, usePalette } from './theme';
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
        aria-label={`What is ${name.charAt(0).toLowerCase()}${name.slice(1)}?`}
        onPress={() => setOpen(true)}
        style={({ pressed }) => ({
          width: TARGET,
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
