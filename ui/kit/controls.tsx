import { memo, type ReactNode } from 'react';
import { Pressable, View } from 'react-native';
import { Button as PaperButton, IconButton as PaperIconButton, TextInput } from 'react-native-paper';
import { useTellTyped } from './typed';
import { useStable } from './useStable';
import { CORNER, FONT, MONO, rem, SIZE, space, TARGET, usePalette } from './theme';
import { Icon, type IconName } from './icons';
import { Words } from './Words';

interface ButtonProps {
  readonly label: string;
  readonly onPress: () => void;
  readonly kind?: 'main' | 'plain' | 'quiet';
  readonly icon?: IconName;
  readonly disabled?: boolean;
  readonly busy?: boolean;
  readonly grow?: boolean;
}

/** A button of React Native Paper in our three weights, never lower than a thumb needs. */
export function Button({ onPress, ...rest }: ButtonProps) {
  return <ButtonDrawn {...rest} onPress={useStable(onPress)} />;
}

const ButtonDrawn = memo(function ButtonDrawn({
  label,
  onPress,
  kind = 'plain',
  icon,
  disabled,
  busy,
  grow,
}: ButtonProps) {
  const palette = usePalette();
  const isOff = Boolean(disabled) && !busy;
  const color =
    kind === 'main'
      ? isOff
        ? palette.ink
        : palette.onAccent
      : kind === 'quiet'
        ? palette.accent
        : palette.ink;
  return (
    <PaperButton
      mode={kind === 'main' ? 'contained' : kind === 'plain' ? 'outlined' : 'text'}
      onPress={onPress}
      disabled={Boolean(disabled || busy)}
      loading={Boolean(busy)}
      textColor={color}
      buttonColor={kind === 'main' ? palette.accent : kind === 'plain' ? palette.sheet : 'transparent'}
      {...(icon
        ? { icon: ({ size }: { size: number }) => <Icon name={icon} size={size} color={color} /> }
        : {})}
      style={{
        borderRadius: CORNER,
        borderColor: palette.ink,
        maxWidth: '100%',
        opacity: disabled || busy ? 0.55 : 1,
        ...(grow ? { flexGrow: 1, flexBasis: 0 } : {}),
      }}
      contentStyle={{ minHeight: TARGET }}
      labelStyle={{
        fontFamily: FONT,
        fontWeight: '700',
        fontSize: rem(SIZE.body),
        marginHorizontal: space(kind === 'quiet' ? 2 : 3),
        ...(icon ? { marginLeft: space(kind === 'quiet' ? 4 : 6) } : {}),
        color,
        // A label that is too long for its place goes on in a second line.
        ...({ whiteSpace: 'normal' } as object),
      }}
    >
      {label}
    </PaperButton>
  );
});

interface IconButtonProps {
  readonly icon: IconName;
  readonly label: string;
  readonly onPress: () => void;
}

export function IconButton({ icon, label, onPress }: IconButtonProps) {
  return <IconButtonDrawn icon={icon} label={label} onPress={useStable(onPress)} />;
}

const IconButtonDrawn = memo(function IconButtonDrawn({ icon, label, onPress }: IconButtonProps) {
  const palette = usePalette();
  return (
    <PaperIconButton
      icon={({ size }) => <Icon name={icon} size={size} color={palette.ink} />}
      accessibilityLabel={label}
      onPress={onPress}
      size={24}
      style={{ width: TARGET, height: TARGET, margin: 0, borderRadius: CORNER }}
    />
  );
});

export interface ChoiceOption<T extends string> {
  readonly value: T;
  readonly label: string;
}

/** One of a few, all in view. */
export function Choice<T extends string>({
  label,
  titled = false,
  beside,
  atOnce = false,
  value,
  options,
  onChange,
}: {
  readonly label: string;
  /** The label stands above, for those who see too. */
  readonly titled?: boolean;
  /** What stands beside the label: a `?` that explains it. */
  readonly beside?: ReactNode;
  /** What is chosen takes effect at once: the arrow keys go past options without choosing them. */
  readonly atOnce?: boolean;
  readonly value: T | null;
  readonly options: readonly ChoiceOption<T>[];
  readonly onChange: (value: T) => void;
}) {
  const choose = useStable(onChange);
  // By Tab one comes to the option that is chosen, or to the first; arrows go on from there.
  const stop = options.some((option) => option.value === value) ? value : options[0]?.value;
  const group = (
    <View
      role="radiogroup"
      aria-label={label}
      {...(atOnce ? ({ dataSet: { atOnce: '' } } as object) : {})}
      style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}
    >
      {options.map((option) => (
        <Option
          key={option.value}
          value={option.value}
          label={option.label}
          on={option.value === value}
          isStop={option.value === stop}
          onChoose={choose as (value: string) => void}
        />
      ))}
    </View>
  );
  if (!titled) return group;
  return (
    <View style={{ gap: space(1) }}>
      <View style={{ flexDirection: 'row', alignItems: 'center' }}>
        <Words size="small" tone="soft">
          {label}
        </Words>
        {beside ? <View style={{ marginVertical: -space(3) }}>{beside}</View> : null}
      </View>
      {group}
    </View>
  );
}

