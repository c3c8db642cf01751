import { Ordered } from '../kit/Ordered';
import { RuleRow, type RuleOrderProps } from './RuleRow';

/** Rules in their order, moved by drag, by the arrow keys at the handle, or by buttons. */
export function RuleOrder(props: RuleOrderProps) {
  return (
    <Ordered
      ids={props.rows.map(({ id }) => id)}
      what="rule"
      onMove={props.onMove}
      draw={(i, handle) => <RuleRow {...props} row={props.rows[i]!} i={i} handle={handle} />}
    />
  );
}
