import { Pressable, View } from 'react-native';
import { TARGET, usePalette } from './theme';

const WIDTH = 44;
const HEIGHT = 24;
const KNOB = 18;

/** A switch as large as a thumb needs; what is drawn within it is smaller. */
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
      <View
        style={{
          width: WIDTH,
          height: HEIGHT,
          borderRadius: HEIGHT / 2,
          borderWidth: 2,
          borderColor: value ? palette.accent : palette.soft,
          backgroundColor: value ? palette.accent : palette.sheet,
          opacity: disabled ? 0.55 : 1,
          justifyContent: 'center',
        }}
      >
        <View
          style={{
            width: KNOB,
            height: KNOB,
            borderRadius: KNOB / 2,
            marginLeft: value ? WIDTH - KNOB - 5 : 1,
            backgroundColor: value ? palette.onAccent : palette.soft,
          }}
        />
      </View>
    </Pressable>
  );
}
