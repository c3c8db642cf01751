import type { Estate, ObjectKind } from '../core/estate';

export type { ObjectKind };

export interface Named {
  readonly name: string;
}

export interface Identified extends Named {
  readonly id: string;
}

/** A group, menu, schedule or status as the server has it. */
export interface ObjectPage<T> {
  readonly object: T;
  readonly version: number;
  /** Of a group or menu: what its calls can come to. */
  readonly slice: Estate;
}

export interface Stored<T> {
  readonly object: T;
  readonly version: number;
}
