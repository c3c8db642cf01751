import { useEffect } from 'react';

/** On what is printed: `part` on the way to the page or the sheet, `aside` on what stands beside that way. */
const MARK = 'data-print';

/** What is open: the topmost sheet if there is one, otherwise the page. */
function openPart(): Element | null {
  const sheets = Array.from(document.querySelectorAll('[role="dialog"]'));
  return sheets.at(-1) ?? document.querySelector('[role="main"], main');
}

/** Marks what is open and all that it stands in; what stands beside it is left out. */
function mark(): void {
  for (
    let node: Element | null = openPart();
    node && node !== document.documentElement;
    node = node.parentElement
  ) {
    node.setAttribute(MARK, 'part');
    for (const other of Array.from(node.parentElement?.children ?? []))
      if (other !== node && !['SCRIPT', 'STYLE'].includes(other.tagName)) other.setAttribute(MARK, 'aside');
  }
  const part = openPart();
  for (const inside of Array.from(part?.querySelectorAll('div') ?? [])) inside.setAttribute(MARK, 'inside');
  // Pages lie one over the other: the one whose heading is seen stands by itself.
  const heading = Array.from(part?.querySelectorAll('h1, h2') ?? []).find(
    (each) => each.getClientRects().length > 0,
  );
  // The row of the heading itself stays a row.
  for (
    let node = heading?.parentElement?.parentElement?.parentElement;
    node && node !== part;
    node = node.parentElement
  )
    node.setAttribute(MARK, 'way');
}

function unmark(): void {
  for (const node of Array.from(document.querySelectorAll(`[${MARK}]`))) node.removeAttribute(MARK);
}

/** Whatever is open prints whole, over as many sheets of paper as it takes, without what surrounds it. */
export function usePrinting(): void {
  useEffect(() => {
    window.addEventListener('beforeprint', mark);
    window.addEventListener('afterprint', unmark);
    return () => {
      window.removeEventListener('beforeprint', mark);
      window.removeEventListener('afterprint', unmark);
      unmark();
    };
  }, []);
}
