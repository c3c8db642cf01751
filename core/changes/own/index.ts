export { judgeWish, WISH_KINDS, wishSchema, type Judged, type Wish, type WishKind } from './own';
export { isWithinLimit, limitsSchema, USUAL_LIMITS, type OwnLimits } from './limits';
export { sayWish } from './words';
export { twinningByCode, type TwinningByCode } from './code';
