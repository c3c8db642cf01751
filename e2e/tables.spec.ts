import type { Page } from '@playwright/test';
import { expect, goTo, test } from './server';

test.beforeEach(({ signIn }) => signIn());

const table = (page: Page, name: string) => page.getByRole('table', { name });
const row = (page: Page, name: string) => page.getByRole('row').filter({ hasText: name });

test(
  'several people are chosen in the table, given a status at once, and all of it is taken back',
  { tag: '@wide' },
  async ({ page }) => {
    await goTo(page, '/people');
    await page.getByLabel('Search people').fill('e');
    await page.getByRole('button', { name: 'Name', exact: true }).click();
    await expect(table(page, 'People').getByRole('columnheader', { name: 'Name' })).toHaveAttribute(
      'aria-sort',
      'ascending',
    );
    await page.getByLabel('Search people').fill('420');
    const boxes = page.getByRole('checkbox', { name: /^Choose [A-Z]/ });
    // Only those that fit are there by now.
    await expect(boxes).toHaveCount(10);
    await boxes.nth(0).click();
    await boxes.nth(2).click({ modifiers: ['Shift'] });
    await expect(page.getByText('3 chosen')).toBeVisible();
    await page.getByRole('button', { name: 'Set status' }).click();
    await page.getByRole('dialog').getByRole('radio', { name: 'On leave' }).click();
    await page.getByRole('button', { name: 'Look at what changes for 3 people' }).click();
    await expect(page.getByText(/3 people would change/)).toBeVisible();
    await page.getByRole('button', { name: 'Put live for 3 people' }).click();
    await expect(page.getByText('Live now for 3 people.')).toBeVisible();
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect(page.getByText('Undone: 3 people as before.')).toBeVisible();
    await page.getByRole('button', { name: 'Done' }).click();
    // In the record each of the two stands as one.
    await goTo(page, '/record');
    const done = row(page, 'put live the slate').filter({ hasText: 'Status On leave for 3 people' });
    await expect(done).toHaveCount(2);
    await done.last().getByRole('button').click();
    await page.getByRole('button', { name: 'Each change' }).click();
    await expect(row(page, 'changed').filter({ hasText: '→ On leave' })).toHaveCount(3);
  },
);

test(
  'columns are chosen, made wider and stay; rows are gone through by arrows and opened by Enter',
  { tag: '@wide' },
  async ({ page }) => {
    await goTo(page, '/people');
    const people = table(page, 'People');
    await page.getByRole('button', { name: 'Columns' }).click();
    await page.getByRole('checkbox', { name: 'Numbers' }).click();
    await page.getByRole('checkbox', { name: 'Template' }).click();
    await page.getByRole('button', { name: 'Done' }).click();
    await expect(people.getByRole('columnheader', { name: 'Numbers' })).toBeVisible();
    await page.reload();
    await expect(people.getByRole('columnheader', { name: 'Template' })).toBeHidden();
    const heading = people.getByRole('columnheader', { name: 'Extension' });
    const width = async () => (await heading.boundingBox())!.width;
    const before = await width();
    const box = (await heading.boundingBox())!;
    await page.mouse.move(box.x + box.width - 3, box.y + 20);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width + 57, box.y + 20, { steps: 4 });
    await page.mouse.up();
    expect(await width()).toBeGreaterThan(before + 40);
    await people.getByRole('link').first().focus();
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('ArrowUp');
    const second = people.getByRole('link').nth(1);
    await expect(second).toBeFocused();
    // A row is chosen by the space bar too.
    await page.keyboard.press('Shift+Tab');
    await page.keyboard.press('Space');
    await expect(page.getByText('One chosen')).toBeVisible();
    await page.keyboard.press('Space');
    await expect(page.getByText('One chosen')).toHaveCount(0);
    await page.keyboard.press('Tab');
    const name = (await second.textContent()) ?? '';
    await page.keyboard.press('Enter');
    await expect(page.getByRole('heading', { level: 1, name })).toBeVisible();
  },
);

test('findings, phones and telephones are tables too', { tag: '@wide' }, async ({ page }) => {
  await goTo(page, '/findings');
  await page.getByRole('button', { name: 'Of whom or what' }).click();
  await row(page, 'Forward loop').first().getByRole('button').click();
  const sheet = page.getByRole('dialog').first();
  await expect(sheet.getByText(/^Looked for:/)).toBeVisible();
  await sheet.getByRole('button', { name: 'Assign' }).click();
  const marking = page.getByRole('dialog', { name: 'Assign' });
  await marking.getByLabel('Put off until').fill('2099-01-01');
  await marking.getByRole('button', { name: 'Keep' }).click();
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.getByRole('radio', { name: 'Put off' }).click();
  await row(page, 'Forward loop').first().getByRole('button').click();
  await sheet.getByRole('button', { name: 'Assign' }).click();
  await marking.getByLabel('Put off until').fill('');
  await marking.getByRole('button', { name: 'Keep' }).click();
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await goTo(page, '/devices');
  await page.getByRole('button', { name: 'Firmware' }).click();
  await expect(table(page, 'Devices').getByRole('row').nth(1)).toBeVisible();
  await goTo(page, '/phones');
  await page
    .getByRole('checkbox', { name: /^Choose Ines Okafor/ })
    .first()
    .click();
  await expect(page.getByText(/owes? a restart/)).toBeVisible();
});

test('whoever goes on in the moment in which a sheet closes by itself comes to the next page', async ({
  page,
}) => {
  await goTo(page, '/findings');
  await page.getByRole('button', { name: 'Assign' }).first().click();
  const marking = page.getByRole('dialog', { name: 'Assign' });
  await marking.getByRole('button', { name: 'Assign to me' }).click();
  await page.evaluate(() => {
    new MutationObserver((_all, seen) => {
      if (document.querySelector('[role="dialog"]')) return;
      seen.disconnect();
      history.pushState(null, '', '/devices');
      dispatchEvent(new PopStateEvent('popstate'));
    }).observe(document.body, { childList: true, subtree: true });
  });
  await marking.getByRole('button', { name: 'Keep' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Devices' })).toBeVisible();
});
