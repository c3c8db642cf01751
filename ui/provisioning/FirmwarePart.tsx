import type { ProvisioningPage } from '../../api/provisioning';
import { useState } from 'react';
import { View } from 'react-native';
import { isNewEnough, modelOf, MODELS } from '../../core/devices/phones';
import { chooseFile } from '../data/files';
import { faultOf } from '../data/api';
import { useAddImage, useRemoveImage } from '../data/provisioning';
import { space, usePalette } from '../kit/theme';
import { Button, Field, IconButton, Refused, Section } from '../kit/parts';
import { ModelChoice } from '../phones/ModelChoice';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';

const sizeOf = (bytes: number) =>
  bytes < 1024
    ? `${bytes} bytes`
    : bytes < 1 << 20
      ? `${Math.round(bytes / 1024)} KiB`
      : `${(bytes / (1 << 20)).toFixed(1)} MiB`;

/** The firmware that phones load before they get their settings. */
export function FirmwarePart({
  page,
  canEdit,
}: {
  readonly page: ProvisioningPage;
  readonly canEdit: boolean;
}) {
  const palette = usePalette();
  const remove = useRemoveImage();
  const [adding, setAdding] = useState<string | null>(null);
  const wanted = new Set(
    page.phones.filter(({ state }) => state === 'old-firmware').map(({ model }) => model),
  );
  return (
    <Section title="Firmware">
      <View role="list">
        {MODELS.map((model) => {
          const images = page.images.filter((image) => image.model === model.id);
          const hasOne = images.some(({ version }) => isNewEnough(version, model.firmwareLeast));
          return (
            <View
              key={model.id}
              role="listitem"
              style={{ paddingVertical: space(2), borderBottomWidth: 1, borderColor: palette.line, gap: 2 }}
            >
              <View style={{ flexDirection: 'row', alignItems: 'center', gap: space(2) }}>
                <View style={{ flex: 1 }}>
                  <Words strong>{model.name}</Words>
                  <Words size="small" tone={!hasOne && wanted.has(model.id) ? 'rust' : 'soft'}>
                    {`needs ${model.firmwareLeast} at least${hasOne ? '' : wanted.has(model.id) ? ': a phone waits for its firmware file' : ', no firmware file is here'}`}
                  </Words>
                </View>
                {canEdit ? (
                  <Button
                    kind="quiet"
                    icon="add"
                    label="Add firmware file"
                    onPress={() => setAdding(model.id)}
                  />
                ) : null}
              </View>
              {images.map(({ version, bytes, sha256 }) => (
                <View key={version} style={{ flexDirection: 'row', alignItems: 'center', gap: space(2) }}>
                  <Words size="small" mono style={{ flex: 1 }}>
                    {`${version} · ${sizeOf(bytes)} · ${sha256.slice(0, 12)}…`}
                  </Words>
                  {canEdit ? (
                    <IconButton
                      icon="close"
                      label={`Remove ${model.name} ${version}`}
                      onPress={() => remove.mutate({ model: model.id, version })}
                    />
                  ) : null}
                </View>
              ))}
            </View>
          );
        })}
      </View>
      <Refused error={remove.error} />
      {adding === null ? null : <ImageSheet model={adding} onClose={() => setAdding(null)} />}
    </Section>
  );
}

function ImageSheet({ model: given, onClose }: { readonly model: string; readonly onClose: () => void }) {
  const add = useAddImage();
  const [model, setModel] = useState(given);
  const [version, setVersion] = useState('');
  const [file, setFile] = useState<File | null>(null);
  return (
    <Sheet
      title="Add firmware file"
      open
      onClose={onClose}
      action={{
        label: 'Keep it for phones to load',
        disabled: !file || version.trim() === '',
        busy: add.isPending,
        onPress: () => file && add.mutate({ file, model, version: version.trim() }, { onSuccess: onClose }),
      }}
    >
      <Words>{`Get it from the maker of the phone. A ${modelOf(model)?.name ?? model} needs ${modelOf(model)?.firmwareLeast ?? ''} at least.`}</Words>
      <ModelChoice value={model} onChange={setModel} />
      <Field
        label="Version"
        mono
        value={version}
        onChange={setVersion}
        error={faultOf(add.error, 'version')}
      />
      <Button
        icon="import"
        label={file ? `${file.name}, ${sizeOf(file.size)}` : 'Choose the file'}
        onPress={() => void chooseFile('').then((next) => next && setFile(next))}
      />
      {add.isError && !faultOf(add.error, 'version') ? <Refused error={add.error} /> : null}
    </Sheet>
  );
}
