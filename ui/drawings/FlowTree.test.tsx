import { fireEvent, screen } from '@testing-library/react-native';
import type { FlowNode } from '../../core/calls/views';
import { show } from '../tests/render';
import { FlowTree } from './FlowTree';

const mockNavigate = jest.fn();
jest.mock('expo-router', () => ({ useRouter: () => ({ navigate: mockNavigate }) }));

const end = (title: string): FlowNode => ({ kind: 'end', id: '', title, text: '', branches: [] });
const flow: FlowNode = {
  kind: 'menu',
  id: 'main',
  title: 'Main menu',
  text: 'extension 4000',
  branches: [
    {
      when: 'Inside Office hours',
      isOpen: false,
      to: {
        ...end('A greeting'),
        branches: [{ when: 'Key 1', isOpen: false, to: end('On to +12505550101') }],
      },
    },
    {
      when: 'Always',
      isOpen: true,
      to: {
        ...end('Another'),
        branches: [{ when: 'No key', isOpen: true, to: end('Voicemail for Ruth') }],
      },
    },
  ],
};

test('the ways open at the moment are shown, the others folded until they are asked for', () => {
  show(<FlowTree node={flow} />);
  expect(screen.getByText('Voicemail for Ruth')).toBeTruthy();
  expect(screen.queryByText('On to +1 250 555 0101')).toBeNull();
  fireEvent.press(screen.getByText('Inside Office hours: not at this moment'));
  expect(screen.getByText('On to +1 250 555 0101')).toBeTruthy();
});
test('a person, group or menu leads to its own page', () => {
  show(<FlowTree node={flow} />);
  fireEvent.press(screen.getByText('Main menu'));
  expect(mockNavigate).toHaveBeenCalledWith('/menus/main');
});
