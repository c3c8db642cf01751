import { expect, test } from './server';

test('a call that went is listed with what rang, and found by name and outcome', async ({
  page,
  signIn,
  live,
}) => {
  await signIn();
  await page.goto('/calls');
  await expect(page.getByRole('heading', { level: 1, name: 'Calls' })).toBeVisible();
  // A call from Ines's desk phone to a colleague, over the phone system itself; the phone may still be starting.
  await expect(async () => {
    const pressed = await page.request.post('/api/phones/ines-desk/press', {
      data: { code: '4103', typed: [] },
      headers: { Origin: live.url },
    });
    expect(pressed.ok()).toBe(true);
  }).toPass({ timeout: 40_000 });
  await page.getByLabel('Search calls').fill('Ruth Adeyemi');
  const row = page.getByRole('listitem').filter({ hasText: 'to Ruth Adeyemi' }).first();
  await expect(row).toBeVisible({ timeout: 40_000 });
  await expect(row).toContainText('from 4101');
  await row.getByRole('button', { name: /phone/ }).first().click();
  await expect(row).toContainText('Ruth Adeyemi: Bookings desk: dialled at');
  await page.getByLabel('Search calls').fill('nobody at all');
  await expect(page.getByText('No call that is kept fits this.')).toBeVisible();
});
