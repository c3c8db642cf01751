import { quality, type MeasuredLine, type Quality } from './quality';

/** From this score on few users are not content (ITU-T G.107 annex B, R 80 and more is MOS 4.03; R 70 is 3.60). */
const CONTENT = 3.6;
const MANY_CONTENT = 4.03;

/** Whether to ring the app over a line, or rather the mobile number. */
export type LineAdvice = 'app' | 'either' | 'mobile';
export const lineAdvice = (mos: number): LineAdvice =>
  mos >= MANY_CONTENT ? 'app' : mos >= CONTENT ? 'either' : 'mobile';

/** That for who sets it up. */
export const lineWords: Readonly<Record<LineAdvice, string>> = {
  app: 'Nearly everybody is content: ring the app first.',
  either: 'Some are not content: the app will do, the mobile number is the safer way.',
  mobile: 'Many are not content: ring the mobile number instead of the app over this line.',
};

/** How the app sounds over a line that was measured: with the codec that apps use, which conceals losses. */
export const qualityOfLine = (line: Omit<MeasuredLine, 'codec'>): Quality =>
  quality({ ...line, codec: 'G.711-plc' });
