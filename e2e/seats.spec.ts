import { expect, strip, test } from './server';

test(
  'a seat is added, put into a group by rank, and told what becomes of its calls without anybody',
  { tag: '@both' },
  async ({ page, signIn }, info) => {
    await signIn();
    const [name, extension] =
      info.project.name === 'phone' ? ['Dispatch one', '4551'] : ['Dispatch two', '4552'];
    await page.goto('/groups');
    await page.getByRole('button', { name: 'Add a seat' }).click();
    await page.getByLabel('Name').fill(name);
    await page.getByLabel('Extension').fill(extension);
    await page.getByRole('dialog').getByRole('button', { name: 'Add a seat' }).click();
    await expect(page.getByRole('heading', { level: 1, name })).toBeVisible();
    await expect(page.getByText('Add this seat to the members of a group.')).toBeVisible();
    // What is wrong is told beside the field, and nothing is lost.
    await page.getByLabel('Calls at once').fill('0');
    await expect(page.getByText('A number from 1 to 100')).toBeVisible();
    await page.getByLabel('Calls at once').fill('2');
    await page.getByRole('radio', { name: 'Without anybody: passes calls to a number' }).click();
    await page.getByLabel('Number, with + and country code').fill('+1 250 555 0188');
    await page.getByRole('button', { name: 'Put live' }).click();
    await expect(page.getByRole('button', { name: 'Put live' })).toHaveCount(0);
    await page.reload();
    await expect(page.getByLabel('Number, with + and country code')).toHaveValue('+12505550188');
    // A group of its own, so that what the change does is known at once.
    await page.goto('/groups');
    await page.getByRole('button', { name: 'Add a group' }).click();
    await page.getByLabel('Name').fill(`Desk of ${name}`);
    await page.getByLabel('Extension').fill(`${extension}0`);
    await page.getByRole('dialog').getByRole('button', { name: 'Add a group' }).click();
    await expect(page.getByRole('heading', { level: 1, name: `Desk of ${name}` })).toBeVisible();
    await page.getByRole('radio', { name: 'By rank' }).click();
    await page.getByRole('radiogroup', { name: 'Add a seat' }).getByRole('radio', { name }).click();
    await page.getByRole('button', { name: `${name}: rank 2` }).click();
    await expect(page.getByText('Rank 2', { exact: true })).toBeVisible();
    // Without anybody it rings the number that it passes its calls to.
    await expect(strip(page)).toHaveAccessibleName(/0188/);
    await page.getByRole('button', { name: 'Put live' }).click();
    await expect(page.getByRole('button', { name: 'Put live' })).toHaveCount(0);
    await page.goto('/groups');
    await page.getByRole('link', { name: new RegExp(`^${name}`) }).click();
    await expect(page.getByRole('link', { name: new RegExp(`Desk of ${name}`) })).toBeVisible();
  },
);
