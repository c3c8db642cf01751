import { fireEvent, screen } from '@testing-library/react-native';
import type { Person } from '../../core/estate';
import { workedEstate } from '../../core/tests/worked';
import { show } from '../tests/render';
import { ReadBack } from './ReadBack';

const estate = workedEstate();
const ines = estate.people.find(({ id }) => id === 'ines')!;
const MOBILE = '+17785550101';

test('what it is, what is dialled, and by which trunk', async () => {
  await show(<ReadBack e164={MOBILE} holder={ines} estate={estate} onPermission={null} />);
  expect(screen.getByText(/\+1 778 555 0101, national; dialled as 917785550101, by /)).toBeTruthy();
});

test('a line that may not: what is noticed, and the permission that mends it with a tap', async () => {
  const narrow = { id: 'none', name: 'Nothing', allow: [] };
  const with2 = { ...estate, permissions: [narrow, ...estate.permissions] };
  const person: Person = { ...ines, permission: 'none' };
  const changed: string[] = [];
  await show(
    <ReadBack
      e164={MOBILE}
      holder={person}
      estate={with2}
      onPermission={(permission) => void changed.push(permission)}
    />,
  );
  expect(screen.getByText(/Ines’s line may not dial it\. .*403/)).toBeTruthy();
  await fireEvent.press(screen.getByText(/^Give Ines the permission /));
  expect(changed).toHaveLength(1);
  const permission = with2.permissions.find(({ id }) => id === changed[0]);
  expect(permission?.allow).toContain('national');
});

test('without the right to change it no mend is offered', async () => {
  const with2 = {
    ...estate,
    permissions: [{ id: 'none', name: 'Nothing', allow: [] }, ...estate.permissions],
  };
  await show(
    <ReadBack e164={MOBILE} holder={{ ...ines, permission: 'none' }} estate={with2} onPermission={null} />,
  );
  expect(screen.getByText(/may not dial it/)).toBeTruthy();
  expect(screen.queryByText(/^Give /)).toBeNull();
});

test('a number that fraud protection watches is flagged where it is typed', async () => {
  const watching = { ...estate, settings: { fraudProtection: { prefixes: ['+1778'] } } };
  await show(<ReadBack e164={MOBILE} holder={ines} estate={watching} onPermission={null} />);
  expect(screen.getByText('Fraud protection watches it.')).toBeTruthy();
});
