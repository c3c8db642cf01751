import type { LineCheck, LineTools } from '../api/lines';
import { adviceOf, OWN_ADVICE } from '../ui/lines/words';
import { openRoughLine, type Roughness } from '../standins/tests/rough-line';
import { expect, goTo, test } from './server';
import type { Page } from '@playwright/test';

/** The relay is reached over a rough line alone. */
async function overRoughLine(page: Page, roughness: Roughness): Promise<() => void> {
  let close: () => void = () => undefined;
  await page.route('**/api/me/lines/begin', async (route) => {
    const answer = await route.fetch();
    const tools = (await answer.json()) as LineTools;
    const [, host = '', port = ''] = /^turn:([\d.]+):(\d+)/.exec(tools.relays.udp[0] ?? '') ?? [];
    const line = await openRoughLine({ host, port: Number(port) }, roughness);
    close = line.close;
    const udp = [`turn:127.0.0.1:${line.port}?transport=udp`];
    await route.fulfill({ json: { ...tools, relays: { ...tools.relays, udp } } });
  });
  return () => close();
}
const measure = async (page: Page) => {
  await page.getByRole('button', { name: 'Measure my line' }).click();
  await expect(page.getByText(/: \d+ s left/)).toBeVisible({ timeout: 30_000 });
  const kept = await page.waitForResponse(
    (response) => response.url().endsWith('/api/me/lines') && response.request().method() === 'POST',
    { timeout: 60_000 },
  );
  return ((await kept.json()) as { lines: LineCheck[] }).lines[0];
};

test('a rough line is measured from the own page as it is, and advised on', async ({ page, signIn }) => {
  test.setTimeout(120_000);
  await signIn('4101');
  const close = await overRoughLine(page, { delayMs: 60, spreadMs: 15, lossPercent: 5 });
  await goTo(page, '/');
  await page.getByRole('radio', { name: 'Another place' }).click();
  await page.getByLabel('Which place, if you like').fill('The cabin');
  const line = await measure(page);
  close();
  const figures = line?.figures;
  if (!figures) throw new Error('nothing was measured');
  expect([line.by, line.place, line.outside, line.mapping]).toEqual(['udp', 'The cabin', null, 'same']);
  // Of three hundred packets or more with a loss of 5 % each way: four standard deviations.
  expect(figures.sent).toBeGreaterThan(300);
  expect(Math.abs(figures.lossPercent - 5)).toBeLessThan(3.6);
  // An even spread of ±15 ms deviates by 8.7 ms; a busy machine only ever adds.
  expect(figures.delayMs).toBeGreaterThan(58);
  expect(figures.jitterMs).toBeGreaterThan(7);
  await expect(page.getByText(OWN_ADVICE[adviceOf(line)])).toBeVisible();
  await expect(page.getByRole('img', { name: /^Over (19|2\d) s: delay on average/ })).toBeVisible();
});

test('where UDP does not pass it is measured over TCP, and the specialist sees it with the site', async ({
  page,
  signIn,
}) => {
  test.setTimeout(120_000);
  await signIn('4101');
  await page.route('**/api/me/lines/begin', async (route) => {
    const tools = (await (await route.fetch()).json()) as LineTools;
    const relays = { ...tools.relays, udp: ['turn:127.0.0.1:9?transport=udp'] };
    await route.fulfill({ json: { ...tools, relays, stun: [] } });
  });
  await goTo(page, '/');
  // Wherever the line was measured the last time.
  await page.getByRole('radio', { name: 'The yard' }).click();
  const line = await measure(page);
  expect([line?.by, line?.mapping]).toEqual(['tcp', null]);
  await expect(page.getByText(/loss 0\.0 % · by TCP/)).toBeVisible();
  await signIn();
  await goTo(page, '/networks/yard');
  await expect(page.getByText(/, Ines Okafor$/)).toBeVisible();
  await expect(page.getByText('UDP does not pass here: the app came through another way.')).toBeVisible();
  // What it shows of the router is taken over, and what comes of it is seen at once.
  await expect(page.getByText('“Home router” blocks UDP.')).toBeVisible();
  await page.getByRole('button', { name: 'Put it into the network' }).click();
  await expect(page.getByRole('button', { name: /^Registers: no\. Home router blocks it/ })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Put it into the network' })).toBeHidden();
  // Other tests begin with a yard of which nothing is described.
  await page.getByRole('button', { name: 'Discard' }).click();
  await expect(page.getByText('“Home router” blocks UDP.')).toBeVisible();
});

test('where nothing but TLS passes it is measured over TLS', async ({ page, signIn }) => {
  test.setTimeout(120_000);
  await signIn('4101');
  await page.route('**/api/me/lines/begin', async (route) => {
    const tools = (await (await route.fetch()).json()) as LineTools;
    expect(tools.relays.tls).toEqual([expect.stringMatching(/^turns:127\.0\.0\.1:\d+\?transport=tcp$/)]);
    const [udp, tcp] = ['udp', 'tcp'].map((each) => [`turn:127.0.0.1:9?transport=${each}`]);
    await route.fulfill({ json: { ...tools, relays: { ...tools.relays, udp, tcp }, stun: [] } });
  });
  await goTo(page, '/');
  await page.getByRole('radio', { name: 'Another place' }).click();
  await page.getByLabel('Which place, if you like').fill('A hotel');
  const line = await measure(page);
  expect([line?.by, line?.place]).toEqual(['tls', 'A hotel']);
  expect(line?.figures?.lossPercent).toBeLessThan(5);
  await expect(page.getByText(/ · by TLS/)).toBeVisible();
});
