import { Pressable, View } from 'react-native';
import { Switch } from 'react-native-paper';
import { TARGET, usePalette } from './theme';

/** A switch as large as a thumb needs; the drawn one within it is smaller. */
export function Toggle({
  label,
  value,
  disabled = false,
  onChange,
}: {
  readonly label: string;
  readonly value: boolean;
  readonly disabled?: boolean;
  readonly onChange: (on: boolean) => void;
}) {
  const palette = usePalette();
  return (
    <Pressable
      role="switch"
      aria-label={label}
      aria-checked={value}
      aria-disabled={disabled}
      disabled={disabled}
      onPress={() => onChange(!value)}
      style={{ minWidth: TARGET + 8, minHeight: TARGET, alignItems: 'center', justifyContent: 'center' }}
    >
      <View aria-hidden pointerEvents="none">
        <Switch value={value} disabled={disabled} color={palette.accent} {...({ tabIndex: -1 } as object)} />
      </View>
    </Pressable>
  );
}
