import { useEffect } from 'react';
import { useAsked, useEffectOfAct } from '../data/effect';
import { Sheet } from '../kit/Sheet';
import { AskWorse, EffectNote } from './EffectNote';

/**
 * Something that takes effect at once: what it does is worked out, it is done where nothing gets worse, and asked
 * first where something does. Mounted for each act anew.
 */
export function ActAsk<T extends object>({
  path,
  act,
  label,
  onSure,
  onBack,
}: {
  readonly path: string;
  readonly act: T;
  /** What is done, such as "Switch it off all the same". */
  readonly label: string;
  readonly onSure: () => void;
  readonly onBack: () => void;
}) {
  const effect = useEffectOfAct(path, act);
  const asked = useAsked(effect, onSure);
  const { press } = asked;
  useEffect(() => {
    press();
    // Once, when it is begun.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  if (!asked.asks) return null;
  return (
    <Sheet title="Before it is done" open onClose={onBack}>
      <EffectNote effect={effect} />
      <AskWorse effect={effect} label={label} onSure={asked.sure} onBack={onBack} />
    </Sheet>
  );
}
