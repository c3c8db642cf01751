import { usePathname } from 'expo-router';
import { useCurrentSlate } from '../data/slates';
import { space, TARGET, usePalette } from '../kit/theme';
import { Icon } from '../kit/icons';
import { PressLink } from '../kit/PressLink';
import { Words } from '../kit/Words';

const STATES = { work: 'not live', timed: 'set for a time', held: 'held back', applied: '', dropped: '' };

/** In view on every screen while a slate is in work: its name, how much is on it, and the way to it. */
export function SlateBar() {
  const palette = usePalette();
  const path = usePathname();
  const { slate } = useCurrentSlate();
  if (!slate || path === `/slates/${slate.id}`) return null;
  return (
    <PressLink
      href={`/slates/${slate.id}`}
      label={`Slate ${slate.name}, ${slate.size} changed, ${STATES[slate.state]}`}
      screenOnly
      style={({ pressed }) => ({
        minHeight: TARGET,
        flexDirection: 'row',
        alignItems: 'center',
        gap: space(2),
        paddingHorizontal: space(4),
        borderTopWidth: 2,
        borderColor: palette.accent,
        backgroundColor: pressed ? palette.tint : palette.sheet,
      })}
    >
      <Icon name="slate" size={20} color={palette.accent} />
      <Words strong lines={1} style={{ flexShrink: 1 }}>
        {slate.name}
      </Words>
      <Words size="small" tone="soft" lines={1} style={{ flex: 1 }}>
        {`${slate.size} ${slate.size === 1 ? 'change' : 'changes'}, ${STATES[slate.state]}`}
      </Words>
      <Icon name="next" size={18} color={palette.ink} />
    </PressLink>
  );
}
