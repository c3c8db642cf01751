import { View } from 'react-native';
import type { DeskPromise, Schedule, Site } from '../../core/estate';
import { sayDeskPromise, sayKeeps } from '../../core/desks';
import { useObjects } from '../data/objects';
import { Button, Choice, IconButton, Section } from '../kit/parts';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';

const ALL = 'all';
const KEEPS = [0.95, 0.99, 0.999] as const;

/** What is promised about the shared desks of a site; whether it holds stands under Desks and among the findings. */
export function DeskPromisesPart({
  site,
  onEdit,
}: {
  readonly site: Site;
  readonly onEdit: ((change: (before: Site) => Site) => void) | null;
}) {
  const palette = usePalette();
  const schedules = useObjects<Schedule>('schedule');
  const named = schedules.data?.objects ?? [];
  const { deskPromises = [] } = site;
  const change = (act: (before: readonly DeskPromise[]) => readonly DeskPromise[]) =>
    onEdit?.(({ deskPromises: before = [], ...rest }) => {
      const next = act(before);
      return next.length > 0 ? { ...rest, deskPromises: next } : rest;
    });
  const put = (at: number, promise: DeskPromise) =>
    change((before) => before.map((each, n) => (n === at ? promise : each)));
  return (
    <Section title="Promises about shared desks">
      {deskPromises.length === 0 ? (
        <Words tone="soft">
          None. By itself 99 of 100 half hours alike are looked at, and fewer are a finding.
        </Words>
      ) : null}
      {deskPromises.map((promise, at) => (
        <View
          key={at}
          style={{ gap: space(2), paddingBottom: space(2), borderBottomWidth: 1, borderColor: palette.line }}
        >
          <View style={{ flexDirection: 'row', alignItems: 'center', gap: space(2) }}>
            <Words style={{ flex: 1 }}>{sayDeskPromise(promise, named)}</Words>
            {onEdit ? (
              <IconButton
                icon="close"
                label={`Remove promise ${at + 1} about shared desks`}
                onPress={() => change((before) => before.filter((_each, n) => n !== at))}
              />
            ) : null}
          </View>
          {onEdit ? (
            <>
              <Choice
                label={`Hours of promise ${at + 1}`}
                value={promise.schedule ?? ALL}
                options={[
                  { value: ALL, label: 'At all hours' },
                  ...named.map(({ id, name }) => ({ value: id, label: name })),
                ]}
                onChange={(schedule) =>
                  put(at, { ...(schedule === ALL ? {} : { schedule }), keeps: promise.keeps })
                }
              />
              <Choice
                label={`How often everybody finds a desk, promise ${at + 1}`}
                value={String(promise.keeps)}
                options={[...new Set([...KEEPS, promise.keeps])]
                  .sort((a, b) => a - b)
                  .map((keeps) => ({ value: String(keeps), label: sayKeeps(keeps) }))}
                onChange={(keeps) => put(at, { ...promise, keeps: Number(keeps) })}
              />
            </>
          ) : null}
        </View>
      ))}
      {onEdit ? (
        <View style={{ flexDirection: 'row' }}>
          <Button
            icon="add"
            label="Promise that nobody is without a desk"
            onPress={() => change((before) => [...before, { keeps: 0.99 }])}
          />
        </View>
      ) : null}
    </Section>
  );
}
