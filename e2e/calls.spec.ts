import { expect, test } from './server';

test('a call that went is listed with what rang, and found by name and outcome', async ({
  page,
  signIn,
  live,
}) => {
  await signIn();
  await page.goto('/calls');
  await expect(page.getByRole('heading', { level: 1, name: 'Calls' })).toBeVisible();
  // The emergency desk calls Ruth back over the phone system; her phone may still be starting.
  await expect(async () => {
    const tried = await page.request.post('/api/safety/ruth-desk/try', {
      data: {},
      headers: { Origin: live.url },
    });
    expect(tried.ok()).toBe(true);
  }).toPass({ timeout: 40_000 });
  await page.getByLabel('Search calls').fill('Ruth Adeyemi');
  const row = page.getByRole('listitem').filter({ hasText: 'to Ruth Adeyemi' }).first();
  await expect(row).toBeVisible({ timeout: 40_000 });
  await expect(row).toContainText('from 911');
  await row.getByRole('button', { name: /phone/ }).first().click();
  await expect(row).toContainText('Ruth Adeyemi: Bookings desk: dialled at');
  await page.getByLabel('Search calls').fill('nobody at all');
  await expect(page.getByText('No call that is kept fits this.')).toBeVisible();
});
