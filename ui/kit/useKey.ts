import { useEffect, useRef } from 'react';

const isTyping = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName));

/** Does something at a key of the keyboard, unless something is being typed or a dialog is open. */
export function useKey(key: string, then: () => void): void {
  const latest = useRef(then);
  useEffect(() => {
    latest.current = then;
  });
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (event.key !== key || event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target))
        return;
      if (document.querySelector('[role="dialog"]')) return;
      event.preventDefault();
      latest.current();
    };
    document.addEventListener('keydown', listen);
    return () => document.removeEventListener('keydown', listen);
  }, [key]);
}

/** Does something at `g` and then a letter within a second and a half. */
export function useGoKeys(go: Readonly<Record<string, () => void>>): void {
  const latest = useRef(go);
  useEffect(() => {
    latest.current = go;
  });
  useEffect(() => {
    let since = 0;
    const listen = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
      if (event.key === 'g') since = event.timeStamp;
      else if (since > 0 && event.timeStamp - since < 1500) {
        since = 0;
        latest.current[event.key]?.();
      }
    };
    document.addEventListener('keydown', listen);
    return () => document.removeEventListener('keydown', listen);
  }, []);
}
