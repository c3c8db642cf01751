export { erlangB, queueOf, serversFor, type QueueAnswer, type QueueLoad } from './erlang';
export { kaplanMeier, type CurveStep, type Lifetime } from './survival';
export { chanceOfMore, poissonBinomial } from './binomial';
