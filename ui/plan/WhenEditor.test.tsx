import { useState } from 'react';
import { fireEvent, screen } from '@testing-library/react-native';
import type { Estate, Person, When } from '../../core/estate';
import { workedEstate } from '../../core/tests/worked';
import { show } from '../tests/render';
import { WhenEditor } from './WhenEditor';

const estate: Estate = workedEstate();
const person = (id: string): Person => estate.people.find((each) => each.id === id)!;
const told = jest.fn();
beforeEach(() => told.mockClear());

function Held({ first, who = 'ines' }: { first: When; who?: string }) {
  const [when, setWhen] = useState(first);
  return (
    <WhenEditor
      when={when}
      person={person(who)}
      estate={estate}
      onChange={(next) => {
        told(next);
        setWhen(next);
      }}
    />
  );
}

test('a status is ticked, another joins it, and with none ticked it does not matter again', () => {
  show(<Held first={{}} />);
  expect(screen.getByText('Status: does not matter')).toBeTruthy();
  fireEvent.press(screen.getByLabelText('On leave'));
  expect(told).toHaveBeenLastCalledWith({ status: ['on-leave'] });
  fireEvent.press(screen.getByLabelText('At sea'));
  expect(told).toHaveBeenLastCalledWith({ status: ['on-leave', 'at-sea'] });
  fireEvent.press(screen.getByLabelText('On leave'));
  fireEvent.press(screen.getByLabelText('At sea'));
  expect(told).toHaveBeenLastCalledWith({});
});
test('hours are inside or outside a schedule, or always', () => {
  show(<Held first={{ status: ['at-sea'] }} />);
  fireEvent.press(screen.getByText('Outside Office hours'));
  expect(told).toHaveBeenLastCalledWith({ status: ['at-sea'], schedule: { id: 'office', inside: false } });
  fireEvent.press(screen.getByText('Always'));
  expect(told).toHaveBeenLastCalledWith({ status: ['at-sea'] });
});
test('listed callers are read from what is typed; with nobody listed it is said that the rule never fits', () => {
  show(<Held first={{}} />);
  fireEvent.press(screen.getByText('Listed callers'));
  expect(screen.getByText(/Nobody is listed yet/)).toBeTruthy();
  fireEvent.changeText(screen.getByLabelText(/Numbers in any form/), '+1 (604), 4104; x');
  expect(told).toHaveBeenLastCalledWith({ caller: { class: 'listed', numbers: ['+1604', '4104'] } });
  expect(screen.getByText('Not read as a number: x')).toBeTruthy();
  fireEvent.press(screen.getByText('Anybody'));
  expect(told).toHaveBeenLastCalledWith({});
});
test('the line that was called is asked for only where there is more than one', () => {
  show(<Held first={{}} who="ines" />);
  expect(screen.queryByText(/Line that was called/)).toBeNull();
  screen.unmount();
  show(<Held first={{}} who="amara" />);
  fireEvent.press(screen.getByLabelText('4106'));
  expect(told).toHaveBeenLastCalledWith({ line: ['l-4106'] });
});
