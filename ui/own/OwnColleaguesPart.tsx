import { useState } from 'react';
import { View } from 'react-native';
import { messageOf } from '../data/api';
import { useColleagues, useShowMyDesk } from '../data/desks';
import { sayWhen } from '../desks/when';
import { Refused, Section, Tick, Trouble } from '../kit/parts';
import { SearchField } from '../kit/SearchField';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';

/** More than these are searched through. */
const MOST_ROWS = 8;

/** Where colleagues sit who let it be seen; and whether they see where one sits oneself. */
export function OwnColleaguesPart({ timeZone }: { readonly timeZone: string }) {
  const page = useColleagues();
  const show = useShowMyDesk();
  const [query, setQuery] = useState('');
  if (page.isError) return <Trouble message={messageOf(page.error)} retry={() => void page.refetch()} />;
  if (!page.data) return null;
  const { colleagues, mayShow, isShown } = page.data;
  if (colleagues.length === 0 && !mayShow) return null;
  const wanted = query.trim().toLowerCase();
  const found = colleagues.filter(({ name, desk, siteName }) =>
    [name, desk, siteName ?? ''].some((each) => each.toLowerCase().includes(wanted)),
  );
  return (
    <Section title="Where colleagues sit">
      {mayShow ? (
        <Tick
          label="Colleagues may see at which shared desk I am"
          on={isShown}
          onPress={() => show.mutate(!isShown)}
        />
      ) : null}
      <Refused error={show.error} />
      {colleagues.length > MOST_ROWS ? (
        <SearchField
          label="Search colleagues"
          placeholder="Name, desk or site"
          value={query}
          onChange={setQuery}
        />
      ) : null}
      {found.length === 0 ? (
        <Words tone="soft">
          {wanted === '' ? 'Nobody who lets it be seen is at a shared desk now.' : 'Nobody of this name.'}
        </Words>
      ) : null}
      <View role="list" style={{ gap: space(1) }}>
        {found.slice(0, wanted === '' ? MOST_ROWS : found.length).map((each) => (
          <View role="listitem" key={`${each.name} ${each.desk}`}>
            <Words>
              <Words strong>{each.name}</Words>
              {`: ${[each.desk, each.area, each.siteName].filter(Boolean).join(', ')}, since ${sayWhen(each.since, timeZone)}`}
            </Words>
          </View>
        ))}
      </View>
      {wanted === '' && found.length > MOST_ROWS ? (
        <Words tone="soft">{`${found.length - MOST_ROWS} more: search for them.`}</Words>
      ) : null}
    </Section>
  );
}
