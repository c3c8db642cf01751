import type { Dialling } from '../estate';

/** Dial plans that tests of numbers share. */
export const CANADA: Dialling = {
  country: 'CA',
  areaCodes: ['250'],
  outsideCode: '9',
  nationalPrefix: '1',
  internationalPrefix: '011',
  extensionDigits: 4,
};
export const BRITAIN: Dialling = {
  ...CANADA,
  country: 'GB',
  areaCodes: ['20'],
  nationalPrefix: '0',
  internationalPrefix: '00',
};
