import { useEffect } from 'react';

const STEPS: Readonly<Record<string, number>> = {
  ArrowRight: 1,
  ArrowDown: 1,
  ArrowLeft: -1,
  ArrowUp: -1,
};
/** What Space presses, besides the browser's own controls. */
const BY_SPACE = ['radio', 'checkbox', 'switch'];

/**
 * The keys that everybody expects of radio buttons, checkboxes and switches (WAI-ARIA Authoring Practices): Space
 * presses them, arrows go from one radio button of a group to the next and choose it; in a group that takes effect at
 * once they only go there, and Space chooses.
 */
export function usePressKeys(): void {
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      const { target } = event;
      if (!(target instanceof HTMLElement) || target instanceof HTMLInputElement) return;
      if (event.ctrlKey || event.metaKey || event.altKey) return;
      const role = target.getAttribute('role') ?? '';
      if (event.key === ' ' && BY_SPACE.includes(role)) {
        event.preventDefault();
        target.click();
        return;
      }
      const step = STEPS[event.key];
      const group = step === undefined || role !== 'radio' ? null : target.closest('[role="radiogroup"]');
      if (!group || step === undefined) return;
      const radios = Array.from(group.querySelectorAll<HTMLElement>('[role="radio"]'));
      const next = radios[(radios.indexOf(target) + step + radios.length) % radios.length];
      if (!next) return;
      event.preventDefault();
      next.focus();
      if (group.getAttribute('data-at-once') === null) next.click();
    };
    document.addEventListener('keydown', listen);
    return () => document.removeEventListener('keydown', listen);
  }, []);
}
