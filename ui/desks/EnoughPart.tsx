import { useState } from 'react';
import { View } from 'react-native';
import { useQuery } from '@tanstack/react-query';
import { DateTime } from 'luxon';
import type { EnoughPage } from '../../api/desks';
import type { Site } from '../../core/estate';
import { zoneNamed } from '../../core/zones';
import { api, messageOf } from '../data/api';
import { DeskWeek } from '../drawings/DeskWeek';
import { Button, Choice, LinkRow, LinkRows, Section, Skeleton } from '../kit/parts';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';
import { percent } from './words';

const CHANCES = [
  { value: '0.001', label: '1 in 1000' },
  { value: '0.01', label: '1 in 100' },
  { value: '0.05', label: '1 in 20' },
] as const;
const SHOWN = 5;
const WEEK_MS = 7 * 86_400_000;
const HALF_DAY_MS = 43_200_000;

/** Whether the shared desks of a site suffice for those whom the roster sends there. */
export function EnoughPart({ sites }: { readonly sites: readonly Site[] }) {
  const [chosen, setChosen] = useState<string | null>(null);
  const [week, setWeek] = useState<string | null>(null);
  const [chance, setChance] = useState<(typeof CHANCES)[number]['value']>('0.01');
  const site = chosen ?? sites[0]?.id ?? '';
  const path = `/api/desks/enough/${encodeURIComponent(site)}?chance=${chance}${week === null ? '' : `&week=${week}`}`;
  const page = useQuery({
    queryKey: [path],
    queryFn: () => api<EnoughPage>('GET', path),
    enabled: site !== '',
  });
  if (sites.length === 0) return null;
  const found = page.data;
  const zone = zoneNamed(found?.timeZone ?? 'UTC');
  const at = (ms: number) => DateTime.fromMillis(ms, { zone }).setLocale('en-GB');
  const first = found?.halfHours[0]?.fromMs;
  const move = (weeks: number) => {
    if (first !== undefined) setWeek(at(first + weeks * WEEK_MS + HALF_DAY_MS).toISODate());
  };
  const worst = [...(found?.halfHours ?? [])]
    .filter(({ chance: is }) => is > 0)
    .sort((a, b) => b.chance - a.chance || a.fromMs - b.fromMs)
    .slice(0, SHOWN);
  return (
    <Section title="Are there enough?">
      {sites.length > 1 ? (
        <Choice
          label="Site"
          value={site}
          options={sites.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={setChosen}
        />
      ) : null}
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: space(2) }}>
        <Button label="Week before" disabled={!found} onPress={() => move(-1)} />
        <Button label="Week after" disabled={!found} onPress={() => move(1)} />
        {first === undefined ? null : (
          <Words>{`${at(first).toFormat('d LLL')} to ${at(first + WEEK_MS - HALF_DAY_MS).toFormat('d LLL yyyy')}`}</Words>
        )}
      </View>
      {page.isError ? <Words tone="rust">{messageOf(page.error)}</Words> : null}
      {page.isPending ? <Skeleton rows={2} /> : null}
      {found ? (
        <>
          <Words strong live tone={found.needed > found.desks ? 'rust' : 'kelp'}>
            {found.needed > found.desks
              ? `${found.desks} desks are too few: ${found.needed} are needed.`
              : `${found.desks} desks are enough; ${found.needed} would do.`}
          </Words>
          <Choice
            label="How rare finding no desk must be"
            titled
            value={chance}
            options={CHANCES}
            onChange={setChance}
          />
          <DeskWeek halfHours={found.halfHours} timeZone={found.timeZone} />
          {worst.length > 0 ? (
            <View>
              <Words strong>The worst half hours</Words>
              <View role="list" aria-label="The worst half hours">
                {worst.map((each) => (
                  <View key={each.fromMs} role="listitem">
                    <Words size="small">
                      {`${at(each.fromMs).toFormat('ccc d LLL, HH:mm')}: ${each.expected.toFixed(1)} come on average, ${percent(each.chance)} that somebody finds none`}
                    </Words>
                  </View>
                ))}
              </View>
            </View>
          ) : (
            <Words tone="soft">
              {found.halfHours.some(({ expected }) => expected > 0)
                ? 'Everybody finds one at every hour.'
                : 'Nobody’s roster sends them there. Rosters stand on people’s pages.'}
            </Words>
          )}
          {found.without.length > 0 ? (
            <View style={{ gap: space(1) }}>
              <Words strong tone="rust">
                Sent there by their roster, and no desk allows them
              </Words>
              <LinkRows>
                {found.without.map(({ id, name }) => (
                  <LinkRow
                    key={id}
                    title={name}
                    text="Roster and template"
                    href={`/people/${encodeURIComponent(id)}`}
                  />
                ))}
              </LinkRows>
            </View>
          ) : null}
        </>
      ) : null}
    </Section>
  );
}
