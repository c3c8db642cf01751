import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import type { Page } from '@playwright/test';
import { expect, goTo, test } from './server';

test.describe.configure({ mode: 'serial' });

const LIST = readFileSync(resolve(__dirname, '../demo/new-phones.csv'));
const row = (page: Page, who: string, state: string) =>
  page.getByRole('button', { name: `${who}, ${state}`, exact: true });

async function takeList(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Add from a list' }).click();
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Choose a file' }).click();
  await (await chooser).setFiles({ name: 'new-phones.csv', mimeType: 'text/csv', buffer: LIST });
}

test('phones from a list are previewed, get codes, ask, and register; wrong rows are left out with why', async ({
  page,
  signIn,
}) => {
  await signIn();
  await goTo(page, '/provisioning');
  await expect(page.getByText('3 of 6 registered')).toBeVisible();
  await expect(row(page, 'Kaito Quayle', 'refused')).toBeVisible();
  await expect(row(page, 'Xenia Galbrae', 'old firmware')).toBeVisible();
  await takeList(page);
  await expect(page.getByText('2 rows are left out')).toBeVisible();
  await expect(page.getByText(/Line 8, .*there is nobody with “9999”/)).toBeVisible();
  await expect(page.getByText(/Ines Okafor, Gannet 60, new, in the place of/)).toBeVisible();
  await page.getByRole('button', { name: 'Take the 6 phones' }).click();
  await expect(page.getByText('3 of 12 registered')).toBeVisible();

  await page.getByRole('button', { name: 'Give codes to the 9 without' }).click();
  await expect(page.getByText(/Shown this once/)).toBeVisible();
  await expect(page.getByText(/^[2-9A-Z]{5}-[2-9A-Z]{5}$/)).toHaveCount(9);
  await page.getByRole('button', { name: 'Plug their stand-ins in' }).click();
  await expect(page.getByText('12 of 12 registered')).toBeVisible({ timeout: 40_000 });
  await expect(row(page, 'Ines Okafor', 'registered')).toBeVisible();
});

test('a phone that begins anew is refused with a wrong code, and loads firmware before it gets its settings', async ({
  page,
  signIn,
}) => {
  await signIn();
  await goTo(page, '/provisioning');
  await row(page, 'Owen Baptiste', 'registered').click();
  await page.getByRole('button', { name: 'Let it begin anew' }).click();
  await expect(row(page, 'Owen Baptiste', 'waits')).toBeVisible();
  await page.getByRole('button', { name: 'Give it a code' }).click();
  const code = (await page.getByText(/^[2-9A-Z]{5}-[2-9A-Z]{5}$/).textContent()) ?? '';
  await page.getByRole('button', { name: 'Close', exact: true }).click();

  await page.getByRole('button', { name: 'Plug its stand-in in' }).click();
  await page.getByLabel('The code that is typed at it').fill('AAAAA-AAAAA');
  await page.getByRole('button', { name: 'Plug it in', exact: true }).click();
  await expect(row(page, 'Owen Baptiste', 'asked')).toBeVisible();
  await expect(page.getByText('The code is wrong').first()).toBeVisible();

  await page.getByRole('button', { name: 'Plug its stand-in in' }).click();
  await page.getByLabel('The code that is typed at it').fill(code);
  await page.getByLabel('The firmware that it came with').fill('3.1.0');
  await page.getByRole('radio', { name: 'XML' }).click();
  await page.getByRole('button', { name: 'Plug it in', exact: true }).click();
  await expect(row(page, 'Owen Baptiste', 'registered')).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText('It loads 3.4.0')).toBeVisible();
  await goTo(page, '/record');
  await expect(page.getByText(/fetched the settings of Owen Baptiste/).first()).toBeVisible();
});

