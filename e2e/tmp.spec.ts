import { test, expect } from './server';
test('shots', { tag: '@both' }, async ({ page, signIn }, info) => {
  const n = info.project.name;
  await signIn();
  await page.goto('/desks');
  await expect(page.getByText(/of 17 desks taken$/)).toBeVisible();
  await page.waitForTimeout(1500);
  await page.screenshot({ path: `/tmp/shots/desks-${n}.png` });
  await page.getByRole('link', { name: /Hall desk 17/ }).click();
  await expect(page.getByText('Who sits here')).toBeVisible();
  await page.waitForTimeout(1500);
  await page.screenshot({ path: `/tmp/shots/desk-${n}.png` });
  await page.goto('/groups');
  await page.waitForTimeout(1500);
  await page.screenshot({ path: `/tmp/shots/groups-${n}.png` });
});
