import type { LineCheck, LineMeasured, LineWay } from '../../api/lines';
import { lineAdvice, qualityOfLine, type LineAdvice, type LineMapping } from '../../core/quality';

export const WAY_NAMES: Readonly<Record<LineWay, string>> = { udp: 'UDP', tcp: 'TCP', tls: 'TLS' };

/** What to do over a line that was measured; `none`: nothing passes. */
export const adviceOf = ({ figures }: Pick<LineMeasured, 'figures'>): LineAdvice | 'none' =>
  figures ? lineAdvice(qualityOfLine(figures).mos) : 'none';

/** The same to the person whose line it is. */
export const OWN_ADVICE: Readonly<Record<LineAdvice | 'none', string>> = {
  app: 'Use the app here: calls sound well.',
  either: 'The app will do here. Where a call matters, your mobile number is the safer way.',
  mobile: 'Let us ring your mobile number here instead of the app: calls over this line sound poor.',
  none: 'The app gets no sound through here. Let us ring your mobile number.',
};

/** A line in numbers. */
export function figuresOf({ by, figures }: Pick<LineMeasured, 'by' | 'figures'>): string {
  if (!figures || !by) return 'Nothing passed: neither UDP nor TCP';
  const { mos } = qualityOfLine(figures);
  const { delayMs, jitterMs, lossPercent, burst } = figures;
  const runs = burst >= 1.5 ? `, ${burst.toFixed(1)} at a time` : '';
  return `MOS ${mos.toFixed(1)} · delay ${delayMs.toFixed(0)} ms, jitter ${jitterMs.toFixed(0)} ms, loss ${lossPercent.toFixed(1)} %${runs} · by ${WAY_NAMES[by]}`;
}

export const MAPPING_WORDS: Readonly<Record<LineMapping, string>> = {
  same: 'The router gives one socket the same outside port towards everybody: STUN and ICE can work.',
  'by-address':
    'The router gives one socket another outside port towards each address: what STUN learns is of no use for sound.',
  'by-port':
    'The router gives one socket another outside port towards each address and port: what STUN learns is of no use for sound.',
};

/** The day of a measurement. */
export const dayOf = (at: string): string =>
  new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric' }).format(new Date(at));

/** When and by whom it was measured. */
export const measuredBy = ({ at, name }: Pick<LineCheck, 'at' | 'name'>, timeZone?: string): string =>
  `${new Intl.DateTimeFormat('en-GB', {
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
    ...(timeZone ? { timeZone } : {}),
  }).format(new Date(at))}, ${name}`;
