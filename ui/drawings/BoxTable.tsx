import { View } from 'react-native';
import type { TableRow } from '../../core/network';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';

/** So many lines of a box are shown, the youngest last. */
const MOST_ROWS = 6;

export const leftWords = (leftS: number): string => {
  if (leftS === 0) return 'ran out just now';
  return leftS > 0 ? `${leftS} s left` : `ran out ${-leftS} s ago`;
};

function Row({ row }: { readonly row: TableRow }) {
  const palette = usePalette();
  const isLive = row.leftS > 0;
  const tone = isLive ? 'ink' : 'soft';
  return (
    <View
      role="listitem"
      style={{ borderTopWidth: 1, borderColor: palette.line, paddingVertical: space(1), gap: 2 }}
    >
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', columnGap: space(2) }}>
        <Words size="small" mono tone={tone}>
          {row.port === null ? row.inside : `${row.inside} → port ${row.port}`}
        </Words>
        <Words size="small" tone={isLive ? 'soft' : 'rust'}>
          {leftWords(row.leftS)}
        </Words>
      </View>
      {row.isOpen ? (
        <Words size="small" tone="soft">
          lets anybody in
        </Words>
      ) : (
        row.towards.map(({ socket, leftS }) => (
          <View key={socket} style={{ flexDirection: 'row', flexWrap: 'wrap', columnGap: space(2) }}>
            <Words size="small" mono tone="soft">{`lets in ${socket}`}</Words>
            {leftS === row.leftS ? null : (
              <Words size="small" tone={leftS > 0 ? 'soft' : 'rust'}>
                {leftWords(leftS)}
              </Words>
            )}
          </View>
        ))
      )}
    </View>
  );
}

/** What a box remembers once a packet was there: which outside ports lead where, and for how long. */
export function BoxTable({ rows, name }: { readonly rows: readonly TableRow[]; readonly name: string }) {
  const shown = rows.slice(-MOST_ROWS);
  return (
    <View>
      <Words size="small" strong>
        {rows.length === 0 ? `${name} remembers nothing` : `What ${name} remembers`}
      </Words>
      {shown.length > 0 ? (
        <View role="list" aria-label={`What ${name} remembers`}>
          {shown.map((row) => (
            <Row
              key={`${row.protocol} ${row.inside} ${row.port} ${row.towards.map(({ socket }) => socket).join(' ')}`}
              row={row}
            />
          ))}
        </View>
      ) : null}
      {rows.length > shown.length ? (
        <Words size="small" tone="soft">{`and ${rows.length - shown.length} older`}</Words>
      ) : null}
    </View>
  );
}
