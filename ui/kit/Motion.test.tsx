import { act, screen } from '@testing-library/react-native';
import { Text } from 'react-native';
import { useTheme } from 'react-native-paper';
import { show } from '../tests/render';
import { Motion } from './Motion';

const Moves = () => <Text>{useTheme().animation.scale === 0 ? 'still' : 'moves'}</Text>;

test('controls stand still for whoever asks their device for less motion, from the moment that they ask', () => {
  const before = globalThis.matchMedia;
  const followers = new Set<() => void>();
  const query = {
    matches: false,
    addEventListener: (_kind: string, changed: () => void) => followers.add(changed),
    removeEventListener: (_kind: string, changed: () => void) => followers.delete(changed),
  };
  const asked: string[] = [];
  globalThis.matchMedia = (media) => {
    asked.push(media);
    return query as unknown as MediaQueryList;
  };
  try {
    show(
      <Motion>
        <Moves />
      </Motion>,
    );
    expect(screen.getByText('moves')).toBeTruthy();
    act(() => {
      query.matches = true;
      for (const changed of followers) changed();
    });
    expect(screen.getByText('still')).toBeTruthy();
    expect(new Set(asked)).toEqual(new Set(['(prefers-reduced-motion: reduce)']));
    screen.unmount();
    expect(followers.size).toBe(0);
  } finally {
    globalThis.matchMedia = before;
  }
});

test('where nothing is known of it, they move', () => {
  show(
    <Motion>
      <Moves />
    </Motion>,
  );
  expect(screen.getByText('moves')).toBeTruthy();
});
