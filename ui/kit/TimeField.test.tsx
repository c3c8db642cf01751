import { useState } from 'react';
import { fireEvent, screen } from '@testing-library/react-native';
import { show } from '../tests/render';
import { TimeField } from './TimeField';

function Held({
  first,
  told,
  ...rest
}: {
  first: number | null;
  told: (ms: number | null) => void;
  canBeNone?: boolean;
  least?: number;
  step?: number;
}) {
  const [value, setValue] = useState(first);
  return (
    <TimeField
      label="Guard"
      value={value}
      onChange={(ms) => {
        told(ms);
        setValue(ms);
      }}
      {...rest}
    />
  );
}
const field = () => screen.getByLabelText('Guard, in seconds');
const told = jest.fn();
beforeEach(() => told.mockClear());

test('shows milliseconds as seconds, and tells what is typed in milliseconds', () => {
  show(<Held first={2300} told={told} />);
  expect(field().props.value).toBe('2.3');
  fireEvent.changeText(field(), '2,5');
  expect(told.mock.calls).toEqual([[2500]]);
  expect(field().props.value).toBe('2,5');
});
test.each([
  ['4 rings', 24_000],
  ['1 ring', 6000],
  ['1800 ms', 1800],
  ['12 s', 12_000],
  ['0', 0],
])('%j is %d ms', (text, ms) => {
  show(<Held first={2300} told={told} />);
  fireEvent.changeText(field(), text);
  expect(told).toHaveBeenLastCalledWith(ms);
});
test.each(['', 'x', '-1', '1.2345', '1e3'])('%j is told beside the field and changes nothing', (text) => {
  show(<Held first={2300} told={told} />);
  fireEvent.changeText(field(), text);
  expect(told).not.toHaveBeenCalled();
  expect(screen.getByText(/^Seconds, 0 or more/)).toBeTruthy();
});
test('where none may be set, an empty field is none', () => {
  show(<Held first={2300} told={told} canBeNone />);
  fireEvent.changeText(field(), '');
  expect(told).toHaveBeenLastCalledWith(null);
});
test('less than the least is refused, and the buttons stop there', () => {
  show(<Held first={1500} told={told} least={1000} step={1000} />);
  fireEvent.changeText(field(), '0.5');
  expect(told).not.toHaveBeenCalled();
  fireEvent.press(screen.getByLabelText('Guard: less'));
  expect(told).toHaveBeenLastCalledWith(1000);
  fireEvent.press(screen.getByLabelText('Guard: more'));
  expect(told).toHaveBeenLastCalledWith(2000);
});
