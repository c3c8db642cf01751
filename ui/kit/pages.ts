import { useEffect, useLayoutEffect } from 'react';

/** How long a page may take to come with its heading, in ms. */
const PATIENCE_MS = 5000;

/** Gives the keyboard to the heading of a page that was come to, once it is there, unless it is somewhere in it already. */
export function useHeadingFocus(path: string): void {
  useEffect(() => {
    const main = document.querySelector('[role="main"], main');
    if (!main || isFirst(path)) return;
    const take = () => {
      const { activeElement } = document;
      if (activeElement instanceof HTMLInputElement || activeElement instanceof HTMLTextAreaElement)
        return true;
      if (document.querySelector('[role="dialog"]')) return true;
      const heading = main.querySelector<HTMLElement>('h1');
      if (!heading) return false;
      heading.tabIndex = -1;
      heading.style.outline = 'none';
      heading.focus({ preventScroll: true });
      return true;
    };
    if (take()) return;
    const seen = new MutationObserver(() => take() && seen.disconnect());
    seen.observe(main, { childList: true, subtree: true });
    const timer = setTimeout(() => seen.disconnect(), PATIENCE_MS);
    return () => {
      seen.disconnect();
      clearTimeout(timer);
    };
  }, [path]);
}

let known: string | null = null;
/** The page that the application was opened with leaves the keyboard where the browser has it. */
function isFirst(path: string): boolean {
  const first = known === null;
  known = path;
  return first;
}

const sheets: (() => void)[] = [];
let swallows = 0;

/** Back closes what lies above the page first; the page itself stays. */
function hear(): void {
  window.addEventListener(
    'popstate',
    (event) => {
      if (swallows > 0) {
        swallows -= 1;
        event.stopImmediatePropagation();
        return;
      }
      const close = sheets.at(-1);
      if (!close) return;
      event.stopImmediatePropagation();
      swallows += 1;
      window.history.forward();
      close();
    },
    true,
  );
}

// Listeners are called in the order in which they were added: ours must be there before the router's.
if (typeof window !== 'undefined' && 'addEventListener' in window) hear();

/** While `open`, Back calls `close` in the place of leaving the page. */
export function useClosedByBack(open: boolean, close: () => void): void {
  // From the moment that it is drawn, and not any more in that in which it is gone.
  useLayoutEffect(() => {
    if (!open) return;
    sheets.push(close);
    return () => {
      const at = sheets.lastIndexOf(close);
      if (at >= 0) sheets.splice(at, 1);
    };
  }, [open, close]);
}
