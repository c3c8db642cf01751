import type { ShownEntry } from '../../api/slates';
import { useState } from 'react';
import { View } from 'react-native';
import { useQuery } from '@tanstack/react-query';
import { DateTime } from 'luxon';
import type { ToldChange } from '../../core/changes/slate';
import { api, isApiError, messageOf } from '../data/api';
import { useZone } from '../data/session';
import { space, usePalette } from '../kit/theme';
import { PageFrame } from '../kit/PageFrame';
import { Button, Empty, Field, Section, Skeleton } from '../kit/parts';
import { shownMoment, typedMoment } from '../edit/typedMoment';
import { ChangeLines } from '../edit/ChangeLines';
import { KIND_WORDS } from '../edit/places';

import { Words } from '../kit/Words';

interface Between {
  readonly objects: readonly (Pick<ShownEntry, 'kind' | 'id' | 'name' | 'action'> & {
    readonly changes: readonly ToldChange[];
  })[];
  readonly total: number;
}
const ACTIONS = { add: 'added', change: 'changed', remove: 'taken out' };

/** What the estate had at one moment and has otherwise at another. */
export function BetweenScreen() {
  const palette = usePalette();
  const zone = useZone();
  const [from, setFrom] = useState(() => shownMoment(DateTime.now().minus({ hours: 1 })));
  const [to, setTo] = useState('');
  const [asked, setAsked] = useState<{ from: string; to: string } | null>(null);
  const read = (text: string) => typedMoment(text, zone);
  const fault = (text: string, mayBeEmpty: boolean) =>
    (mayBeEmpty && !text.trim()) || read(text) ? null : 'is no date and time, like 2026-11-25 06:00';
  const between = useQuery({
    queryKey: ['/api/record/between', asked],
    queryFn: () => api<Between>('GET', `/api/record/between?${new URLSearchParams({ ...asked }).toString()}`),
    enabled: asked !== null,
    retry: false,
  });
  const press = () => {
    const iso = (text: string) => read(text)?.toUTC().toISO() ?? '';
    setAsked({ from: iso(from), ...(to.trim() ? { to: iso(to) } : {}) } as { from: string; to: string });
  };
  const isFaulty = fault(from, false) !== null || fault(to, true) !== null;
  return (
    <PageFrame title="Two moments" back={null}>
      <Section>
        <Words tone="soft">{`The estate as it was, held against what it was later. Times are those of ${zone}.`}</Words>
        <Field label="From" mono value={from} onChange={setFrom} error={fault(from, false)} />
        <Field
          label="To"
          mono
          value={to}
          onChange={setTo}
          placeholder="now"
          error={fault(to, true)}
          hint="Left empty: now."
        />
        <View style={{ flexDirection: 'row' }}>
          <Button kind="main" label="Compare" disabled={isFaulty} onPress={press} />
        </View>
      </Section>
      {between.isError ? (
        <Section>
          <Words tone="rust" live>
            {isApiError(between.error) ? between.error.message : messageOf(between.error)}
          </Words>
        </Section>
      ) : null}
      {asked && between.isPending ? <Skeleton rows={3} /> : null}
      {between.data ? (
        <Section title="What is different" aside={<Words tone="soft">{between.data.total}</Words>}>
          {between.data.objects.length === 0 ? (
            <Empty title="Nothing" text="At both moments everything was set the same." />
          ) : (
            <View role="list">
              {between.data.objects.map((object) => (
                <View
                  key={`${object.kind}/${object.id}`}
                  role="listitem"
                  style={{
                    paddingVertical: space(2),
                    gap: 2,
                    borderBottomWidth: 1,
                    borderColor: palette.line,
                  }}
                >
                  <Words strong>{object.name}</Words>
                  <Words
                    size="small"
                    tone="soft"
                  >{`${KIND_WORDS[object.kind]}, ${ACTIONS[object.action]}`}</Words>
                  <ChangeLines changes={object.changes} />
                </View>
              ))}
            </View>
          )}
        </Section>
      ) : null}
    </PageFrame>
  );
}
