import { ARGS, CHROMIUM } from '../playwright.config';
import { expect, goTo, test } from './server';

// A microphone that hums, and is allowed without a question.
test.use({
  launchOptions: {
    executablePath: CHROMIUM,
    args: [...ARGS, '--use-fake-device-for-media-stream', '--use-fake-ui-for-media-stream'],
  },
});

test(
  'a message is spoken into the microphone, and a round that is removed is restored',
  { tag: '@wide' },
  async ({ page, signIn }) => {
    await signIn();
    await goTo(page, '/rounds/1');
    await page.getByRole('button', { name: 'Record here' }).click();
    const sheet = page.getByRole('dialog');
    await sheet.getByRole('button', { name: 'Start recording' }).click();
    await expect(sheet.getByText('Recording …')).toBeVisible();
    // As long as it takes for something to have been recorded.
    await page.waitForFunction(
      (since) => performance.now() - since > 1500,
      await page.evaluate(() => performance.now()),
    );
    await sheet.getByRole('button', { name: 'Stop recording' }).click();
    await expect(sheet.getByText(/s recorded$/)).toBeVisible();
    await sheet.getByLabel('Name of the recording').fill('Spoken here');
    await sheet.getByRole('button', { name: 'Keep the recording' }).click();
    await expect(page.getByText(/^Spoken here, \d+ s$/).first()).toBeVisible();
    await page.getByRole('button', { name: 'Remove this round' }).click();
    await page.getByRole('button', { name: 'Restore Sailing 7 of Friday cancelled' }).click();
    await page.getByRole('link', { name: /Sailing 7 of Friday cancelled/ }).click();
    await expect(page.getByRole('heading', { level: 1 })).toHaveText('Sailing 7 of Friday cancelled');
  },
);
