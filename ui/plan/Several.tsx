import { View } from 'react-native';
import type { Arrival } from '../../core/estate';
import { space } from '../kit/theme';
import { Tick } from '../kit/parts';
import { Words } from '../kit/Words';

/** How a call came, to choose from. */
export const ARRIVAL_OPTIONS: readonly { value: Arrival; label: string }[] = [
  { value: 'direct', label: 'Direct' },
  { value: 'menu', label: 'By a menu' },
  { value: 'group', label: 'By a group' },
  { value: 'forwarded', label: 'Forwarded on' },
];

/** Some of a few; none ticked means that it does not matter. */
export function Several<T extends string>({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: readonly T[] | undefined;
  options: readonly { value: T; label: string }[];
  onChange: (value: readonly T[] | undefined) => void;
}) {
  return (
    <View style={{ gap: space(1) }}>
      <Words size="small" tone="soft">
        {`${label}${value ? '' : ': does not matter'}`}
      </Words>
      <View
        role="group"
        aria-label={label}
        style={{ flexDirection: 'row', flexWrap: 'wrap', columnGap: space(4) }}
      >
        {options.map((option) => {
          const on = value?.includes(option.value) ?? false;
          const next = on ? value?.filter((each) => each !== option.value) : [...(value ?? []), option.value];
          return (
            <Tick
              key={option.value}
              label={option.label}
              on={on}
              onPress={() => onChange(next && next.length > 0 ? next : undefined)}
            />
          );
        })}
      </View>
    </View>
  );
}
