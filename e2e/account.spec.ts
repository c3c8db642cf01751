import { Secret, TOTP } from 'otpauth';
import { expect, goTo, PASSWORD, test } from './server';

test('a second factor is set up, asked for at the next sign-in, and removed; sessions can be ended', async ({
  page,
  signIn,
  browser,
  live,
}) => {
  await signIn('manager');
  const other = await browser.newContext();
  const elsewhere = await other.request.post(`${live.url}/api/session`, {
    data: { name: 'manager', password: PASSWORD },
    headers: { Origin: live.url },
  });
  expect(elsewhere.ok()).toBe(true);
  await goTo(page, '/account');
  await page.getByRole('button', { name: 'End session' }).first().click();
  await expect(page.getByRole('button', { name: 'End session' })).toHaveCount(0);
  expect((await other.request.get(`${live.url}/api/session`)).status()).toBe(401);

  await page.getByRole('button', { name: 'Set up second factor' }).click();
  await page.getByLabel('Your password').fill('not it');
  await page.getByRole('button', { name: 'Continue' }).click();
  await expect(page.getByText('is not your password')).toBeVisible();
  await page.getByLabel('Your password').fill(PASSWORD);
  await page.getByRole('button', { name: 'Continue' }).click();
  const key = (await page.getByText(/^(?:[A-Z2-7]{4} ?){8}$/).textContent()) ?? '';
  const app = new TOTP({ secret: Secret.fromBase32(key.replaceAll(' ', '')), digits: 6, period: 30 });
  await page.getByLabel('Code of the app').fill(app.generate());
  await page.getByRole('button', { name: 'Confirm code' }).click();
  await expect(page.getByText(/^[0-9a-f]{5}(?:-[0-9a-f]{5}){3}$/)).toHaveCount(8);
  const [recovery = ''] = await page.getByText(/^[0-9a-f]{5}(?:-[0-9a-f]{5}){3}$/).allTextContents();
  await page.getByRole('button', { name: 'I have kept them' }).click();
  await expect(page.getByText(/8 recovery codes are left/)).toBeVisible();

  await page.getByRole('button', { name: 'Sign out', exact: true }).last().click();
  await page.getByLabel('Name', { exact: true }).fill('manager');
  await page.getByLabel('Password', { exact: true }).fill(PASSWORD);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.getByLabel(/Code of your authenticator app/).fill('000000');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('alert')).toContainText('This code is not right');
  await page.getByLabel(/Code of your authenticator app/).fill(recovery);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible();

  await goTo(page, '/account');
  await page.getByRole('button', { name: 'Remove second factor' }).click();
  await page.getByLabel('Your password').fill(PASSWORD);
  await page.getByRole('button', { name: 'Remove second factor' }).last().click();
  await expect(page.getByText('None: your password alone lets you in.')).toBeVisible();
});

test('a range inside is allowed before an address in it can be asked', async ({ page, signIn }) => {
  await signIn();
  await goTo(page, '/probe');
  const add = async () => {
    await page.getByRole('button', { name: 'Allow an address' }).click();
    await page.getByLabel('Name', { exact: true }).fill('Lab');
    await page.getByLabel('Host name or IPv4 address').fill('127.0.77.1');
    await page.getByRole('button', { name: 'Allow it' }).click();
  };
  await add();
  await expect(
    page.getByText(/is a loopback address: it is asked only once its range is allowed/),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Close', exact: true }).click();
  await page.getByRole('button', { name: 'Allow a range' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Lab');
  await page.getByLabel('Range of addresses').fill('127.0.77.0/24');
  await page.getByRole('button', { name: 'Allow range' }).click();
  await expect(page.getByText('127.0.77.0/24')).toBeVisible();
  await add();
  await expect(page.getByText(/127\.0\.77\.1, 5060/)).toBeVisible();
  await page.getByRole('button', { name: 'Remove range' }).click();
  await page.getByRole('button', { name: 'Ask it now' }).last().click();
  await expect(page.getByText(/once its range is allowed/)).toBeVisible();
  // What other tests find is as it was.
  await page.getByRole('button', { name: 'Take it away' }).click();
  await expect(page.getByText(/127\.0\.77\.1, 5060/)).toHaveCount(0);
});
