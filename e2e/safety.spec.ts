import { expect, goTo, test } from './server';

test(
  'a site tells where it is, and its phones have a place that can be sent',
  { tag: '@both' },
  async ({ page, signIn }) => {
    await signIn();
    await goTo(page, '/safety');
    await expect(
      page.getByText(/^\d+ of \d+ phones are at a site, of \d+ their owners said where/),
    ).toBeVisible();
    await page.getByLabel('Search phones').fill('Ruth Adeyemi');
    await expect(page.getByRole('link', { name: /Ruth Adeyemi: Bookings desk/ })).toBeVisible();
    await goTo(page, '/sites/yard');
    await page.getByLabel('Street', { exact: true }).fill('Slip Road');
    await page.getByLabel('House number', { exact: true }).fill('4');
    await page.getByLabel('Country, two letters').fill('ca');
    await page.getByLabel('Its own outside addresses, as ranges').fill('203.0.113.1/24');
    await expect(page.getByText('203.0.113.1/24 is no range such as 203.0.113.0/24')).toBeVisible();
    await page.getByLabel('Its own outside addresses, as ranges').fill('203.0.113.0/24');
    await page.getByRole('button', { name: 'Put live' }).click();
    await expect(page.getByRole('button', { name: 'Put live' })).toHaveCount(0);
    await goTo(page, '/safety');
    await page.getByRole('radio', { name: /^All/ }).click();
    await page.getByLabel('Search phones').fill('Slip Road');
    await expect(
      page.getByRole('link', { name: /4 Slip Road.*the phone stands there/ }).first(),
    ).toBeVisible();
  },
);

test('people say on their own page where their softphone is', async ({ page, signIn, live }) => {
  await signIn();
  const given = await page.request.post('/api/people/ines/phones', {
    data: { label: 'Softphone', kind: 'mobile-app' },
    headers: { Origin: live.url },
  });
  expect(given.ok()).toBe(true);
  await signIn('4101');
  await goTo(page, '/');
  await expect(page.getByText('Nobody could tell the emergency services where it is.')).toBeVisible();
  await page.getByRole('button', { name: 'Say where Softphone is' }).click();
  await page.getByLabel('Street', { exact: true }).fill('Gull Lane');
  await page.getByLabel('House number', { exact: true }).fill('3');
  await page.getByLabel('City').fill('North Landing');
  await page.getByRole('button', { name: 'That is where it is' }).click();
  await expect(page.getByText('3 Gull Lane, North Landing')).toBeVisible();
});

test('an emergency call is tried live: the emergency desk sees the place, and calls back', async ({
  page,
  signIn,
}) => {
  await signIn();
  await goTo(page, '/safety');
  await page.getByRole('radio', { name: /^All/ }).click();
  await page.getByLabel('Search phones').fill('Ruth Adeyemi');
  await page.getByRole('link', { name: /Ruth Adeyemi: Bookings desk/ }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Ruth Adeyemi: Bookings desk');
  await page.getByRole('button', { name: 'Try an emergency call' }).click();
  const desk = page.getByRole('region', { name: 'The emergency desk' });
  await expect(desk).toContainText('911', { timeout: 40_000 });
  await expect(desk).toContainText('+1 250 555');
  await expect(desk).toContainText('Ruth Adeyemi: Bookings desk');
  await goTo(page, '/safety/nothing');
  await expect(page.getByRole('heading', { name: 'No such phone' })).toBeVisible();
});
