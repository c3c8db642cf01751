export {
  CALL_FIELD_NAMES,
  CALL_FIELDS,
  callColumnsFault,
  matchCallColumns,
  wordKey,
  type CallColumns,
  type CallField,
} from './fields';
export { DATE_ORDERS, guessOrder, isEitherOrder, readLength, readMoment, type DateOrder } from './moments';
export {
  callReader,
  JOIN_ROWS,
  type CallChoices,
  type CallReader,
  type RowFault,
  type RowsRead,
} from './reader';
export { callHeadings, callRows, type CallRowKind } from './write';
export { jsonPieces, type Piece, type Pieces } from './pieces';
