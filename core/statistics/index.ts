export { erlangB, erlangBRepeated, queueOf, serversFor, type QueueAnswer, type QueueLoad } from './erlang';
export { kaplanMeier, type CurveStep, type Lifetime } from './survival';
export { comingMore, comingOf, placesFor, type Coming } from './binomial';
export { numberOf } from './number-of';
export { fisherExact, holm, quantile, wilson, Z95 } from './exact';
export { levelChange, type LevelChange } from './change';
