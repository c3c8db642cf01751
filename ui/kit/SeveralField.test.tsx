import { fireEvent, screen } from '@testing-library/react-native';
import { show } from '../tests/render';
import { E164_BEGINNING, SeveralField } from './SeveralField';

const field = () => screen.getByLabelText('Beginnings');

test('several texts are told as a list, null while one of them is wrong, and what is typed stays', async () => {
  const told: (readonly string[] | null)[] = [];
  await show(
    <SeveralField
      label="Beginnings"
      values={['+53']}
      fits={E164_BEGINNING}
      example="+371"
      onChange={(values) => void told.push(values)}
    />,
  );
  expect(field().props.value).toBe('+53');
  await fireEvent.changeText(field(), '+53, 44');
  expect(screen.getByText('44 must be + and digits, such as +371')).toBeTruthy();
  await fireEvent.changeText(field(), '+53; +44 ,');
  expect(screen.queryByText(/must be/)).toBeNull();
  expect(field().props.value).toBe('+53; +44 ,');
  expect(told).toEqual([null, ['+53', '+44']]);
});

test('what does not count is taken off each, and a fault of the server is shown', async () => {
  const told: (readonly string[] | null)[] = [];
  await show(
    <SeveralField
      label="Beginnings"
      values={[]}
      clean={(text) => text.replace(/\D/g, '')}
      fault="is missing"
      onChange={(values) => void told.push(values)}
    />,
  );
  expect(screen.getByText('is missing')).toBeTruthy();
  await fireEvent.changeText(field(), '2-50 x 604');
  expect(told).toEqual([['250', '604']]);
});
