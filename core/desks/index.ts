export { weekAt, weekOfDate, type Week } from './week';
export {
  desksAt,
  enoughDesks,
  HALF_HOUR_MS,
  withoutDesk,
  worstOf,
  type EnoughDesks,
  type HalfHour,
} from './enough';
