import type { Ref } from 'react';
import type { TextInput as NativeInput } from 'react-native';
import { Searchbar } from 'react-native-paper';
import { CORNER, FONT, rem, SIZE, TARGET, usePalette } from './theme';
import { Icon } from './icons';

/** The field above a list in which it is searched. */
export function SearchField({
  ref,
  label,
  placeholder,
  value,
  onChange,
  onSubmit,
}: {
  readonly ref?: Ref<NativeInput>;
  readonly label: string;
  readonly placeholder: string;
  readonly value: string;
  readonly onChange: (text: string) => void;
  readonly onSubmit?: () => void;
}) {
  const palette = usePalette();
  return (
    <Searchbar
      {...(ref ? { ref } : {})}
      placeholder={placeholder}
      accessibilityLabel={label}
      value={value}
      onChangeText={onChange}
      icon={({ size, color }) => <Icon name="search" size={size} color={color} />}
      clearIcon={({ size, color }) => <Icon name="close" size={size} color={color} />}
      {...(onSubmit ? { onSubmitEditing: onSubmit } : {})}
      style={{
        backgroundColor: palette.sheet,
        borderRadius: CORNER,
        borderWidth: 1,
        borderColor: palette.soft,
        height: TARGET + 4,
      }}
      inputStyle={{ minHeight: TARGET, fontFamily: FONT, fontSize: rem(SIZE.body + 1) }}
      placeholderTextColor={palette.soft}
      elevation={0}
    />
  );
}
