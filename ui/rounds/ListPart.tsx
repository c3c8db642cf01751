import { View } from 'react-native';
import type { RoundPage } from '../../api/rounds';
import { isApiError } from '../data/api';
import { chooseFile, saveFile } from '../data/files';
import { usePutRoundList } from '../data/rounds';
import { Button, Refused, Section } from '../kit/parts';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';

interface Placed {
  readonly line: number;
  readonly column: number;
  readonly message: string;
}
const EXAMPLE = 'Number,Name,Zone,Cabin\r\n+1 236 555 0160,Ona Reef,America/Vancouver,12\r\n';
const MOST_FAULTS = 8;

/** Whom a round calls: a file, read and judged row by row. */
export function ListPart({ page, canEdit }: { readonly page: RoundPage; readonly canEdit: boolean }) {
  const put = usePutRoundList(page.id);
  const placed = isApiError(put.error)
    ? ((put.error.body.placed as readonly Placed[] | undefined) ?? [])
    : [];
  const choose = async () => {
    const file = await chooseFile('.csv,.txt,.tsv,text/csv,text/plain');
    if (file) put.mutate({ file: await file.arrayBuffer(), name: file.name, version: page.version });
  };
  return (
    <Section title="List">
      <Words>
        {page.listName === null
          ? 'There is no list yet.'
          : `${page.listName}: ${page.total} ${page.total === 1 ? 'row' : 'rows'}.`}
      </Words>
      {canEdit ? (
        <>
          <Words tone="soft">
            A CSV file with the columns number and zone, such as America/Vancouver; name and others as you
            like.
          </Words>
          <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
            <Button
              label={page.listName === null ? 'Choose a list' : 'Choose another list'}
              busy={put.isPending}
              onPress={() => void choose()}
            />
            <Button
              kind="quiet"
              label="Save an example"
              onPress={() => saveFile('numbers.csv', EXAMPLE, 'text/csv')}
            />
          </View>
        </>
      ) : null}
      <Refused error={put.error} />
      {placed.slice(0, MOST_FAULTS).map((fault, i) => (
        <Words key={i} tone="rust" size="small">
          {[
            fault.line > 0 ? `Line ${fault.line}` : '',
            fault.column > 0 ? `column ${fault.column}` : '',
            fault.message,
          ]
            .filter(Boolean)
            .join(', ')}
        </Words>
      ))}
    </Section>
  );
}
