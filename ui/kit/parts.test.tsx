import { fireEvent, screen } from '@testing-library/react-native';
import { Text } from 'react-native';
import { show } from '../tests/render';
import {
  Button,
  Choice,
  Empty,
  Field,
  Fold,
  LinkRow,
  ProofMark,
  ReachMark,
  Skeleton,
  Trouble,
} from './parts';

test('a choice marks the one that is on, and tells the one that is tapped', () => {
  const told = jest.fn();
  show(
    <Choice
      label="Caller"
      value="in"
      options={[
        { value: 'in', label: 'Inside' },
        { value: 'out', label: 'Outside' },
      ]}
      onChange={told}
    />,
  );
  const [inside, outside] = screen.getAllByRole('radio');
  expect(
    [inside, outside].map((each) => each!.props['aria-checked'] ?? each!.props.accessibilityState?.checked),
  ).toEqual([true, false]);
  fireEvent.press(outside!);
  expect(told).toHaveBeenCalledWith('out');
});
test.each([
  ['reached', 'Reached'],
  ['at-risk', 'At risk'],
  ['lost', 'Lost'],
] as const)('%s has its word, never a colour alone', (state, word) => {
  show(<ReachMark state={state} />);
  expect(screen.getByText(word)).toBeTruthy();
});
test.each([
  ['holds', 'Holds'],
  ['broken', 'Broken'],
  ['open', 'Not proved'],
] as const)('a promise that %s is named for those who do not see the bar', (state, word) => {
  show(<ProofMark state={state} />);
  expect(screen.getByLabelText(word)).toBeTruthy();
});
test('a field shows its error in the place of its hint', () => {
  show(<Field label="Number" value="x" onChange={() => undefined} error="not a number" hint="in any form" />);
  expect(screen.getByText('not a number')).toBeTruthy();
  expect(screen.queryByText('in any form')).toBeNull();
});
test('a busy or disabled button does nothing', () => {
  const told = jest.fn();
  show(
    <>
      <Button label="Write" busy onPress={told} />
      <Button label="Keep" disabled onPress={told} />
      <Button label="Go" onPress={told} />
    </>,
  );
  for (const name of ['Write', 'Keep', 'Go']) fireEvent.press(screen.getByText(name));
  expect(told).toHaveBeenCalledTimes(1);
});
test('what is folded is there only when it is opened', () => {
  show(
    <Fold title="Show as table">
      <Text>inside</Text>
    </Fold>,
  );
  expect(screen.queryByText('inside')).toBeNull();
  fireEvent.press(screen.getByText('Show as table'));
  expect(screen.getByText('inside')).toBeTruthy();
});
test('trouble can be tried again, an empty list says what to do, a row leads on', () => {
  const told = jest.fn();
  show(
    <>
      <Trouble message="The server cannot be reached." retry={told} />
      <Empty title="Nobody yet" text="Import your staff." />
      <LinkRow title="Ines Okafor" text="4101" onPress={told} />
      <Skeleton rows={2} />
    </>,
  );
  fireEvent.press(screen.getByText('Try again'));
  fireEvent.press(screen.getByText('Ines Okafor'));
  expect(told).toHaveBeenCalledTimes(2);
  expect(screen.getByText('Import your staff.')).toBeTruthy();
  expect(screen.getByLabelText('Loading')).toBeTruthy();
});
