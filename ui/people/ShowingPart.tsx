import { View } from 'react-native';
import type { Estate, Person, Showing } from '../../core/estate';
import { numberShown } from '../../core/calls/out';
import { showNumber } from '../../core/calls/dialling';
import { sayShown } from '../access/words';
import { ShownChoice } from '../access/ShownChoice';
import { Button, Choice, IconButton, Section } from '../kit/parts';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';

const ANY = 'any other status';

/** Which number shows on the calls that somebody places as the organisation, by status. */
export function ShowingPart({
  person,
  estate,
  onEdit,
}: {
  readonly person: Person;
  readonly estate: Estate;
  readonly onEdit: ((change: (before: Person) => Person, merge?: string) => void) | null;
}) {
  const palette = usePalette();
  const { showing = [] } = person;
  const change = (act: (showing: readonly Showing[]) => readonly Showing[]) =>
    onEdit?.(({ showing: before = [], ...rest }) => {
      const next = act(before);
      return next.length > 0 ? { ...rest, showing: next } : rest;
    });
  const nameOf = (status: string | undefined) =>
    status === undefined ? ANY : (estate.statuses.find(({ id }) => id === status)?.name ?? status);
  const { number, isWithheld } = numberShown(estate, person);
  const free = estate.statuses.filter(({ id }) => !showing.some(({ status }) => status === id));
  const options = [
    ...estate.statuses.map(({ id, name }) => ({ value: id, label: name })),
    { value: '', label: 'Any other status' },
  ];
  return (
    <Section title="Number shown on calls out" term="caller-id">
      <Words>
        {isWithheld
          ? 'Now: no number, withheld.'
          : number === null
            ? 'Now: none. There is no direct number, and the organisation has none to show.'
            : `Now: ${showNumber(number)}.`}
      </Words>
      {showing.map(({ status, shows }, at) => (
        <View
          key={status ?? ''}
          style={{ gap: space(2), paddingBottom: space(2), borderBottomWidth: 1, borderColor: palette.line }}
        >
          <View style={{ flexDirection: 'row', alignItems: 'center', gap: space(2) }}>
            <Words style={{ flex: 1 }}>{`${nameOf(status)}: ${sayShown(shows)}`}</Words>
            {onEdit ? (
              <IconButton
                icon="close"
                label={`Remove what shows with ${nameOf(status)}`}
                onPress={() => change((before) => before.filter((_each, i) => i !== at))}
              />
            ) : null}
          </View>
          {onEdit ? (
            <>
              <Choice
                label={`Status of entry ${at + 1}`}
                value={status ?? ''}
                options={options.filter(
                  ({ value }) =>
                    value === (status ?? '') || !showing.some((each) => (each.status ?? '') === value),
                )}
                onChange={(value) =>
                  change((before) =>
                    before.map((each, i) =>
                      i === at ? { ...(value === '' ? {} : { status: value }), shows: each.shows } : each,
                    ),
                  )
                }
              />
              <ShownChoice
                label={`Shows with ${nameOf(status)}`}
                words={['own', 'organisation', 'withheld']}
                value={shows}
                dialling={estate.dialling}
                onChange={(next) =>
                  change((before) => before.map((each, i) => (i === at ? { ...each, shows: next } : each)))
                }
              />
            </>
          ) : null}
        </View>
      ))}
      {onEdit && free.length > 0 ? (
        <View style={{ flexDirection: 'row' }}>
          <Button
            icon="add"
            label="Another number for a status"
            onPress={() =>
              change((before) => [
                ...before,
                {
                  status: (free.find(({ id }) => id === person.status) ?? free[0]!).id,
                  shows: 'organisation',
                },
              ])
            }
          />
        </View>
      ) : null}
    </Section>
  );
}