test('keys are laid out on the drawing, put live, pushed, and do what they are for', async ({
  page,
  signIn,
}) => {
  await signIn();
  await goTo(page, '/devices/phone-02f020000001');
  await page.getByRole('button', { name: 'Lay out the usual ones' }).click();
  await expect(page.getByRole('button', { name: 'Key 2: Twinning' })).toBeVisible();
  await page.getByRole('button', { name: 'Key 8: nothing' }).click();
  await page.getByRole('radio', { name: 'Watch a colleague' }).click();
  await page.getByLabel('A colleague').fill('Ruth');
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /Ruth Adeyemi/ })
    .click();
  await page.getByRole('button', { name: 'Done' }).click();
  await expect(page.getByRole('button', { name: 'Key 8: Ruth' })).toBeVisible();
  await page.getByRole('button', { name: 'Put live' }).click();
  await expect(page.getByText('The phone still has its older settings.')).toBeVisible();
  await page.getByRole('button', { name: 'Push them to the phone' }).click();
  await expect(page.getByText('The phone has these settings.')).toBeVisible({ timeout: 20_000 });

  await page.getByRole('button', { name: 'Key 2: Twinning' }).click();
  // Whichever way it is set by then, each press turns it round.
  const press = page.getByRole('button', { name: 'Press it on its stand-in (*21)' });
  await press.click();
  const heard = page.getByText(/^“Twinning is (?:on|off)\.”$/);
  await expect(heard).toBeVisible();
  const first = (await heard.textContent()) ?? '';
  await press.click();
  await expect(
    page.getByText(first === '“Twinning is on.”' ? '“Twinning is off.”' : '“Twinning is on.”'),
  ).toBeVisible();
});

test('who they prove themselves by is chosen; by PIN, whoever has none is told, and a weak one is refused', async ({
  page,
  signIn,
}) => {
  await signIn();
  await goTo(page, '/provisioning');
  await page.getByRole('button', { name: 'Change', exact: true }).click();
  await page.getByRole('radio', { name: 'The person’s PIN' }).click();
  await page.getByRole('button', { name: 'Put live' }).click();
  await expect(page.getByText('They prove themselves by: The person’s PIN')).toBeVisible();
  await row(page, 'Ines Okafor', 'registered').click();
  await expect(page.getByText('Ines Okafor has no PIN yet: it is set on their page.')).toBeVisible();

  await page.context().clearCookies();
  await signIn('4101');
  await goTo(page, '/');
  await page.getByLabel('A new PIN of 6 to 10 digits').fill('123456');
  await page.getByRole('button', { name: 'Set it' }).click();
  await expect(page.getByText('It counts up or down')).toBeVisible();
  await page.getByLabel('A new PIN of 6 to 10 digits').fill('480263');
  await page.getByRole('button', { name: 'Set it' }).click();
  await expect(page.getByText(/^Set on .*You type it at shared desks/)).toBeVisible();
});

test('where softphones register, which place calls by status, and what is used with them are on the hand-over sheet', async ({
  page,
  signIn,
}) => {
  await signIn();
  await goTo(page, '/probe');
  await page.getByRole('button', { name: 'Change it' }).click();
  await page.getByRole('checkbox', { name: /^Elsewhere/ }).click();
  await page.getByLabel('Its name or address').fill('not a name!');
  await page.getByRole('button', { name: 'Put live' }).click();
  await expect(page.getByText('must be a name or an address', { exact: true })).toBeVisible();
  await page.getByLabel('Its name or address').fill('calls.ferry.example');
  await page.getByRole('button', { name: 'Put live' }).click();
  await expect(page.getByText('calls.ferry.example:5061 over TLS')).toBeVisible();

  await goTo(page, '/phones/priya-laptop');
  await page.getByLabel('Headset').fill('USB, left drawer');
  await page.getByRole('button', { name: 'Keep these notes' }).click();
  await expect(page.getByRole('button', { name: 'Keep these notes' })).toHaveCount(0);
  const places = page.getByRole('checkbox', { name: 'Places calls' }).first();
  await expect(places).not.toBeChecked();
  await places.click();
  await expect(places).toBeChecked();
  await page.getByRole('button', { name: 'Open the sheet' }).click();
  await expect(page.getByText('USB, left drawer').last()).toBeVisible();
  await expect(page.getByText(/sip:priya-laptop@calls\.ferry\.example:5061;transport=tls/)).toBeVisible();
});
