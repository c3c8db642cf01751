import { useEffect, useRef, useState } from 'react';
import type { LineMeasured } from '../../api/lines';
import { messageOf } from '../data/api';
import { beginLine } from '../data/lines';
import { canMeasure, measureLine, type MeasureStep } from './measure';

/** A measurement in this browser, as far as it has come. */
export function useMeasuring(onDone: (measured: LineMeasured) => void) {
  const [step, setStep] = useState<MeasureStep | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const running = useRef<AbortController | null>(null);
  useEffect(() => () => running.current?.abort(), []);

  const stop = (why: string | null) => {
    running.current?.abort();
    running.current = null;
    setStep(null);
    setTrouble(why);
  };
  // A browser slows down what runs in a page that nobody sees: its figures would be those of the browser.
  useEffect(() => {
    if (typeof document === 'undefined') return undefined;
    const look = () => {
      if (document.hidden && running.current)
        stop('It was stopped, for this page was not in front. Measure again and leave it open.');
    };
    document.addEventListener('visibilitychange', look);
    return () => document.removeEventListener('visibilitychange', look);
  }, []);

  async function measure(): Promise<void> {
    if (running.current) return;
    if (!canMeasure()) return setTrouble('This browser cannot measure. Try another one.');
    const mine = new AbortController();
    running.current = mine;
    setTrouble(null);
    setStep({ step: 'address' });
    try {
      const tools = await beginLine();
      const measured = await measureLine(tools, setStep, mine.signal);
      if (measured && !mine.signal.aborted) onDone(measured);
    } catch (error) {
      if (!mine.signal.aborted) setTrouble(messageOf(error));
    } finally {
      if (running.current === mine) {
        running.current = null;
        setStep(null);
      }
    }
  }
  return { step, trouble, measure, stop: () => stop(null) };
}