const Option = memo(function Option({
  value,
  label,
  on,
  isStop,
  onChoose,
}: {
  readonly value: string;
  readonly label: string;
  readonly on: boolean;
  readonly isStop: boolean;
  readonly onChoose: (value: string) => void;
}) {
  const palette = usePalette();
  return (
    <Pressable
      role="radio"
      aria-checked={on}
      tabIndex={isStop ? 0 : -1}
      onPress={() => onChoose(value)}
      style={{
        minHeight: TARGET,
        paddingHorizontal: space(3),
        justifyContent: 'center',
        borderRadius: CORNER,
        borderWidth: on ? 2 : 1,
        borderColor: on ? palette.accent : palette.line,
        backgroundColor: palette.sheet,
      }}
    >
      <Words strong={on}>{label}</Words>
    </Pressable>
  );
});

/** The box of something that can be ticked. */
export const TickBox = memo(function TickBox({ on }: { readonly on: boolean }) {
  const palette = usePalette();
  return (
    <View
      style={{
        width: 24,
        height: 24,
        borderRadius: 3,
        borderWidth: 2,
        borderColor: on ? palette.accent : palette.soft,
        backgroundColor: on ? palette.accent : palette.sheet,
      }}
    >
      {on ? <Icon name="check" size={20} color={palette.onAccent} /> : null}
    </View>
  );
});

/** One of many that can be ticked. */
export const Tick = memo(function Tick({
  label,
  on,
  onPress,
}: {
  readonly label: string;
  readonly on: boolean;
  readonly onPress: () => void;
}) {
  return (
    <Pressable
      role="checkbox"
      aria-checked={on}
      aria-label={label}
      onPress={onPress}
      style={{ minHeight: TARGET, flexDirection: 'row', alignItems: 'center', gap: space(3) }}
    >
      <TickBox on={on} />
      <Words style={{ flexShrink: 1 }}>{label}</Words>
    </Pressable>
  );
});

interface FieldProps {
  readonly label: string;
  readonly value: string;
  readonly onChange: (value: string) => void;
  readonly error?: string | null;
  readonly hint?: string | null;
  readonly keyboard?: 'default' | 'decimal-pad' | 'phone-pad';
  readonly mono?: boolean;
  readonly secret?: boolean;
  readonly multiline?: boolean;
  readonly placeholder?: string;
  readonly onSubmit?: () => void;
  /** What stands beside the label: a `?` that explains it. */
  readonly beside?: ReactNode;
  readonly autoFocus?: boolean;
  readonly autoComplete?: 'username' | 'current-password' | 'off';
  readonly id?: string;
}

/** A field with its label outside and its error beside it. */
export function Field({ onChange, onSubmit, ...rest }: FieldProps) {
  return <FieldDrawn {...rest} onChange={useStable(onChange)} onSubmit={useStable(() => onSubmit?.())} />;
}

const FieldDrawn = memo(function FieldDrawn(props: FieldProps) {
  const {
    label,
    value,
    onChange,
    error,
    hint,
    keyboard = 'default',
    mono,
    secret,
    multiline,
    onSubmit,
  } = props;
  const palette = usePalette();
  useTellTyped(label, error ? error : null);
  return (
    <View style={{ gap: space(1) }}>
      <View style={{ flexDirection: 'row', alignItems: 'center' }}>
        <Words size="small" tone="soft">
          {label}
        </Words>
        {props.beside ? <View style={{ marginVertical: -space(3) }}>{props.beside}</View> : null}
      </View>
      <TextInput
        mode="outlined"
        dense
        accessibilityLabel={label}
        {...(props.id ? { nativeID: props.id } : {})}
        {...({ 'aria-invalid': Boolean(error) } as object)}
        value={value}
        onChangeText={onChange}
        inputMode={keyboard === 'decimal-pad' ? 'decimal' : keyboard === 'phone-pad' ? 'tel' : 'text'}
        secureTextEntry={secret ?? false}
        multiline={multiline ?? false}
        placeholder={props.placeholder ?? ''}
        placeholderTextColor={palette.soft}
        autoFocus={props.autoFocus ?? false}
        autoComplete={props.autoComplete ?? 'off'}
        autoCapitalize="none"
        error={Boolean(error)}
        onSubmitEditing={() => onSubmit?.()}
        style={{ backgroundColor: palette.sheet, minHeight: multiline ? 140 : TARGET }}
        contentStyle={{ fontFamily: mono ? MONO : FONT, fontSize: rem(SIZE.body + 1) }}
      />
      {error ? (
        <Words size="small" tone="rust" live>
          {error}
        </Words>
      ) : hint ? (
        <Words size="small" tone="soft">
          {hint}
        </Words>
      ) : null}
    </View>
  );
});
