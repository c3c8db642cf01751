import { View } from 'react-native';
import type { Estate, Person, RosterEntry } from '../../core/estate';
import { useSites } from '../phones/DevicesScreen';
import { Button, Choice, IconButton, Section } from '../kit/parts';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';
import { CheckedField } from '../networks/CheckedField';

const readShare = (text: string): { readonly value: number } | { readonly error: string } => {
  const value = /^\d{1,3}([.,]\d)?$/.test(text.trim()) ? Number(text.trim().replace(',', '.')) : NaN;
  return value > 0 && value <= 100 ? { value: value / 100 } : { error: 'Percent, over 0 up to 100' };
};

/** When somebody comes to which site, to sit at a shared desk. */
export function RosterPart({
  person,
  estate,
  onEdit,
}: {
  readonly person: Person;
  readonly estate: Estate;
  readonly onEdit: ((change: (before: Person) => Person, merge?: string) => void) | null;
}) {
  const palette = usePalette();
  const sites = useSites();
  const { roster = [] } = person;
  const places = sites.data?.objects ?? [];
  const nameOf = (list: readonly { id: string; name: string }[], id: string) =>
    list.find((each) => each.id === id)?.name ?? id;
  /** What is shown may be a moment behind: each change is made to the roster as it is by then. */
  const change = (act: (roster: readonly RosterEntry[]) => readonly RosterEntry[], merge?: string) =>
    onEdit?.(({ roster: before = [], ...rest }) => {
      const entries = act(before);
      return entries.length > 0 ? { ...rest, roster: entries } : rest;
    }, merge);
  const set = (at: number, part: Partial<RosterEntry>, merge?: string) =>
    change((before) => before.map((each, i) => (i === at ? { ...each, ...part } : each)), merge);
  const [hours] = estate.schedules;
  const [place] = places.filter(({ kind }) => kind !== 'home');
  return (
    <Section title="Roster" term="roster">
      {roster.length === 0 ? (
        <Words tone="soft">No roster: nobody knows when they come to a shared desk.</Words>
      ) : null}
      {roster.map((entry, at) => (
        <View
          key={at}
          style={{ gap: space(2), paddingBottom: space(2), borderBottomWidth: 1, borderColor: palette.line }}
        >
          <View style={{ flexDirection: 'row', alignItems: 'center', gap: space(2) }}>
            <Words style={{ flex: 1 }}>
              {`${nameOf(places, entry.site)}, in ${nameOf(estate.schedules, entry.schedule)}${
                entry.share === undefined || entry.share === 1
                  ? ''
                  : `, ${Math.round(entry.share * 100)} % of the time`
              }`}
            </Words>
            {onEdit ? (
              <IconButton
                icon="close"
                label={`Remove ${nameOf(places, entry.site)} from the roster`}
                onPress={() => change((before) => before.filter((_each, i) => i !== at))}
              />
            ) : null}
          </View>
          {onEdit ? (
            <>
              <Choice
                label={`Site of entry ${at + 1}`}
                value={entry.site}
                options={places.map(({ id, name }) => ({ value: id, label: name }))}
                onChange={(site) => set(at, { site })}
              />
              <Choice
                label={`Hours of entry ${at + 1}`}
                value={entry.schedule}
                options={estate.schedules.map(({ id, name }) => ({ value: id, label: name }))}
                onChange={(schedule) => set(at, { schedule })}
              />
              <View style={{ maxWidth: 240 }}>
                <CheckedField
                  label="How likely they come, %"
                  value={entry.share ?? 1}
                  show={(share) => String(Math.round(share * 1000) / 10)}
                  read={readShare}
                  onChange={(share) => set(at, { share: share === 1 ? undefined : share }, `roster-${at}`)}
                />
              </View>
            </>
          ) : null}
        </View>
      ))}
      {onEdit && hours && place ? (
        <View style={{ flexDirection: 'row' }}>
          <Button
            icon="add"
            label="Add to the roster"
            onPress={() => change((before) => [...before, { schedule: hours.id, site: place.id }])}
          />
        </View>
      ) : null}
    </Section>
  );
}
