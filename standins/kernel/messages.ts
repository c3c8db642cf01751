import type { Socket } from '../../core/estate';

/** What a host of the kernel tests is told to do. */
export type AgentOrder = { readonly id: number } & (
  | { readonly op: 'bind' | 'listen' | 'connect'; readonly address: string; readonly port: number }
  | { readonly op: 'send'; readonly port: number; readonly to: Socket; readonly data: string }
  | {
      readonly op: 'turn';
      readonly address: string;
      readonly port: number;
      readonly user: string;
      readonly password: string;
      readonly allow: readonly string[];
    }
);
/** What it tells. */
export type AgentTold =
  | { readonly kind: 'got'; readonly port: number; readonly from: Socket; readonly data: string }
  | { readonly kind: 'done'; readonly id: number; readonly ok: boolean };
