import { timesFound } from './carrier-times';
import type { Check } from '../types';

export const guardLong: Check = {
  id: 'guard-long',
  of: 'person',
  weight: 'risk',
  title: 'Answer guard so long that quick people are cut off',
  looksFor: 'Mobiles whose answer guard is still on when a quick person can have answered.',
  why: 'Whoever answers at the first ring is taken for a voicemail and dropped.',
  run: timesFound('guard-high'),
};
