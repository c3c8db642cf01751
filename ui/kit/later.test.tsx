import { screen, waitFor } from '@testing-library/react-native';
import { Text } from 'react-native';
import { show } from '../tests/render';
import { later } from './later';

test('a skeleton stands until the screen is there, and then the screen with what it was given', async () => {
  let arrive: (screen: (props: { name: string }) => React.ReactNode) => void = () => undefined;
  const Screen = later<{ name: string }>(() => new Promise((resolve) => (arrive = resolve)));
  show(<Screen name="Ines" />);
  expect(screen.getByLabelText('Loading')).toBeTruthy();
  arrive(({ name }) => <Text>{`Page of ${name}`}</Text>);
  await waitFor(() => expect(screen.getByText('Page of Ines')).toBeTruthy());
  expect(screen.queryByLabelText('Loading')).toBeNull();
});

test('a screen that cannot be fetched leaves a way to try again', async () => {
  const quiet = jest.spyOn(console, 'error').mockImplementation(() => undefined);
  const Screen = later(() => Promise.reject(new Error('gone')));
  show(<Screen />);
  await waitFor(() => expect(screen.getByText(/could not be fetched/)).toBeTruthy());
  expect(screen.getByText('Try again')).toBeTruthy();
  quiet.mockRestore();
});
