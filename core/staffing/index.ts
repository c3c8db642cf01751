export { fifoRun, type FifoAnswer } from './fifo';
export { runGroup, type GroupLoad, type GroupRun, type GroupToRun, type OnProgress } from './group-run';
export type { Measured } from './measure';
export {
  MOST_SEATS,
  readForecast,
  seatsCurve,
  seatsNeeded,
  staffing,
  type CurvePoint,
  type ForecastSlot,
  type ReadForecast,
  type StaffedSlot,
  type Wanted,
} from './need';
export { ringSteps, type ReadySeat, type RingStep } from './ring-order';
