import { settingOf } from '../../../estate';
import type { Check } from '../types';

export const menuHasNoLast: Check = {
  id: 'menu-has-no-last-rule',
  of: 'menu',
  weight: 'fault',
  title: 'A menu with hours in which no rule fits',
  looksFor: 'Menus whose last rule asks for hours or callers, so that some calls fit none.',
  why: 'Such a call is lost: the menu does not know what to do.',
  run: (menu) => {
    const last = menu.rules.at(-1);
    return last && !last.when.schedule && !last.when.caller
      ? []
      : [
          {
            says: 'No rule of the menu fits always: some calls are lost.',
            evidence: [{ text: 'Rules', setting: settingOf('menus', menu.id, 'rules') }],
          },
        ];
  },
};
