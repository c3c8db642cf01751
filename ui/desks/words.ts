import type { DeskCredential, DeskTaken } from '../../core/estate';

export const CREDENTIALS: readonly { readonly value: DeskCredential; readonly label: string }[] = [
  { value: 'pin', label: 'PIN at the phone' },
  { value: 'code-and-pin', label: 'Code shown at the desk, and PIN' },
  { value: 'page', label: 'Own page' },
  { value: 'badge', label: 'Badge' },
];
export const TAKEN: readonly { readonly value: DeskTaken; readonly label: string }[] = [
  { value: 'refuse', label: 'The new one is refused' },
  { value: 'take-over', label: 'Whoever sits there is signed off' },
  { value: 'ask', label: 'The new one is told and decides' },
];
/** A chance in words short enough for a list. */
export const percent = (chance: number): string =>
  chance === 0
    ? '0 %'
    : chance < 0.0001
      ? 'under 0.01 %'
      : `${(chance * 100).toFixed(chance < 0.1 ? 2 : 0)} %`;
