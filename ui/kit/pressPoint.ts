import type { GestureResponderEvent } from 'react-native';

/** Where on the pressed view a press was, in px: a browser tells it as an offset, a touch screen as a location. */
export function pressPoint({ nativeEvent }: GestureResponderEvent): {
  readonly x: number;
  readonly y: number;
} {
  const { offsetX, offsetY } = nativeEvent as unknown as { offsetX?: number; offsetY?: number };
  return { x: offsetX ?? nativeEvent.locationX, y: offsetY ?? nativeEvent.locationY };
}
