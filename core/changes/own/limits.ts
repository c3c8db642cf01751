import { NUMBER_CLASSES, parts, type Ms, type NumberClass } from '../../estate';

/** What people may change in their own reach by themselves; what goes beyond becomes a request. */
export interface OwnLimits {
  readonly status: boolean;
  readonly twinning: boolean;
  /** The classes of numbers that they may set for their own phones. */
  readonly numbers: readonly NumberClass[];
  /** How long a stage may ring. */
  readonly ringMs: { readonly least: Ms; readonly most: Ms };
  /** The order in which their phones ring. */
  readonly sequence: boolean;
  readonly hours: boolean;
  /** How far ahead cover may be set; 0: not at all. */
  readonly coverMs: Ms;
}

export const USUAL_LIMITS: OwnLimits = {
  status: true,
  twinning: true,
  numbers: ['local', 'national', 'mobile'],
  ringMs: { least: 10_000, most: 40_000 },
  sequence: true,
  hours: false,
  coverMs: 14 * 24 * 3_600_000,
};

export const isWithinLimit = ({ least, most }: OwnLimits['ringMs'], ms: Ms): boolean =>
  ms >= least && ms <= most;

const { closed, count, flag, ms, oneOf, requiredList } = parts;
export const limitsSchema = closed({
  status: flag().required('is missing'),
  twinning: flag().required('is missing'),
  numbers: requiredList(oneOf(NUMBER_CLASSES)),
  ringMs: closed({ least: ms(1).required('is missing'), most: ms(1).required('is missing') }).test(
    'range',
    'the least must not be more than the most',
    (value: unknown) => {
      const { least, most } = (value ?? {}) as { least?: number; most?: number };
      return least === undefined || most === undefined || least <= most;
    },
  ),
  sequence: flag().required('is missing'),
  hours: flag().required('is missing'),
  coverMs: count(0).required('is missing'),
});
