/** What the hand-written people are put together from. */
export const desk = (id: string, label = 'Desk phone') =>
  ({ id: `${id}-desk`, label, kind: 'desk' }) as const;
export const mobile = (id: string, number: string, more: object = {}) =>
  ({ id: `${id}-mobile`, label: 'Mobile', kind: 'mobile', number, ...more }) as const;
export const line = (
  extension: string,
  numbers: readonly string[] = [`+1250555${extension.replace(/^4/, '0')}`],
) => ({
  id: `l-${extension}`,
  extension,
  numbers,
});
export const OWN_MAILBOX = { kind: 'mailbox' } as const;
export const OFFICE = { id: 'office', inside: true } as const;
