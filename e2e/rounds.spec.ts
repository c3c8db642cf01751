import { writeWav } from '../core/formats';
import { expect, goTo, test } from './server';

const SOUND = Buffer.from(
  writeWav(
    Int16Array.from({ length: 8000 }, (_each, n) => 9000 * Math.sin(n / 3) * Math.sin(n / 50)),
    8000,
  ),
);
const ZONE = 'America/Vancouver';
const LIST = [
  'Number,Passenger,Zone',
  `604 555 0160,Ona Reef,${ZONE}`,
  `604 555 0167,Bo Sy,${ZONE}`,
  `604 555 0160,Ona again,${ZONE}`,
  `604 555 0169,Nay Say,${ZONE}`,
  `604 555 0163,Twice Keen,${ZONE}`,
].join('\n');

test('from the list to the report, called live and approved by somebody else', async ({ page, signIn }) => {
  await signIn();
  await goTo(page, '/rounds');
  await expect(page.getByRole('link', { name: /Sailing 7 of Friday cancelled/ })).toBeVisible();
  await page.getByRole('button', { name: 'Add a round' }).click();
  await page.getByLabel(/^Name, such as/).fill('Sailing 3 cancelled');
  await page.getByRole('dialog').getByRole('button', { name: 'Add the round' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Sailing 3 cancelled' })).toBeVisible();
  await expect(page.getByText('Still needs a recording, a list of numbers.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Ask for approval' })).toBeDisabled();
  // A recording that is none is told in words, and the sheet stays as it is.
  const file = { name: 'cancelled.wav', mimeType: 'audio/wav' };
  await page.getByRole('button', { name: 'Upload a WAV file' }).click();
  const sheet = page.getByRole('dialog');
  const choose = async (button: string, given: { name: string; mimeType: string; buffer: Buffer }) => {
    const chooser = page.waitForEvent('filechooser');
    await page.getByRole('button', { name: button }).click();
    await (await chooser).setFiles(given);
  };
  await choose('Choose a file', {
    ...file,
    buffer: Buffer.from('no sound at all, but long enough to be looked at'),
  });
  await sheet.getByRole('button', { name: 'Keep the recording' }).click();
  await expect(sheet.getByText(/This is no WAV file/)).toBeVisible();
  await choose('Choose a file', { ...file, buffer: SOUND });
  await sheet.getByRole('button', { name: 'Keep the recording' }).click();
  await expect(page.getByText('cancelled, 1 s').first()).toBeVisible();
  await page.getByRole('button', { name: 'Listen' }).click();
  // A key that plays the message again.
  await page.getByRole('button', { name: 'Give a key something to play' }).click();
  await sheet.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('the message again')).toBeVisible();
  // A list without zones is told by what is missing; then one that can be read, with what is wrong in it.
  const csv = { name: 'passengers.csv', mimeType: 'text/csv' };
  await choose('Choose a list', { ...csv, buffer: Buffer.from('Number\n604 555 0160') });
  await expect(page.getByText(/no column is headed "zone"/)).toBeVisible();
  await choose('Choose a list', { ...csv, buffer: Buffer.from(LIST) });
  await expect(page.getByText('passengers.csv: 5 rows.')).toBeVisible();
  await page.getByRole('radio', { name: 'Refused (1)' }).click();
  await expect(page.getByText('stands in line 2 already')).toBeVisible();
  // What is wrong stands beside its field, and what was typed stays.
  await page.getByLabel('Calls at once').fill('many');
  await page.getByLabel('Tries of each number').fill('1');
  await page.getByLabel('Call from').fill('0:00');
  await page.getByLabel('Call until').fill('000');
  await page.getByLabel('Caller ID: one of your numbers').fill('604 555 0160');
  await page.getByRole('radio', { name: 'Local and national' }).click();
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(
    page.getByText(/^must be a whole number|^must be .*from 1 to 50|^must be 1 /).first(),
  ).toBeVisible();
  await page.getByLabel('Calls at once').fill('3');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText('is none of the organisation’s own numbers')).toBeVisible();
  await page.getByLabel('Caller ID: one of your numbers').fill('250 555 0101');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Save', exact: true })).toHaveCount(0);
  await expect(page.getByLabel('Call until')).toHaveValue('00:00');
  await page.getByRole('button', { name: 'Ask for approval' }).click();
  await expect(page.getByText('Somebody other than its maker must approve this round.')).toBeVisible();
  const address = page.url();
  // Somebody else sees what is to be called, without the numbers, and approves.
  await page.context().clearCookies();
  await signIn('manager');
  await goTo(page, address);
  await expect(page.getByText(/604 555 0160/)).toHaveCount(0);
  await page.getByRole('button', { name: 'Approve this round' }).click();
  await expect(page.getByText('Approved, not started')).toBeVisible();
  await page.context().clearCookies();
  await signIn();
  await goTo(page, address);
  await page.getByRole('button', { name: 'Start calling' }).click();
  await expect(page.getByText('5 of 5 done, 2 of them heard.')).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText('Done', { exact: true })).toBeVisible();
  await page.getByRole('radio', { name: 'Busy (1)' }).click();
  await expect(page.getByText('Bo Sy')).toBeVisible();
  await page.getByRole('radio', { name: 'Heard (2)' }).click();
  await expect(page.getByText(/pressed 2, then pressed 1/)).toBeVisible();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Export as CSV' }).click();
  expect((await download).suggestedFilename()).toBe('Sailing 3 cancelled.csv');
  // Whoever pressed 9 is on the never-call list, and can be taken off it.
  await goTo(page, '/rounds');
  const row = page.getByRole('listitem').filter({ hasText: '0169' });
  await expect(row).toContainText('pressed 9 in Sailing 3 cancelled');
  await row.getByRole('button', { name: 'Allow again' }).click();
  await expect(row).toHaveCount(0);
});
