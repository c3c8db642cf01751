/**
 * What a setting holds, which is how it is shown: `ms` a length of time, `count` a number of things, `share` a part of
 * one, `flag` yes or no, `number` a telephone number, `money` an amount in
 * hundred-thousandths of the tariff's currency, `choice` one of a few words, `id` something of the estate by its
 * id, `text` anything written, and `object` what has settings of its own.
 */
export type Holds =
  | 'ms'
  | 'count'
  | 'share'
  | 'flag'
  | 'number'
  | 'money'
  | 'choice'
  | 'id'
  | 'text'
  | 'object';

/** One setting: what the trade calls it, what it holds, and of an object or a list of objects, their settings. */
export interface Field {
  readonly says: string;
  readonly holds: Holds;
  readonly of?: () => Fields;
}
export type Fields = Readonly<Record<string, Field>>;

type KeysOf<T> = T extends unknown ? keyof T & string : never;
/** A line for each setting of a kind of object: one that is left out, or is none, does not compile. */
export type FieldsOf<T> = { readonly [K in KeysOf<T>]-?: Field };

export const ms = (says: string): Field => ({ says, holds: 'ms' });
export const count = (says: string): Field => ({ says, holds: 'count' });
export const flag = (says: string): Field => ({ says, holds: 'flag' });
export const number = (says: string): Field => ({ says, holds: 'number' });
export const choice = (says: string): Field => ({ says, holds: 'choice' });
export const id = (says: string): Field => ({ says, holds: 'id' });
export const text = (says: string): Field => ({ says, holds: 'text' });
export const object = (says: string, of: () => Fields): Field => ({ says, holds: 'object', of });

export const NAMED = { id: text('id'), name: text('name') };
