import { insideOf } from '../../estate';
import type { EstateIndex } from '../../calls/engine';
import type { GreetingFault } from './greeting';
import type { CheckResult } from './types';

/** The names that greetings are held against. */
export const greetingNames = ({ people, groups, menus }: EstateIndex) => ({
  person: (id: string) => people.get(id)?.name,
  group: (id: string) => groups.get(id)?.name,
  menu: (id: string) => menus.get(id)?.name,
});

/** What is wrong with a greeting, as a finding. */
export const greetingFound = ({ setting, key, text }: GreetingFault): CheckResult => ({
  detail: `${insideOf(setting)}/${key}`,
  says: text,
  evidence: [{ text: 'The greeting', setting }],
});
