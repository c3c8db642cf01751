import { Fragment, type ReactNode } from 'react';

export interface OrderedProps {
  readonly ids: readonly string[];
  /** What one of them is called, for those who do not see the handle. */
  readonly what: string;
  readonly onMove: ((from: number, to: number) => void) | null;
  /** Draws one, with the handle by which it is dragged. */
  readonly draw: (i: number, handle?: ReactNode) => ReactNode;
}

/** Things in their order; on the web they can be dragged (`Ordered.web.tsx`). */
export function Ordered({ ids, draw }: OrderedProps) {
  return ids.map((id, i) => <Fragment key={id}>{draw(i)}</Fragment>);
}
