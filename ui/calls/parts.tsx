import type { ReactNode } from 'react';
import { View } from 'react-native';
import type { UseQueryResult } from '@tanstack/react-query';
import type { LongWork } from '../../api/records';
import { messageOf } from '../data/api';
import { Choice, Empty, Section, Skeleton, Trouble } from '../kit/parts';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';

export const DAYS = [7, 28, 90] as const;
export type Days = (typeof DAYS)[number];

export function DaysChoice({ days, onDays }: { readonly days: Days; readonly onDays: (days: Days) => void }) {
  return (
    <Choice
      label="Over how many days"
      value={String(days)}
      options={DAYS.map((each) => ({ value: String(each), label: `Last ${each} days` }))}
      onChange={(value) => onDays(Number(value) as Days)}
    />
  );
}

/** What work over many calls came to: how far it is meanwhile. */
export function Worked<T>({
  work,
  isEmpty = () => false,
  children,
}: {
  readonly work: UseQueryResult<LongWork<T>>;
  /** Whether there is nothing to show. */
  readonly isEmpty?: (result: T) => boolean;
  readonly children: (result: T) => ReactNode;
}) {
  if (work.isError) return <Trouble message={messageOf(work.error)} retry={() => void work.refetch()} />;
  if (work.isPending) return <Skeleton rows={4} />;
  const { state, done, total, result, why } = work.data;
  if (state === 'failed')
    return <Trouble message={why ?? 'This could not be worked out.'} retry={() => void work.refetch()} />;
  if (state === 'running' || result === null)
    return (
      <Section>
        <Words live tone="soft">
          {total > 0
            ? done > 0
              ? `${done.toLocaleString('en')} of ${total.toLocaleString('en')} calls gone through`
              : `Going through ${total.toLocaleString('en')} calls`
            : 'Beginning'}
        </Words>
        <Skeleton rows={3} />
      </Section>
    );
  if (isEmpty(result))
    return <Empty title="No calls yet" text="No call of these days tells anything about this." />;
  return <>{children(result)}</>;
}

/** Rows of figures under headings; the first column names the row. */
export function Figures({
  label,
  headings,
  rows,
  first = 2,
}: {
  readonly label: string;
  readonly headings: readonly string[];
  readonly rows: readonly (readonly string[])[];
  /** How much wider the first column is than the others. */
  readonly first?: number;
}) {
  const palette = usePalette();
  const cell = (n: number) =>
    ({ flex: n === 0 ? first : 1, minWidth: 0, alignItems: n === 0 ? 'flex-start' : 'flex-end' }) as const;
  const line = {
    flexDirection: 'row',
    gap: space(2),
    paddingVertical: space(2),
    borderBottomWidth: 1,
    borderColor: palette.line,
  } as const;
  return (
    <View role="table" aria-label={label}>
      <View role="row" style={line}>
        {headings.map((heading, n) => (
          <View key={heading} role="columnheader" style={cell(n)}>
            <Words size="small" strong>
              {heading}
            </Words>
          </View>
        ))}
      </View>
      {rows.map((row, at) => (
        <View role="row" key={at} style={line}>
          {row.map((text, n) => (
            <View key={n} role={n === 0 ? 'rowheader' : 'cell'} style={cell(n)}>
              <Words mono={n > 0} size={n > 0 ? 'small' : 'body'}>
                {text}
              </Words>
            </View>
          ))}
        </View>
      ))}
    </View>
  );
}

/** A bar that shows a share of the widest one. */
export function ShareBar({
  share,
  tone = 'rings',
}: {
  readonly share: number;
  readonly tone?: 'rings' | 'rust';
}) {
  const palette = usePalette();
  return (
    <View style={{ height: 10, backgroundColor: palette.tint, borderRadius: 2, flex: 1 }}>
      <View
        style={{
          width: `${Math.min(100, Math.max(0, share * 100))}%`,
          height: 10,
          borderRadius: 2,
          backgroundColor: palette[tone],
        }}
      />
    </View>
  );
}

/** One row for each hour of the day that has something to show: its share as a bar, and in figures. */
export function HourRows({
  label,
  rows,
  tone = 'rings',
}: {
  readonly label: string;
  readonly rows: readonly { readonly hour: number; readonly share: number; readonly says: string }[];
  readonly tone?: 'rings' | 'rust';
}) {
  return (
    <View role="list" aria-label={label}>
      {rows.map(({ hour, share, says }) => (
        <View
          role="listitem"
          key={hour}
          style={{ flexDirection: 'row', alignItems: 'center', gap: space(3), minHeight: 26 }}
        >
          <Words mono size="small" style={{ width: 50 }}>
            {`${String(hour).padStart(2, '0')}:00`}
          </Words>
          <ShareBar share={share} tone={tone} />
          <Words mono size="small" style={{ width: 150, textAlign: 'right' }}>
            {says}
          </Words>
        </View>
      ))}
    </View>
  );
}
