import type { RuleOrderProps } from './RuleRow';
import { RuleRow } from './RuleRow';

/** Rules in their order, moved by buttons; on the web they can be dragged too (`RuleOrder.web.tsx`). */
export function RuleOrder(props: RuleOrderProps) {
  return (
    <>
      {props.rows.map((row, i) => (
        <RuleRow key={row.id} {...props} row={row} i={i} />
      ))}
    </>
  );
}
