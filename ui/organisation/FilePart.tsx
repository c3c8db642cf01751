import type { EstatePreview } from '../../api/organisation';
import { useState } from 'react';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import { andList } from '../../core/estate';
import { isApiError } from '../data/api';
import { chooseFile } from '../data/files';
import { useImportEstate, usePreviewEstate } from '../data/organisation';
import { useSlateInWork } from '../data/slate';
import { Button, Refused, Section, Skeleton } from '../kit/parts';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';

const MOST_BYTES = 32 << 20;
const KINDS: Readonly<Record<string, string>> = {
  permission: 'Permissions',
  trunk: 'Trunks',
  schedule: 'Hours',
  status: 'Statuses',
  template: 'Templates',
  person: 'People',
  group: 'Groups',
  menu: 'Menus',
  site: 'Sites',
  device: 'Devices',
  settings: 'Times and codes',
  dialling: 'Dial plan',
  promises: 'Promises',
  routing: 'Route table',
  'trunk-order': 'Order of the trunks',
  list: 'Lists of numbers',
};

/** An estate file read in: what it would change is shown first, then it goes on a slate of its own. */
export function FilePart({ unbegun }: { readonly unbegun: boolean }) {
  const router = useRouter();
  const preview = usePreviewEstate();
  const put = useImportEstate();
  const choose = useSlateInWork((state) => state.choose);
  const [file, setFile] = useState<{ readonly name: string; readonly bytes: ArrayBuffer } | null>(null);
  const [tooLarge, setTooLarge] = useState<string | null>(null);
  const take = async () => {
    const chosen = await chooseFile('.json,application/json');
    if (!chosen) return;
    put.reset();
    preview.reset();
    if (chosen.size > MOST_BYTES) {
      setFile(null);
      setTooLarge(`${chosen.name} has ${Math.round(chosen.size / 1e6)} MB; 32 MB is the most that is read.`);
      return;
    }
    setTooLarge(null);
    const bytes = await chosen.arrayBuffer();
    setFile({ name: chosen.name, bytes });
    preview.mutate(bytes);
  };
  const faults = isApiError(preview.error) ? preview.error.faults : [];
  return (
    <Section title="Read an estate file">
      <Words tone="soft">
        {unbegun
          ? 'What it holds is put in the place of the empty organisation.'
          : 'You see what it would change. Then it goes on a slate, with its ripple and drills, and is put live from there.'}
      </Words>
      <View style={{ flexDirection: 'row' }}>
        <Button
          icon="import"
          label="Choose an estate file"
          busy={preview.isPending}
          onPress={() => void take()}
        />
      </View>
      {tooLarge ? (
        <Words tone="rust" live>
          {tooLarge}
        </Words>
      ) : null}
      {preview.isPending ? <Skeleton rows={3} /> : null}
      {preview.isError && faults.length > 0 ? (
        <View role="alert" style={{ gap: space(1) }}>
          <Words tone="rust" strong>{`${file?.name ?? 'The file'} cannot be read:`}</Words>
          {faults.slice(0, 12).map(({ path, message }) => (
            <Words key={`${path} ${message}`} size="small" tone="rust">
              {path ? `${path}: ${message}` : `The file ${message}`}
            </Words>
          ))}
        </View>
      ) : (
        <Refused error={preview.error} />
      )}
      {preview.data && file ? (
        <PreviewOf name={file.name} preview={preview.data}>
          {preview.data.entries === 0 && !unbegun ? null : (
            <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
              <Button
                kind="main"
                label={unbegun ? `Put ${preview.data.name} live` : 'Put these changes on a slate'}
                busy={put.isPending}
                onPress={() =>
                  put.mutate(file.bytes, {
                    onSuccess: ({ slate }) => {
                      if (slate === null) return router.navigate('/people');
                      choose(slate);
                      router.navigate(`/slates/${slate}`);
                    },
                  })
                }
              />
              <Button
                label="Put the file away"
                onPress={() => {
                  setFile(null);
                  preview.reset();
                }}
              />
            </View>
          )}
        </PreviewOf>
      ) : null}
      <Refused error={put.error} />
    </Section>
  );
}

function PreviewOf({
  name,
  preview,
  children,
}: {
  readonly name: string;
  readonly preview: EstatePreview;
  readonly children: React.ReactNode;
}) {
  const palette = usePalette();
  return (
    <View style={{ gap: space(2) }}>
      <Words strong live>
        {preview.entries === 0
          ? `${name} holds what is live already.`
          : `${name}: ${preview.name}, ${preview.people} people. It changes:`}
      </Words>
      {preview.renamed ? (
        <Words tone="ochre">
          Name and zone of the organisation are others in the file. They are not changed by it: set them
          above.
        </Words>
      ) : null}
      {preview.kinds.map(({ kind, added, changed, removed }) => (
        <View key={kind} style={{ borderLeftWidth: 3, borderColor: palette.line, paddingLeft: space(3) }}>
          <Words strong>{KINDS[kind] ?? kind}</Words>
          {added.length > 0 ? <Words size="small">{`Added: ${andList(added)}`}</Words> : null}
          {changed.length > 0 ? <Words size="small">{`Changed: ${andList(changed)}`}</Words> : null}
          {removed.length > 0 ? (
            <Words size="small" tone="rust">{`Removed: ${andList(removed)}`}</Words>
          ) : null}
        </View>
      ))}
      {children}
    </View>
  );
}
