import { reached } from './toll-reach';
import type { Check } from '../types';

export const tollReachOfMenu: Check = {
  id: 'toll-reach-of-menu',
  of: 'menu',
  weight: 'fault',
  title: 'A menu leads to a premium or watched number',
  looksFor: 'Choices of menus that lead to premium numbers or to those that fraud protection watches.',
  why: 'Anybody who calls can make the organisation pay.',
  run: reached,
};
