import type { Locator, Page, TestInfo } from '@playwright/test';
import { expect } from '../server';

/** The most that a task may take: taps on a phone or clicks, and keys, a typed character each. */
export interface Most {
  readonly taps: number;
  readonly keys: number;
}

/** What a person's hands do, counted: a task may not come to need more of it than it did. */
export function handsOn(page: Page) {
  let taps = 0;
  let keys = 0;
  return {
    tap: async (what: Locator) => {
      taps += 1;
      await what.click();
    },
    /** Taps a field and types into it, over what stood there. */
    type: async (field: Locator, text: string) => {
      taps += 1;
      keys += text.length;
      await field.fill(text);
    },
    press: async (key: string, times = 1) => {
      for (let n = 0; n < times; n += 1) {
        keys += 1;
        await page.keyboard.press(key);
      }
    },
    /** Tells what it took, and fails where that is more than it may be. */
    took: (info: TestInfo, most: Most) => {
      process.stdout.write(`    ${info.title}: ${taps} taps, ${keys} keys\n`);
      info.annotations.push({ type: 'hands', description: `${taps} taps, ${keys} keys` });
      expect(taps).toBeLessThanOrEqual(most.taps);
      expect(keys).toBeLessThanOrEqual(most.keys);
    },
  };
}
