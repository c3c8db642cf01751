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
