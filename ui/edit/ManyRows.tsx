import type { ManyRow } from '../../api/many';
import { DateTime } from 'luxon';
import { View } from 'react-native';
import { capital } from '../../core/estate';
import { zoneNamed } from '../../core/zones';
import { useZone } from '../data/session';
import { ReachMark } from '../kit/parts';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';
import { sayLeft } from './sayLeft';

const RANK = { reached: 0, 'at-risk': 1, lost: 2 } as const;
export const count = (n: number) => (n === 1 ? 'one person' : `${n} people`);

/** What a change made to several does to each of them, the worst first. */
export function ManyRows({ rows }: { readonly rows: readonly ManyRow[] }) {
  const palette = usePalette();
  const zone = useZone();
  const worse = rows.filter((row) => RANK[row.after] > RANK[row.before]);
  const dropping = rows.filter((row) => row.drops.length > 0);
  const same = rows.filter((row) => row.changes === 0).length;
  return (
    <>
      <Words live>
        {`${capital(
          [
            `${count(rows.length - same)} would change`,
            ...(same > 0 ? [`${count(same)} ${same === 1 ? 'is' : 'are'} like that already`] : []),
            worse.length > 0
              ? `${count(worse.length)} would be harder to reach now`
              : 'nobody would be harder to reach now',
            ...(dropping.length > 0
              ? [`${count(dropping.length)} would lose a phone that rings now, always or at some hours`]
              : []),
          ].join('; '),
        )}.`}
      </Words>
      <View>
        {[...rows]
          .sort(
            (a, b) =>
              RANK[b.after] - RANK[b.before] - (RANK[a.after] - RANK[a.before]) ||
              b.drops.length - a.drops.length,
          )
          .map((row) => (
            <View
              key={row.id}
              style={{
                paddingVertical: space(2),
                gap: 2,
                borderTopWidth: 1,
                borderColor: palette.line,
              }}
            >
              <View style={{ flexDirection: 'row', justifyContent: 'space-between', gap: space(2) }}>
                <Words strong style={{ flexShrink: 1 }}>
                  {row.name}
                </Words>
                <ReachMark state={row.after} />
              </View>
              <Words size="small" tone="soft">
                {row.changes === 0
                  ? 'Is like that already'
                  : `${row.changes} ${row.changes === 1 ? 'setting changes' : 'settings change'}`}
              </Words>
              {row.after !== row.before || row.after !== 'reached' ? (
                <Words size="small" tone={RANK[row.after] > RANK[row.before] ? 'rust' : 'soft'}>
                  {row.why}
                </Words>
              ) : null}
              {row.drops.map(({ endpoint, label, atMs }) => (
                <Words key={endpoint} size="small" tone="rust">
                  {atMs === null
                    ? `${label} would not ring any more`
                    : `${label} would not ring on ${DateTime.fromMillis(atMs, { zone: zoneNamed(zone) })
                        .setLocale('en')
                        .toFormat('cccc, d LLLL, HH:mm')}, nor at hours like it`}
                </Words>
              ))}
              {row.left.map((left, i) => (
                <Words key={i} size="small" tone="ochre">
                  {sayLeft(left)}
                </Words>
              ))}
            </View>
          ))}
      </View>
    </>
  );
}
