import { useEffect } from 'react';

/** What the tab of the browser says of the page. */
export function usePageTitle(title: string): void {
  useEffect(() => {
    document.title = `${title} · Hostler`;
  }, [title]);
}
