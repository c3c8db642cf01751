import { Pressable, View } from 'react-native';
import { useRouter } from 'expo-router';
import type { CallRow } from '../../api/calls';
import { isLost } from '../../core/calls/engine';
import { useZone } from '../data/session';
import { sayWhen } from '../desks/when';
import { PressLink } from '../kit/PressLink';
import { space, TARGET, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';
import { sayLength, sayNumber, sayOutcome, WENT_WORDS } from './words';

const COLUMNS = [
  ['When', 1.1],
  ['From', 1.3],
  ['To', 1.6],
  ['How it ended', 2.4],
  ['After', 0.7],
  ['Talked', 0.9],
  ['Went', 0.9],
] as const;

/** Calls as a table, on a wide screen: each row leads to its call. */
export function CallsTable({ rows }: { readonly rows: readonly CallRow[] }) {
  const palette = usePalette();
  const zone = useZone();
  const router = useRouter();
  const line = { borderBottomWidth: 1, borderColor: palette.line } as const;
  return (
    <View role="table" aria-label="Calls">
      <View role="row" style={{ flexDirection: 'row', gap: space(2), paddingVertical: space(2), ...line }}>
        {COLUMNS.map(([title, flex]) => (
          <View key={title} role="columnheader" style={{ flex }}>
            <Words size="small" strong>
              {title}
            </Words>
          </View>
        ))}
      </View>
      {rows.map((row) => {
        const lost = isLost(row.outcome);
        const cells: readonly (readonly [string, boolean])[] = [
          [sayWhen(row.at, zone), true],
          [sayNumber(row.from), row.from !== null],
          [row.toName ?? sayNumber(row.to), false],
          [
            row.answeredBy === null
              ? sayOutcome(row.outcome)
              : row.outcome === 'answered'
                ? row.answeredBy
                : `${sayOutcome(row.outcome)}: ${row.answeredBy}`,
            false,
          ],
          [sayLength(row.atMs), true],
          [row.talkMs > 0 ? sayLength(row.talkMs) : '', true],
          [row.went === null ? '' : WENT_WORDS[row.went], false],
        ];
        return (
          <Pressable
            key={row.key}
            role="row"
            tabIndex={-1}
            onPress={() => router.navigate(`/calls/${encodeURIComponent(row.key)}`)}
            style={({ pressed }) => ({
              flexDirection: 'row',
              alignItems: 'center',
              gap: space(2),
              minHeight: TARGET,
              backgroundColor: pressed ? palette.tint : 'transparent',
              ...line,
            })}
          >
            {cells.map(([text, mono], n) => {
              const words = (
                <Words
                  size="small"
                  mono={mono}
                  strong={n === 0}
                  tone={(n === 3 && lost) || (n === 6 && row.went === 'otherwise') ? 'rust' : 'ink'}
                >
                  {text}
                </Words>
              );
              return (
                <View key={COLUMNS[n]![0]} role="cell" style={{ flex: COLUMNS[n]![1], minWidth: 0 }}>
                  {n === 0 ? (
                    <PressLink
                      href={`/calls/${encodeURIComponent(row.key)}`}
                      style={() => ({ minHeight: TARGET, justifyContent: 'center' })}
                    >
                      {words}
                    </PressLink>
                  ) : (
                    words
                  )}
                </View>
              );
            })}
          </Pressable>
        );
      })}
    </View>
  );
}
