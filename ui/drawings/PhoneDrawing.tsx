import { Pressable, View } from 'react-native';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';

/** One key as it is drawn. */
export interface DrawnKey {
  readonly at: number;
  /** What stands beside it; null: nothing is laid out there. */
  readonly label: string | null;
  readonly isWrong: boolean;
}

const ROWS_BESIDE = 6;

/**
 * A phone seen from above: its display, and the keys at both sides of it in the order in which they are counted, left
 * side first. Phones with more keys than stand beside a display have further columns below.
 */
export function PhoneDrawing({
  name,
  display,
  keys,
  chosen,
  onChoose,
  lamp,
}: {
  readonly name: string;
  /** What the display shows. */
  readonly display: readonly string[];
  readonly keys: readonly DrawnKey[];
  readonly chosen: number | null;
  /** null: it is only looked at. */
  readonly onChoose: ((at: number) => void) | null;
  /** Whether the lamp is lit that says that messages wait; left out: none is drawn. */
  readonly lamp?: boolean;
}) {
  const palette = usePalette();
  const beside = keys.slice(0, ROWS_BESIDE * 2);
  const half = Math.ceil(beside.length / 2);
  const below = keys.slice(ROWS_BESIDE * 2);
  const column = (some: readonly DrawnKey[], side: 'left' | 'right') => (
    <View style={{ flex: 1, gap: space(1) }}>
      {some.map((key) => (
        <Key
          key={key.at}
          drawn={key}
          side={side}
          isChosen={key.at === chosen}
          onPress={onChoose && (() => onChoose(key.at))}
        />
      ))}
    </View>
  );
  return (
    <View
      role="group"
      aria-label={`The keys of the ${name}`}
      style={{
        borderWidth: 2,
        borderColor: palette.ink,
        borderRadius: 14,
        backgroundColor: palette.sheet,
        padding: space(3),
        gap: space(3),
        maxWidth: 560,
      }}
    >
      {lamp === undefined ? null : (
        <View
          role="img"
          aria-label={lamp ? 'The lamp for messages is lit' : 'The lamp for messages is off'}
          style={{
            alignSelf: 'flex-end',
            width: 44,
            height: 8,
            borderRadius: 4,
            borderWidth: 1.5,
            borderColor: lamp ? palette.ochre : palette.line,
            backgroundColor: lamp ? palette.ochre : 'transparent',
          }}
        />
      )}
      <View style={{ flexDirection: 'row', gap: space(2) }}>
        {column(beside.slice(0, half), 'left')}
        <View
          style={{
            flex: 1.1,
            minHeight: 96,
            borderWidth: 1,
            borderColor: palette.line,
            borderRadius: 4,
            backgroundColor: palette.tint,
            padding: space(2),
            justifyContent: 'space-between',
          }}
        >
          {display.map((line, i) => (
            <Words key={line} size="small" strong={i === 0} tone={i === 0 ? 'ink' : 'soft'} lines={3}>
              {line}
            </Words>
          ))}
        </View>
        {column(beside.slice(half), 'right')}
      </View>
      {below.length > 0 ? (
        <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(1) }}>
          {below.map((key) => (
            <View key={key.at} style={{ width: '32%' }}>
              <Key
                drawn={key}
                side="left"
                isChosen={key.at === chosen}
                onPress={onChoose && (() => onChoose(key.at))}
              />
            </View>
          ))}
        </View>
      ) : null}
    </View>
  );
}

function Key({
  drawn: { at, label, isWrong },
  side,
  isChosen,
  onPress,
}: {
  readonly drawn: DrawnKey;
  readonly side: 'left' | 'right';
  readonly isChosen: boolean;
  readonly onPress: (() => void) | null;
}) {
  const palette = usePalette();
  const cap = (
    <View
      style={{
        width: 12,
        alignSelf: 'stretch',
        borderRadius: 3,
        borderWidth: 1.5,
        borderColor: isWrong ? palette.rust : palette.ink,
        backgroundColor: label === null ? 'transparent' : isWrong ? palette.sheet : palette.ink,
      }}
    />
  );
  const words = (
    <Words
      size="small"
      tone={isWrong ? 'rust' : label === null ? 'soft' : 'ink'}
      lines={2}
      style={{ flex: 1, textAlign: side === 'left' ? 'left' : 'right' }}
    >
      {label ?? String(at)}
    </Words>
  );
  const row = {
    minHeight: onPress ? 44 : 32,
    flexDirection: side === 'left' ? 'row' : 'row-reverse',
    alignItems: 'center',
    gap: space(2),
    padding: space(1),
    borderRadius: 6,
  } as const;
  if (!onPress)
    return (
      <View role="img" aria-label={`Key ${at}: ${label ?? 'nothing'}`} style={row}>
        {cap}
        {words}
      </View>
    );
  return (
    <Pressable
      role="button"
      aria-label={`Key ${at}: ${label ?? 'nothing'}`}
      aria-pressed={isChosen}
      onPress={onPress}
      style={({ pressed }) => ({
        ...row,
        backgroundColor: isChosen || pressed ? palette.tint : 'transparent',
      })}
    >
      {cap}
      {words}
    </Pressable>
  );
}
