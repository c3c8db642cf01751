import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { useRouter } from 'expo-router';
import { showNumbersIn } from '../../core/calls/dialling';
import type { FlowBranch, FlowNode } from '../../core/calls/views';
import { space, TARGET, usePalette } from '../kit/theme';
import { Icon } from '../kit/icons';
import { Button } from '../kit/parts';
import { Words } from '../kit/Words';

const PATHS = { person: '/people', group: '/groups', menu: '/menus', access: '/access' } as const;
const KIND_WORDS = { person: 'Person', group: 'Group', menu: 'Menu', access: 'Access number' } as const;

/** Where a number leads, as a tree: each branch with when it is taken; the ways open at the moment are strong. */
export function FlowTree({ node, isOpen = true }: { readonly node: FlowNode; readonly isOpen?: boolean }) {
  const palette = usePalette();
  const router = useRouter();
  const place = node.kind === 'end' || node.kind === 'again' ? null : node.kind;
  return (
    <View style={{ gap: space(1) }}>
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', columnGap: space(2) }}>
        {place ? (
          <>
            <Words size="small" tone="soft">
              {KIND_WORDS[place]}
            </Words>
            <View style={{ marginVertical: -space(2), marginLeft: -space(2) }}>
              <Button
                kind="quiet"
                label={node.title}
                onPress={() => router.navigate(`${PATHS[place]}/${encodeURIComponent(node.id)}`)}
              />
            </View>
          </>
        ) : (
          <Words strong={isOpen && node.branches.length === 0} tone={isOpen ? 'ink' : 'soft'}>
            {showNumbersIn(node.title)}
          </Words>
        )}
        {node.text ? (
          <Words size="small" tone="soft">
            {node.text}
          </Words>
        ) : null}
      </View>
      {node.branches.length > 0 ? (
        <View role="list" style={{ marginLeft: space(2), borderLeftWidth: 2, borderColor: palette.line }}>
          {node.branches.map((branch, i) => (
            <Branch key={`${branch.when}-${i}-${branch.isOpen}`} branch={branch} />
          ))}
        </View>
      ) : null}
    </View>
  );
}

function Branch({ branch }: { branch: FlowBranch }) {
  const palette = usePalette();
  const canFold = !branch.isOpen && branch.to.branches.length > 0;
  const [isShown, setShown] = useState(!canFold);
  return (
    <View
      role="listitem"
      style={{
        marginLeft: -2,
        borderLeftWidth: branch.isOpen ? 4 : 2,
        borderColor: branch.isOpen ? palette.accent : palette.line,
        paddingLeft: space(3),
        paddingVertical: space(1) + 2,
      }}
    >
      {canFold ? (
        <Pressable
          role="button"
          aria-expanded={isShown}
          onPress={() => setShown(!isShown)}
          style={{ minHeight: TARGET, flexDirection: 'row', alignItems: 'center', gap: space(2) }}
        >
          <Icon name={isShown ? 'down' : 'next'} size={16} color={palette.soft} />
          <Words size="small" tone="soft" style={{ flexShrink: 1 }}>
            {`${branch.when}${isShown ? '' : ': not at this moment'}`}
          </Words>
        </Pressable>
      ) : (
        <Words size="small" strong={branch.isOpen} tone={branch.isOpen ? 'accent' : 'soft'}>
          {branch.when}
        </Words>
      )}
      {isShown ? <FlowTree node={branch.to} isOpen={branch.isOpen} /> : null}
    </View>
  );
}
