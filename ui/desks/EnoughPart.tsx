import { useState } from 'react';
import { View } from 'react-native';
import { useQuery } from '@tanstack/react-query';
import { DateTime } from 'luxon';
import type { EnoughPage, SavingsPage } from '../../api/desks';
import { DESK_STANDING, sayChance } from '../../core/desks';
import type { Site } from '../../core/estate';
import { zoneNamed } from '../../core/zones';
import { api, messageOf } from '../data/api';
import { DeskWeek } from '../drawings/DeskWeek';
import { Button, Choice, LinkRow, LinkRows, Section, Skeleton, Trouble } from '../kit/parts';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';

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
          {found.forAll < found.desks ? (
            <Words size="small" tone="soft">
              {`Counted as if everybody may sit at each of them; ${found.forAll} are for everybody who is sent here.`}
            </Words>
          ) : null}
          <PromisesPart page={found} />
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
                      {`${at(each.fromMs).toFormat('ccc d LLL, HH:mm')}: ${each.expected.toFixed(1)} come on average, ${sayChance(each.chance)} that somebody finds none`}
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
          {found.halfHours.some(({ chance: is }) => is > 0) ? (
            <SavingsPart key={path} query={path.slice(path.indexOf('?'))} site={site} needed={found.needed} />
          ) : null}
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

const TONES = { holds: 'kelp', broken: 'rust', open: 'ochre' } as const;
/** What the site promises about its desks, and whether it holds. */
function PromisesPart({ page: { promises, timeZone, site } }: { readonly page: EnoughPage }) {
  const zone = zoneNamed(timeZone);
  const at = (ms: number, format: string) =>
    DateTime.fromMillis(ms, { zone }).setLocale('en-GB').toFormat(format);
  return (
    <View style={{ gap: space(1) }}>
      {promises.map(({ says, standing, needs, worst, untilMs }) => (
        <View key={says}>
          <Words
            strong
            tone={TONES[standing]}
          >{`${standing === 'holds' ? '▰' : '▱'} ${DESK_STANDING[standing]}: ${says}`}</Words>
          <Words size="small" tone="soft">
            {worst === null
              ? 'Nobody’s roster sends them there then.'
              : `Worst on ${at(worst.fromMs, 'cccc d LLL')} at ${at(worst.fromMs, 'HH:mm')}: ${sayChance(worst.chance)} that somebody finds none. ${needs}; checked up to ${at(untilMs - 1, 'd LLL')}.`}
          </Words>
        </View>
      ))}
      <LinkRows>
        <LinkRow
          title="Promises about these desks"
          text={
            promises.length === 0
              ? 'None yet: set on the page of the site'
              : 'Changed on the page of the site'
          }
          href={`/sites/${encodeURIComponent(site)}`}
        />
      </LinkRows>
    </View>
  );
}

const MOST_SAVINGS = 6;

/** What moving a shift or a share would save: worked out when it is asked for. */
function SavingsPart({
  site,
  query,
  needed,
}: {
  readonly site: string;
  readonly query: string;
  readonly needed: number;
}) {
  const [isAsked, setAsked] = useState(false);
  const path = `/api/desks/savings/${encodeURIComponent(site)}${query}`;
  const page = useQuery({ queryKey: [path], queryFn: () => api<SavingsPage>('GET', path), enabled: isAsked });
  if (!isAsked)
    return (
      <View style={{ flexDirection: 'row' }}>
        <Button label="What would moving a shift save?" onPress={() => setAsked(true)} />
      </View>
    );
  if (page.isError) return <Trouble message={messageOf(page.error)} retry={() => void page.refetch()} />;
  if (page.isPending) return <Skeleton rows={2} />;
  const { savings } = page.data;
  return (
    <View>
      <Words strong>What another roster would save</Words>
      {savings.length === 0 ? (
        <Words>No shift half an hour earlier or later, and no share a tenth lower, saves anything.</Words>
      ) : (
        <View role="list" aria-label="What another roster would save">
          {savings.slice(0, MOST_SAVINGS).map((each, i) => (
            <View key={i} role="listitem">
              <Words>{`${sayChange(each)}: ${saySaved(each, needed)}`}</Words>
            </View>
          ))}
        </View>
      )}
    </View>
  );
}

type Saving = SavingsPage['savings'][number];
const sayChange = ({ shift, byMinutes, less }: Saving): string =>
  byMinutes === null
    ? `${shift}, each coming ${sayChance(less ?? 0)} less often`
    : `${shift} ${Math.abs(byMinutes)} min ${byMinutes < 0 ? 'earlier' : 'later'}`;
const saySaved = ({ needed, worst }: Saving, now: number): string =>
  needed < now
    ? `${needed} desks are needed in place of ${now}`
    : `in the worst half hour ${sayChance(worst)} that somebody finds none`;
