import { timesFound } from './carrier-times';
import type { Check } from '../types';

export const ringsTooShort: Check = {
  id: 'rings-too-short',
  of: 'person',
  weight: 'risk',
  title: 'Less than ten seconds of ringing',
  looksFor: 'Mobiles that are given up before they have rung for ten seconds.',
  why: 'Provisioning a call to a mobile takes seconds of its own; what is left is not enough to take it from a pocket.',
  run: timesFound('give-up-early'),
};
