import { expect, goTo, test } from './server';

test(
  'an access number is added, set, and a call to it is tried beside what is computed',
  { tag: '@both' },
  async ({ page, signIn }, info) => {
    await signIn();
    const isPhone = info.project.name === 'phone';
    const [name, number] = isPhone ? ['Way out one', '250 555 0197'] : ['Way out two', '250 555 0198'];
    await goTo(page, '/access');
    await page.getByRole('button', { name: 'Add an access number' }).click();
    const sheet = page.getByRole('dialog');
    await sheet.getByLabel('Name').fill(name);
    await sheet.getByLabel('Number that is rung, in any form').fill('250 555 0101');
    await sheet.getByRole('button', { name: 'Add an access number' }).click();
    // It is Ines's already.
    await expect(sheet.getByText(/belongs to Ines Okafor already/)).toBeVisible();
    await sheet.getByLabel('Number that is rung, in any form').fill(number);
    await sheet.getByRole('button', { name: 'Add an access number' }).click();
    await expect(page.getByRole('heading', { level: 1, name })).toBeVisible();
    await page.getByRole('radio', { name: 'The number of the organisation' }).click();
    await page.getByRole('button', { name: 'Put live' }).click();
    await expect(page.getByRole('button', { name: 'Put live' })).toHaveCount(0);
    await page.getByLabel('Calls from, in any form; empty: number withheld').fill('+1 778 555 0101');
    const predicted = page.getByRole('region', { name: 'As it would go' });
    await expect(predicted.getByText('“The number, then the hash key.”')).toBeVisible();
    await page.getByLabel('Types, one after the other, with commas between').fill('(604) 555-0199');
    const calls = 'Calls +1 604 555 0199, showing +1 250 555 0100';
    await expect(predicted.getByText(calls)).toBeVisible();
    await page.getByRole('button', { name: 'Try this call' }).click();
    const went = page.getByRole('region', { name: 'As it went' });
    await expect(went.getByText('As it was predicted.', { exact: true })).toBeVisible({ timeout: 30_000 });
    await expect(went.getByText(calls)).toBeVisible();
  },
);

test('nobody gets in where nobody is known and nobody is asked; the page says so before it is put live', async ({
  page,
  signIn,
}) => {
  await signIn();
  await goTo(page, '/access/call-through');
  // What was found comes in above, and moves what is below.
  await expect(page.getByRole('button', { name: 'Ask everybody for a PIN' })).toBeVisible({
    timeout: 30_000,
  });
  await page.getByRole('radio', { name: 'Of nobody: who is not known gets no further' }).click();
  await page.getByText('Staff are known by the number of their mobile or landline').click();
  await expect(page.getByText(/^Nobody gets in this way/)).toBeVisible();
  await page.getByRole('button', { name: 'Discard' }).click();
  await expect(page.getByText(/^Nobody gets in this way/)).toHaveCount(0);
});

test('which number shows is set by status, for one person', async ({ page, signIn }) => {
  await signIn();
  await goTo(page, '/people/noor?part=more');
  await page.getByRole('button', { name: 'Another number for a status' }).click();
  await expect(page.getByText(/: The number of the organisation$/)).toBeVisible();
  await page.getByRole('radio', { name: 'No number: withheld' }).click();
  await expect(page.getByText('Now: no number, withheld.')).toBeVisible();
  await page.getByRole('button', { name: 'Put live' }).click();
  await expect(page.getByRole('button', { name: 'Put live' })).toHaveCount(0);
  await page.reload();
  await expect(page.getByText('Now: no number, withheld.')).toBeVisible();
});

test('a permission has a limit of a day, and a trunk numbers that its carrier lets show', async ({
  page,
  signIn,
}) => {
  await signIn();
  await goTo(page, '/routes/dialling');
  await page.getByRole('button', { name: /^Inside only/ }).click();
  const sheet = page.getByRole('dialog');
  await sheet.getByLabel('Minutes a day to outside numbers; empty: no limit').fill('1500');
  await expect(sheet.getByText('Whole minutes from 1 to 1440')).toBeVisible();
  await sheet.getByLabel('Minutes a day to outside numbers; empty: no limit').fill('45');
  await sheet.getByLabel('Money a day by the tariff; empty: no limit').fill('7.50');
  await sheet.getByRole('button', { name: 'Put live' }).click();
  await expect(sheet.getByRole('button', { name: 'Put live' })).toBeDisabled();
  await page.reload();
  await page.getByRole('button', { name: /^Inside only/ }).click();
  await expect(sheet.getByLabel('Money a day by the tariff; empty: no limit')).toHaveValue('7.50');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: /^Overseas trunk \d/ }).click();
  await sheet.getByRole('radio', { name: 'Refuses the call' }).click();
  await sheet.getByRole('button', { name: 'Put live' }).click();
  await expect(sheet.getByRole('button', { name: 'Put live' })).toBeDisabled();
});
