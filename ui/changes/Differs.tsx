import { useState, type ReactNode } from 'react';
import { Pressable, View } from 'react-native';
import { showNumbersIn } from '../../core/calls/dialling';
import { space, usePalette } from '../kit/theme';
import { ReachMark } from '../kit/parts';
import { Words } from '../kit/Words';

const WEIGHTS = {
  lost: 'Lost now',
  other: 'Ends elsewhere',
  time: 'Other time',
  form: 'Number in another form',
  better: 'Lost no more',
};

/** One kind of difference that a slate makes, as a sentence; pressed, the call that shows it. */
export function Differs({
  weight,
  says,
  children,
}: {
  readonly weight: keyof typeof WEIGHTS;
  readonly says: string;
  readonly children: ReactNode;
}) {
  const palette = usePalette();
  const [open, setOpen] = useState(false);
  return (
    <View style={{ borderBottomWidth: 1, borderColor: palette.line, paddingVertical: space(1) }}>
      <Pressable
        role="button"
        aria-expanded={open}
        onPress={() => setOpen(!open)}
        style={{ minHeight: 44, justifyContent: 'center', gap: 2, paddingVertical: space(1) }}
      >
        <View style={{ flexDirection: 'row', gap: space(2), alignItems: 'center' }}>
          {weight === 'lost' ? (
            <ReachMark state="lost" />
          ) : (
            <Words size="small" strong tone={weight === 'better' ? 'kelp' : 'soft'}>
              {WEIGHTS[weight]}
            </Words>
          )}
        </View>
        <Words>{showNumbersIn(says)}</Words>
      </Pressable>
      {open ? children : null}
    </View>
  );
}
