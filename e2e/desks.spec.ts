import { expect, test } from './server';

test(
  'desks of a site, whether there are enough by the roster, and a desk restricted',
  { tag: '@both' },
  async ({ page, signIn }, info) => {
    await signIn();
    await page.goto('/desks');
    await expect(page.getByText(/^17 desks are too few: \d+ are needed\.$/)).toBeVisible();
    await expect(page.getByRole('list', { name: 'The worst half hours' })).toBeVisible();
    await page.screenshot({ path: `/tmp/shots/desks-${info.project.name}.png` });
    await page.getByRole('radio', { name: '1 in 20' }).click();
    await expect(page.getByText(/^17 desks are/)).toBeVisible();
    await page.goto('/desks/hall-9');
    await page.getByRole('radio', { name: 'Only some' }).click();
    await page.getByRole('checkbox', { name: 'Away', exact: true }).click();
    await page.getByLabel('Every day at').fill('25:00');
    await expect(page.getByText('A time such as 20:00')).toBeVisible();
    await page.getByLabel('Every day at').fill('20:00');
    await page.getByRole('button', { name: 'Put live' }).click();
    await expect(page.getByRole('button', { name: 'Put live' })).toHaveCount(0);
    await page.reload();
    await expect(page.getByLabel('Every day at')).toHaveValue('20:00');
  },
);

test('a person’s roster is set on their page', async ({ page, signIn }) => {
  await signIn();
  await page.goto('/people/ines');
  await page.getByRole('button', { name: 'Add to the roster' }).click();
  await page
    .getByRole('radiogroup', { name: 'Hours of entry 1' })
    .getByRole('radio', { name: 'Late shift' })
    .click();
  await page.getByLabel('How likely they come, %').fill('120');
  await expect(page.getByText('Percent, over 0 up to 100')).toBeVisible();
  await page.getByLabel('How likely they come, %').fill('80');
  await expect(page.getByText('Harbour terminal, in Late shift, 80 % of the time')).toBeVisible();
  await page.getByText('Harbour terminal, in Late shift').scrollIntoViewIfNeeded();
  await page.getByRole('button', { name: 'Put live' }).click();
  await expect(page.getByText('Live now.')).toBeVisible();
});
