/** An object without some of its fields, for fields that are left out rather than empty. */
export const without = <T extends object, K extends keyof T>(from: T, ...keys: K[]): Omit<T, K> =>
  Object.fromEntries(Object.entries(from).filter(([key]) => !keys.includes(key as K))) as Omit<T, K>;
