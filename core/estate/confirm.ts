export const CONFIRMS = ['none', 'key', 'key-name', 'pin'] as const;
/** How whoever answers a phone outside accepts the call on purpose. */
export type Confirm = (typeof CONFIRMS)[number];
