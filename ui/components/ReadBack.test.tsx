import { fireEvent, screen } from '@testing-library/react-native';
import type { Person } from '../../core/estate';
import { workedEstate } from '../../core/tests/worked';
import { show } from '../tests/render';
import { ReadBack } from './ReadBack';

const estate = workedEstate();
const ines = estate.people.find(({ id }) => id === 'ines')!;
const MOBILE = '+17785550101';

test('what it is, what is dialled, and by which trunk', async () => {
  await show(<ReadBack e164={MOBILE} person={ines} estate={estate} onEdit={null} />);
  expect(screen.getByText(/\+1 778 555 0101, national; dialled as 917785550101, by /)).toBeTruthy();
});

test('a line that may not: what is noticed, and the permission that mends it with a tap', async () => {
  const narrow = { id: 'none', name: 'Nothing', allow: [] };
  const with2 = { ...estate, permissions: [narrow, ...estate.permissions] };
  const person: Person = { ...ines, permission: 'none' };
  const changed: Person[] = [];
  await show(
    <ReadBack
      e164={MOBILE}
      person={person}
      estate={with2}
      onEdit={(change) => void changed.push(change(person))}
    />,
  );
  expect(screen.getByText(/Ines’s line may not dial it\. .*403/)).toBeTruthy();
  await fireEvent.press(screen.getByText(/^Give Ines the permission /));
  expect(changed).toHaveLength(1);
  const permission = with2.permissions.find(({ id }) => id === changed[0]?.permission);
  expect(permission?.allow).toContain('national');
});

test('without the right to change it no mend is offered', async () => {
  const with2 = {
    ...estate,
    permissions: [{ id: 'none', name: 'Nothing', allow: [] }, ...estate.permissions],
  };
  await show(
    <ReadBack e164={MOBILE} person={{ ...ines, permission: 'none' }} estate={with2} onEdit={null} />,
  );
  expect(screen.getByText(/may not dial it/)).toBeTruthy();
  expect(screen.queryByText(/^Give /)).toBeNull();
});
