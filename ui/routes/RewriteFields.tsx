import { View } from 'react-native';
import { rewritten } from '../../core/routes';
import type { Rewrite } from '../../core/estate';
import { space, useIsWide } from '../kit/theme';
import { Field } from '../kit/parts';

/** A rewriting: what is taken off and put before, with what becomes of an example. */
export function RewriteFields({
  what,
  value,
  example,
  onChange,
}: {
  readonly what: string;
  readonly value: Rewrite | undefined;
  /** A number to show it on. */
  readonly example: string;
  readonly onChange: (value: Rewrite | undefined) => void;
}) {
  const wide = useIsWide();
  const now = value ?? { drop: 0, prepend: '' };
  const set = (patch: Partial<Rewrite>) => {
    const next = { ...now, ...patch };
    onChange(next.drop === 0 && next.prepend === '' ? undefined : next);
  };
  return (
    <View style={{ flexDirection: wide ? 'row' : 'column', gap: space(2) }}>
      <View style={{ flex: 1 }}>
        <Field
          label={`Characters taken off ${what}`}
          keyboard="decimal-pad"
          mono
          value={String(now.drop)}
          onChange={(text) => set({ drop: Math.min(40, Number(text.replace(/\D/g, '')) || 0) })}
        />
      </View>
      <View style={{ flex: 1 }}>
        <Field
          label={`Put before ${what}`}
          keyboard="phone-pad"
          mono
          value={now.prepend}
          onChange={(text) =>
            set({
              prepend: text
                .replace(/[^0-9*#A-D+]/gi, '')
                .toUpperCase()
                .slice(0, 40),
            })
          }
          hint={example === '' ? null : `${example} becomes ${rewritten(example, now) || 'nothing'}`}
        />
      </View>
    </View>
  );
}
