import { timesFound } from './carrier-times';
import type { Check } from '../types';

export const guardShort: Check = {
  id: 'guard-short',
  of: 'person',
  weight: 'risk',
  title: 'Answer guard shorter than a switched-off mobile’s answer',
  looksFor: 'Mobiles whose answer guard ends before their voicemail answers while they are off.',
  why: 'A mobile that is off or out of coverage is answered by its carrier at once, and the call is gone.',
  run: timesFound('guard-low'),
};
