import { useState } from 'react';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import type { RosterPreview } from '../../api/desks';
import { andList } from '../../core/estate';
import { ROSTERS, useImportRosters, usePreviewRosters } from '../data/desks';
import { chooseFile, fetchFile } from '../data/files';
import { useSlateInWork } from '../data/slate';
import { Button, Refused, Section } from '../kit/parts';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';

const SHOWN = 8;

/** Rosters of many at once: a table or a calendar, shown first and then put on a slate. */
export function RostersPart({ canEdit }: { readonly canEdit: boolean }) {
  const router = useRouter();
  const preview = usePreviewRosters();
  const put = useImportRosters();
  const choose = useSlateInWork((state) => state.choose);
  const [file, setFile] = useState<{ readonly name: string; readonly bytes: ArrayBuffer } | null>(null);
  const [trouble, setTrouble] = useState<unknown>(null);
  const take = async () => {
    const chosen = await chooseFile('.csv,.txt,.ics,text/csv,text/calendar');
    if (!chosen) return;
    put.reset();
    const bytes = await chosen.arrayBuffer();
    setFile({ name: chosen.name, bytes });
    preview.mutate(bytes);
  };
  const save = () => {
    setTrouble(null);
    fetchFile(ROSTERS, 'rosters.csv').catch(setTrouble);
  };
  const found = preview.data;
  return (
    <Section title="Rosters of many" term="roster">
      {canEdit ? (
        <Words tone="soft">
          A CSV file with the columns extension or name, site, hours and share; or a calendar whose events
          have a site as location and people as attendees. Everybody in the file gets the roster of the file.
        </Words>
      ) : null}
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
        {canEdit ? (
          <Button
            icon="import"
            label="Read rosters in"
            busy={preview.isPending}
            onPress={() => void take()}
          />
        ) : null}
        <Button kind="quiet" label="Export rosters" onPress={save} />
      </View>
      <Refused error={trouble} />
      <Refused error={preview.error} />
      {found && file ? (
        <>
          <PreviewOf name={file.name} found={found} />
          {found.faults.length === 0 && found.count > 0 ? (
            <View style={{ flexDirection: 'row' }}>
              <Button
                kind="main"
                label="Put these rosters on a slate"
                busy={put.isPending}
                onPress={() =>
                  put.mutate(file.bytes, {
                    onSuccess: ({ slate }) => {
                      choose(slate);
                      router.navigate(`/slates/${slate}`);
                    },
                  })
                }
              />
            </View>
          ) : null}
          <Refused error={put.error} />
        </>
      ) : null}
    </Section>
  );
}

function PreviewOf({ name, found }: { readonly name: string; readonly found: RosterPreview }) {
  const { faults, changed, count, same, hours } = found;
  if (faults.length > 0)
    return (
      <View role="alert" style={{ gap: space(1) }}>
        <Words tone="rust" strong>{`Nothing is taken over from ${name}:`}</Words>
        {faults.slice(0, SHOWN).map(({ line, column, message }, i) => (
          <Words key={i} tone="rust" size="small">
            {[line > 0 ? `Line ${line}` : '', column > 0 ? `column ${column}` : '', message]
              .filter(Boolean)
              .join(', ')}
          </Words>
        ))}
        {faults.length > SHOWN ? <Words size="small">{`${faults.length - SHOWN} more`}</Words> : null}
      </View>
    );
  const names = changed.slice(0, SHOWN).map((each) => each.name);
  return (
    <View style={{ gap: space(1) }}>
      <Words live>
        {count === 0
          ? `${name} holds what is live already.`
          : `${count} ${count === 1 ? 'person gets' : 'people get'} another roster: ${
              count > names.length ? `${names.join(', ')} and ${count - names.length} more` : andList(names)
            }.`}
      </Words>
      {same > 0 && count > 0 ? <Words tone="soft">{`${same} have it already.`}</Words> : null}
      {hours.length > 0 ? <Words>{`Hours that come with it: ${andList(hours)}.`}</Words> : null}
    </View>
  );
}
