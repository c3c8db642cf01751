import { fireEvent, screen } from '@testing-library/react-native';
import { show } from '../tests/render';
import { RuleOrder } from './RuleOrder';
import type { RuleRowData } from './RuleRow';

const row = (id: string, isNow = false): RuleRowData => ({
  id,
  name: `Rule ${id}`,
  when: 'On shift',
  does: [{ text: 'Rings ' }, { text: '+12505550101', strong: true }, { text: ' for 25 s.' }],
  isNow,
});
const rows = [row('a'), row('b', true), row('c')];

test('each rule is a sentence with its numbers as they are shown everywhere; the one of this call is marked', () => {
  show(<RuleOrder rows={rows} onOpen={() => undefined} onMove={null} />);
  expect(screen.getAllByText('Rings +1 250 555 0101 for 25 s.')).toHaveLength(3);
  expect(screen.getAllByText('On shift (this call)')).toHaveLength(1);
});
test('buttons move a rule up and down, the first not up and the last not down', () => {
  const moved = jest.fn();
  show(<RuleOrder rows={rows} onOpen={() => undefined} onMove={moved} />);
  expect(screen.queryByLabelText('Rule a: earlier')).toBeNull();
  expect(screen.queryByLabelText('Rule c: later')).toBeNull();
  fireEvent.press(screen.getByLabelText('Rule b: earlier'));
  fireEvent.press(screen.getByLabelText('Rule b: later'));
  expect(moved.mock.calls).toEqual([
    [1, 0],
    [1, 2],
  ]);
});
test('a tap opens it; who may not edit sees no way to move', () => {
  const opened = jest.fn();
  show(<RuleOrder rows={rows} onOpen={opened} onMove={null} />);
  fireEvent.press(screen.getByLabelText('Rule c. Change'));
  expect(opened).toHaveBeenCalledWith('c');
  expect(screen.queryByLabelText('Rule b: later')).toBeNull();
});
