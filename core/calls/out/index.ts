export { PRICED_MS, waysToCall, type NowKnown, type WayKind, type WayToCall } from './ways';
