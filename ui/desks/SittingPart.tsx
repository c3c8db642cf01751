import { useRouter } from 'expo-router';
import { useState, type ReactNode } from 'react';
import { View } from 'react-native';
import type { DeskPlace, SittingPage } from '../../api/desks';
import { deskPlan, initials } from '../../core/desks';
import { messageOf } from '../data/api';
import { useSitting } from '../data/desks';
import { useZone } from '../data/session';
import { DeskPlan } from '../drawings/DeskPlan';
import { shownMoment, typedMoment } from '../edit/typedMoment';
import { Choice, Empty, Field, LinkRow, LinkRows, Section, Skeleton, Trouble } from '../kit/parts';
import { SearchField } from '../kit/SearchField';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';
import { DateTime } from 'luxon';
import { zoneNamed } from '../../core/zones';
import { ShapeChoice, type DeskShape } from './ShapeChoice';
import { sayWhen } from './when';

const percent = (share: number) => `${Math.round(share * 100)} %`;

/** One desk as a row: who sits there, since when and until when. */
function rowText({ area, sitting, until }: DeskPlace, zone: string): string {
  const where = area ? `${area}: ` : '';
  if (!sitting) return `${where}free`;
  const since = `since ${sayWhen(sitting.since, zone)}`;
  return `${where}${sitting.name}, ${since}${until ? `, until ${sayWhen(until, zone)}` : ''}`;
}

/** Who sits where: now, at a past moment as it was, and at one to come who is rostered. */
export function SittingPart({ aside }: { readonly aside: ReactNode }) {
  const zone = useZone();
  const [when, setWhen] = useState<'now' | 'other'>('now');
  const [text, setText] = useState(() =>
    shownMoment(DateTime.now().setZone(zoneNamed(zone)).startOf('hour')),
  );
  const [query, setQuery] = useState('');
  const [shape, setShape] = useState<DeskShape>('list');
  const moment = typedMoment(text, zone);
  const at = when === 'now' ? null : (moment?.toISO() ?? null);
  const sitting = useSitting(at);
  return (
    <>
      <Section title="Who sits where" aside={aside}>
        <Choice
          label="When"
          value={when}
          options={[
            { value: 'now', label: 'Now' },
            { value: 'other', label: 'At another moment' },
          ]}
          onChange={setWhen}
        />
        {when === 'other' ? (
          <View style={{ maxWidth: 320 }}>
            <Field
              label="Day and hour"
              mono
              value={text}
              onChange={setText}
              error={moment ? null : 'Such as 2026-11-24 14:30'}
            />
          </View>
        ) : null}
        <SearchField
          label="Search people and desks"
          placeholder="Name of a person or desk"
          value={query}
          onChange={setQuery}
        />
        <ShapeChoice value={shape} onChange={setShape} />
      </Section>
      {sitting.isError ? (
        <Trouble message={messageOf(sitting.error)} retry={() => void sitting.refetch()} />
      ) : sitting.isPending ? (
        <Skeleton rows={4} />
      ) : (
        <Places
          page={sitting.data}
          query={query.trim().toLowerCase()}
          zone={zone}
          isPlan={shape === 'plan'}
        />
      )}
    </>
  );
}

function Places({
  page,
  query,
  zone,
  isPlan,
}: {
  readonly page: SittingPage;
  readonly query: string;
  readonly zone: string;
  readonly isPlan: boolean;
}) {
  if (page.when === 'to-come') return <Rostered page={page} query={query} />;
  const fits = ({ name, area, sitting }: DeskPlace) =>
    [name, area ?? '', sitting?.name ?? ''].some((each) => each.toLowerCase().includes(query));
  const sites = [...new Map(page.desks.map((each) => [each.site, each.siteName]))];
  const found = page.desks.filter(fits);
  if (page.desks.length > 0 && found.length === 0)
    return (
      <Section>
        <Empty title="No such desk" text="No desk, and nobody at a desk, has this name." />
      </Section>
    );
  return (
    <>
      {sites.map(([site, name]) => {
        const all = page.desks.filter((each) => each.site === site);
        const here = all.filter(fits);
        const taken = all.filter(({ sitting }) => sitting !== null).length;
        return here.length === 0 ? null : (
          <Section key={site ?? 'nowhere'} title={name}>
            <Words tone="soft">
              {`${taken} of ${all.length} ${all.length === 1 ? 'desk' : 'desks'} ${page.when === 'now' ? 'taken' : 'were taken then'}`}
            </Words>
            {page.shifts
              .filter((shift) => shift.site === site)
              .map((shift) => (
                <Words key={shift.name} tone="soft">
                  {`${shift.name}: ${shift.here} at a desk here, ${shift.expected.toFixed(1).replace(/\.0$/, '')} expected`}
                </Words>
              ))}
            {isPlan ? (
              <SitePlan
                desks={all}
                found={new Set(here.map(({ id }) => id))}
                isAsked={query !== ''}
                zone={zone}
              />
            ) : (
              <LinkRows>
                {here.map((desk) => (
                  <LinkRow
                    key={desk.id}
                    title={desk.name}
                    text={rowText(desk, zone)}
                    href={`/desks/${encodeURIComponent(desk.id)}`}
                  />
                ))}
              </LinkRows>
            )}
          </Section>
        );
      })}
    </>
  );
}

/** The desks of a site from above; those that were searched for stand out. */
function SitePlan({
  desks,
  found,
  isAsked,
  zone,
}: {
  readonly desks: readonly DeskPlace[];
  readonly found: ReadonlySet<string>;
  readonly isAsked: boolean;
  readonly zone: string;
}) {
  const router = useRouter();
  return (
    <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(3) }}>
      {deskPlan(desks).map((room) => (
        <View key={room.area ?? ''} style={{ gap: space(1) }}>
          <Words strong>{room.area ?? 'Area not said'}</Words>
          <DeskPlan
            room={room}
            stateOf={(desk) => ({
              fill: isAsked && found.has(desk.id) ? 'chosen' : desk.sitting ? 'taken' : 'free',
              mark: desk.sitting ? initials(desk.sitting.name) : 'free',
              label: `${desk.name}, ${rowText({ ...desk, area: null }, zone)}`,
              onPress: () => router.navigate(`/desks/${encodeURIComponent(desk.id)}`),
            })}
          />
        </View>
      ))}
    </View>
  );
}

/** Of a moment to come: who is rostered, with how likely they come. */
function Rostered({ page, query }: { readonly page: SittingPage; readonly query: string }) {
  const desksOf = (site: string) => page.desks.filter((each) => each.site === site).length;
  if (page.rostered.length === 0)
    return (
      <Section>
        <Empty title="Nobody is rostered then" text="Rosters stand with people, under More." />
      </Section>
    );
  return (
    <>
      {page.rostered.map(({ site, name, people }) => {
        const expected = people.reduce((sum, { share }) => sum + share, 0);
        return (
          <Section key={site} title={name}>
            <Words tone="soft" style={{ paddingBottom: space(1) }}>
              {`As the roster will have it: ${expected.toFixed(1)} people expected, ${desksOf(site)} desks`}
            </Words>
            <LinkRows>
              {people
                .filter((each) => each.name.toLowerCase().includes(query))
                .map((each) => (
                  <LinkRow
                    key={each.id}
                    title={each.name}
                    text={each.share === 1 ? 'comes' : `comes with ${percent(each.share)}`}
                    href={`/people/${encodeURIComponent(each.id)}`}
                  />
                ))}
            </LinkRows>
          </Section>
        );
      })}
    </>
  );
}
