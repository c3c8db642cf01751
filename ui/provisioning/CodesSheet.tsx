import type { GivenCode } from '../../api/provisioning';
import { View } from 'react-native';
import { DateTime } from 'luxon';
import { showHardwareAddress } from '../../core/devices/phones';
import { writeCsv } from '../../core/formats';
import { saveFile } from '../data/files';
import { plugIn } from '../data/provisioning';
import { space, usePalette } from '../kit/theme';
import { Button } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';

/** Codes that were just made: to be written down or handed out, for they are shown this once. */
export function CodesSheet({
  codes,
  until,
  onClose,
}: {
  readonly codes: readonly GivenCode[];
  readonly until: string;
  readonly onClose: () => void;
}) {
  const palette = usePalette();
  const save = () =>
    saveFile(
      'one-time-codes.csv',
      writeCsv(
        ['Phone', 'Person', 'MAC address', 'One-time code'],
        codes.map(({ name, person, address, code }) => [name, person, showHardwareAddress(address), code]),
      ),
      'text/csv',
    );
  return (
    <Sheet
      title={codes.length === 1 ? 'Its one-time code' : 'Their one-time codes'}
      open
      onClose={onClose}
      footer={
        <View style={{ flexDirection: 'row', gap: space(2) }}>
          <View style={{ flex: 1 }}>
            <Button label="Save as table" onPress={save} />
          </View>
          <View style={{ flex: 1 }}>
            <Button
              kind="main"
              label={codes.length === 1 ? 'Plug its stand-in in' : 'Plug their stand-ins in'}
              onPress={() => {
                for (const { address, code } of codes) void plugIn(address, { typed: code });
                onClose();
              }}
            />
          </View>
        </View>
      }
    >
      <Words>
        {`Shown this once, and good until ${DateTime.fromISO(until).setLocale('en').toFormat('cccc d LLLL, HH:mm')}. Each is used up when its phone has its settings.`}
      </Words>
      <View role="list">
        {codes.map(({ address, name, person, code }) => (
          <View
            role="listitem"
            key={address}
            style={{ paddingVertical: space(2), borderBottomWidth: 1, borderColor: palette.line }}
          >
            <Words mono strong size="lead">
              {code}
            </Words>
            <Words size="small" tone="soft">
              {name.includes(person) ? name : `${person}: ${name}`}
            </Words>
          </View>
        ))}
      </View>
    </Sheet>
  );
}
