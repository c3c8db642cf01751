import { reached } from './toll-reach';
import type { Check } from '../types';

export const tollReachOfGroup: Check = {
  id: 'toll-reach-of-group',
  of: 'group',
  weight: 'fault',
  title: 'A group leads to a premium or watched number',
  looksFor: 'Endings of groups that lead to premium numbers or to those that fraud protection watches.',
  why: 'Each such call costs.',
  run: reached,
};
