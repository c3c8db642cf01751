import type { E164, Estate } from '../../estate';
import { classOf } from './classes';

/** Whether fraud protection watches a number: as a premium one, by its beginning, or not (null). */
export const watchedAs = (
  e164: E164,
  { dialling, settings }: Pick<Estate, 'dialling' | 'settings'>,
): 'premium' | 'prefix' | null =>
  classOf(e164, dialling) === 'premium'
    ? 'premium'
    : settings?.fraudProtection?.prefixes.some((prefix) => e164.startsWith(prefix))
      ? 'prefix'
      : null;
