import type { TableBody } from '../../api/routing';
import { type ReactNode } from 'react';
import { Pressable, View } from 'react-native';
import type { Fault, Route } from '../../core/estate';
import type { RouteFinding, RouteNames, TableMend } from '../../core/routes';

import { space, usePalette } from '../kit/theme';
import { Fold, IconButton } from '../kit/parts';
import { FindingRow } from './FindingRow';
import { Words } from '../kit/Words';

/** The findings of one row: faults and risks in view, notes behind a tap. */
export function Findings({
  all,
  ...rest
}: {
  all: readonly RouteFinding[];
  table: TableBody;
  names: RouteNames;
  onShow: (finding: RouteFinding) => void;
  onMend: ((mend: TableMend) => void) | null;
}) {
  const heavy = all.filter(({ weight }) => weight !== 'note');
  const notes = all.filter(({ weight }) => weight === 'note');
  return (
    <>
      {heavy.length > 0 ? (
        <View role="list">
          {heavy.map((finding, i) => (
            <FindingRow key={`${finding.kind} ${i}`} finding={finding} {...rest} />
          ))}
        </View>
      ) : null}
      {notes.length > 0 ? (
        <View style={{ marginHorizontal: -space(4) }}>
          <Fold title={notes.length === 1 ? 'One note' : `${notes.length} notes`}>
            <View role="list" style={{ paddingHorizontal: space(4) }}>
              {notes.map((finding, i) => (
                <FindingRow key={`${finding.kind} ${i}`} finding={finding} {...rest} />
              ))}
            </View>
          </Fold>
        </View>
      ) : null}
    </>
  );
}

/** One route as a sentence, at its place, with what is wrong with it. */
export function RouteRow({
  route,
  place,
  isFirst,
  count,
  sentence,
  handle,
  faults,
  onOpen,
  onMove,
  children,
}: {
  route: Route;
  place: number;
  isFirst: boolean;
  count: number;
  sentence: string;
  handle?: ReactNode;
  faults: readonly Fault[];
  onOpen: (() => void) | null;
  onMove: ((to: number) => void) | null;
  children: ReactNode;
}) {
  const palette = usePalette();
  return (
    <View
      role="group"
      aria-label={route.name}
      style={{
        backgroundColor: palette.sheet,
        borderWidth: 1,
        borderTopWidth: isFirst ? 1 : 0,
        borderColor: palette.line,
        opacity: route.enabled ? 1 : 0.75,
      }}
    >
      <View style={{ flexDirection: 'row', alignItems: 'center' }}>
        {handle}
        <Pressable
          role="button"
          aria-label={`${route.name}. Change`}
          disabled={!onOpen}
          onPress={onOpen ?? undefined}
          style={({ pressed }) => ({
            flex: 1,
            minHeight: 56,
            padding: space(3),
            gap: 2,
            backgroundColor: pressed ? palette.tint : palette.sheet,
          })}
        >
          <Words strong>{`${place + 1}. ${route.name}${route.enabled ? '' : ' (switched off)'}`}</Words>
          <Words size="small">{sentence}</Words>
          {faults.map(({ path, message }) => (
            <Words key={path} size="small" tone="rust" live>{`${path}: ${message}`}</Words>
          ))}
        </Pressable>
        {onMove && count > 1 ? (
          <View>
            {place > 0 ? (
              <IconButton icon="up" label={`${route.name}: earlier`} onPress={() => onMove(place - 1)} />
            ) : null}
            {place < count - 1 ? (
              <IconButton icon="down" label={`${route.name}: later`} onPress={() => onMove(place + 1)} />
            ) : null}
          </View>
        ) : null}
      </View>
      <View style={{ paddingHorizontal: space(3) }}>{children}</View>
    </View>
  );
}
