import { LINE_WAYS, type LineMeasured } from '../../api/lines';
import { parts } from '../../core/estate';
import { LINE_MAPPINGS, type LineFigures, type LineSecond } from '../../core/quality';

/** A measurement lasts 20 s with 50 packets each: twice as much is taken. */
const MOST_SECONDS = 40;
const MOST_PACKETS = 2000;
const MOST_MS = 60_000;

const ms = () => parts.share(MOST_MS);
const packets = (least = 0) => parts.count(least, MOST_PACKETS).required('is missing');

const second = parts.closed<LineSecond>({
  delayMs: ms().nullable().defined('is missing'),
  worstMs: ms().nullable().defined('is missing'),
  sent: packets(),
  lost: packets(),
});
const figures = parts.closed<LineFigures>({
  delayMs: ms().required('is missing'),
  jitterMs: ms().required('is missing'),
  lossPercent: parts.share(100).required('is missing'),
  burst: parts.share(MOST_PACKETS).min(1, 'must be 1 or more').required('is missing'),
  sent: packets(1),
  received: packets(1).test('received', 'must be no more than were sent', function (value) {
    const { sent } = this.parent as { sent?: unknown };
    return value === undefined || typeof sent !== 'number' || value <= sent;
  }),
  seconds: parts.requiredList(second).max(MOST_SECONDS, `must be ${MOST_SECONDS} or fewer`),
});
const measured = parts.closed<LineMeasured>({
  by: parts.oneOf(LINE_WAYS).nullable().defined('is missing'),
  figures: parts.choose((value) => (value === null ? parts.anything().nullable() : figures)),
  mapping: parts.oneOf(LINE_MAPPINGS).nullable().defined('is missing'),
  outside: parts.text(15).nullable().defined('is missing'),
});

/** What a browser sends of a line: where it was, and what was measured. */
export const lineBody = parts.closed({
  site: parts.text(120).nullable().defined('is missing'),
  place: parts.text(80).nullable().defined('is missing'),
  measured,
});
