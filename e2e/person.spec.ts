import type { Page } from '@playwright/test';
import { atTime, expect, goTo, strip, test } from './server';

test.beforeEach(async ({ signIn, page }) => {
  await signIn();
  await goTo(page, '/people/mateo');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Mateo Sundqvist');
});

/** Opens the editor of the mobile by its lane in the strip. */
const open = (page: Page) => page.getByRole('button', { name: /^Mobile: / }).click();
const close = (page: Page) =>
  page
    .getByRole('button', { name: 'Done' })
    .or(page.getByRole('button', { name: 'Close the editor' }))
    .click();

test(
  'every setting of the mobile shows at once in the strip, and each step can be taken back',
  { tag: '@both' },
  async ({ page }) => {
    await open(page);
    const named = (text: RegExp) => expect(strip(page)).toHaveAccessibleName(text);
    await page.getByLabel('Stop ringing after, in seconds').fill('12');
    await named(/Mobile: stops ringing at 12 s/);
    await page.getByLabel('Delay, in seconds').fill('3');
    await named(/Mobile: stops ringing at 15 s/);
    await page.getByRole('button', { name: 'The step rings for: less' }).click();
    await named(/Gate 2 phone: rings 23.8 s.*after 24 s/);
    await page.getByRole('radio', { name: 'Press 1 to accept', exact: true }).click();
    await page.getByLabel('Number', { exact: true }).fill('778 555 0177');
    await expect(
      page.getByText('+1 778 555 0177, national; dialled as 917785550177, by Terminal trunk'),
    ).toBeVisible();
    await page.getByLabel('Number', { exact: true }).fill('778 555');
    await expect(
      page.getByText(/the numbering plan has no such number.*\+1 778 555 0177 stays/),
    ).toBeVisible();
    await page.getByLabel('Answer guard, in seconds').fill('x');
    await expect(page.getByText('Seconds, 0 or more, such as 2.3')).toBeVisible();
    await page.getByRole('switch', { name: 'Mobile rings' }).last().click();
    await named(/Mobile: left out: switched off in the plan/);

    await close(page);
    // What could not be taken is not lost without a word.
    await expect(page.getByText(/^Not taken\. /)).toBeVisible();
    await page.getByRole('button', { name: 'Close without it' }).click();
    await expect(page.getByText('6 settings changed, not live')).toBeVisible();
    await page.keyboard.press('z');
    await named(/Mobile: stops ringing at 15 s/);
    await expect(page.getByText('5 settings changed, not live')).toBeVisible();
    await page.getByRole('button', { name: 'Discard' }).click();
    await named(/Gate 2 phone: rings 24.8 s; Mobile: stops ringing at 22 s/);
    await expect(page.getByRole('button', { name: 'Put live' })).toHaveCount(0);
  },
);

test(
  'hours: outside them the mobile is left out, and the strip says why',
  { tag: '@wide' },
  async ({ page }) => {
    await atTime(page, '20:00');
    await open(page);
    await page
      .getByRole('radiogroup', { name: 'Hours' })
      .getByRole('radio', { name: 'Office hours' })
      .click();
    await expect(strip(page)).toHaveAccessibleName(
      /Mobile: left out: set to ring only inside "Office hours"/,
    );
  },
);

test('what is live can be undone', async ({ page }) => {
  await page.getByRole('switch', { name: 'Mobile rings' }).click();
  await page.getByRole('button', { name: 'Put live' }).click();
  await expect(page.getByText('Live now.')).toBeVisible();
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(strip(page)).toHaveAccessibleName(/Mobile: stops ringing at 22 s/);
  await page.reload();
  await expect(strip(page)).toHaveAccessibleName(/Mobile: stops ringing at 22 s/);
});

test(
  'the moment bar: a mobile that is off, another caller, another status',
  { tag: '@both' },
  async ({ page }) => {
    await goTo(page, '/people/jonah');
    await page.getByRole('button', { name: /^If: / }).click();
    await page.getByRole('dialog').getByRole('radio', { name: 'Mobile off' }).click();
    await page.getByRole('button', { name: 'Show', exact: true }).click();
    await expect(page.getByRole('button', { name: 'If: Mobile off. Change' })).toBeVisible();
    await page.getByRole('button', { name: /^Caller: / }).click();
    await page.getByRole('radio', { name: 'A colleague' }).click();
    await page.getByRole('button', { name: 'Show', exact: true }).click();
    await expect(strip(page)).toHaveAccessibleName(
      /Crew room phone: rings.*Mobile: dropped by the answer guard at 1.8 s/,
    );
    await page.getByRole('button', { name: /^Status: / }).click();
    await page.getByRole('dialog').getByRole('radio', { name: 'On leave' }).click();
    await page.getByRole('button', { name: 'Back to now' }).click();
    await expect(page.getByRole('button', { name: 'Status: At sea. Change' })).toBeVisible();
  },
);

test(
  'two specialists at the same person: the second sees both versions and chooses',
  { tag: '@wide' },
  async ({ page, context }) => {
    const other = await context.newPage();
    await other.goto('/people/mateo');
    await open(other);
    await other.getByLabel('Answer guard, in seconds').fill('2.5');
    await close(other);

    // A page that is behind another draws once a second.
    await page.bringToFront();
    await open(page);
    await page.getByLabel('Answer guard, in seconds').fill('4');
    await close(page);
    await page.getByRole('button', { name: 'Put live' }).click();
    await expect(page.getByText('Live now.')).toBeVisible();

    await other.bringToFront();
    await other.getByRole('button', { name: 'Put live' }).click();
    const dialog = other.getByRole('dialog', { name: 'Changed by somebody else too' });
    await expect(dialog.getByText('Yours: 2.5 s')).toBeVisible();
    await expect(dialog.getByText('Theirs: 4 s')).toBeVisible();
    await dialog.getByRole('button', { name: 'Keep mine' }).click();
    await expect(other.getByText('Live now.')).toBeVisible();
    await page.bringToFront();
    await page.reload();
    await open(page);
    await expect(page.getByLabel('Answer guard, in seconds')).toHaveValue('2.5');
    await page.getByLabel('Answer guard, in seconds').fill('8');
    await close(page);
    await page.getByRole('button', { name: 'Put live' }).click();
    // Nobody answers within eight seconds: calls are lost.
    await page.getByRole('button', { name: 'Put live all the same' }).click();
    await expect(page.getByText('Live now.')).toBeVisible();
  },
);

test('keys on a wide screen', { tag: '@wide' }, async ({ page }) => {
  await page.keyboard.press('e');
  await expect(page.getByRole('region', { name: 'How the mobile rings' })).toBeVisible();
  await page.keyboard.press('/');
  await expect(page.getByLabel('Search people')).toBeFocused();
  await page.keyboard.type('amara');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Amara Lindqvist');
  await page.getByRole('heading', { level: 1 }).click();
  await page.keyboard.press('t');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Try a call to Amara Lindqvist');
  await page.keyboard.press('g');
  await page.keyboard.press('r');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Record');
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
  // The sheet listens for keys a moment after it is drawn.
  await expect(async () => {
    await page.keyboard.press('Escape');
    await expect(page.getByRole('dialog')).toHaveCount(0, { timeout: 1000 });
  }).toPass();
});
