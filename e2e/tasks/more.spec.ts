import { DateTime } from 'luxon';
import { expect, freeDesk, goTo, test } from '../server';
import { handsOn } from './hands';
import { openPerson, part, putLive, region } from './steps';

/** More tasks of the trade as a person does them, each counted in taps and keys. */
test.beforeEach(async ({ signIn }) => signIn());

test('a colleague covers for somebody until tonight', async ({ page }, info) => {
  const hands = handsOn(page);
  await openPerson(page, 'marisol-jessamy', 'Marisol Jessamy');
  await hands.tap(part(page, 'Cover'));
  await hands.tap(page.getByRole('button', { name: 'Cover for today' }));
  const sheet = page.getByRole('dialog');
  await hands.tap(sheet.getByRole('radio', { name: 'A colleague' }));
  await hands.type(sheet.getByLabel('Which colleague'), 'Tomasz');
  await hands.tap(sheet.getByRole('button', { name: /Tomasz Bright/ }));
  await hands.tap(sheet.getByRole('button', { name: /own plan/ }));
  await hands.tap(sheet.getByRole('radio', { name: 'Today' }));
  await hands.type(sheet.getByLabel(/^Until when/), '23:59');
  await hands.tap(sheet.getByRole('button', { name: /^On to Tomasz's own plan until/ }));
  const sure = sheet.getByRole('button', { name: 'Set it all the same' });
  const done = page.getByText(/^All calls: on to Tomasz's own plan, until .*23:59/);
  await expect(sure.or(done)).toBeVisible();
  if (await sure.isVisible()) await hands.tap(sure);
  await expect(done).toBeVisible();
  hands.took(info, { taps: 10, keys: 11 });
});

test('leave is given with dates', async ({ page }, info) => {
  const hands = handsOn(page);
  await openPerson(page, 'gita-yarrow', 'Gita Yarrow');
  await hands.tap(page.getByRole('button', { name: 'With dates, such as leave' }));
  const sheet = page.getByRole('dialog');
  await hands.tap(sheet.getByRole('radio', { name: 'On leave' }));
  const day = (days: number) => DateTime.now().plus({ days }).toFormat('yyyy-MM-dd 08:00');
  await hands.type(sheet.getByLabel(/^From, as/), day(7));
  await hands.type(sheet.getByLabel(/^Until, as/), day(14));
  await hands.tap(sheet.getByRole('button', { name: /^On leave until/ }));
  await expect(page.getByRole('button', { name: /^Take back: On leave until/ })).toBeVisible();
  hands.took(info, { taps: 5, keys: 32 });
});

test('the mobile rings only after the desk: a find-me sequence', async ({ page }, info) => {
  const hands = handsOn(page);
  await openPerson(page, 'emeka-umbers', 'Emeka Umbers');
  await hands.tap(part(page, 'Plan'));
  await hands.tap(page.getByRole('button', { name: /^For every call\. Change/ }));
  const first = page.getByRole('group', { name: 'Step 1' });
  await hands.tap(first.getByRole('button', { name: /^Remove .*[Mm]obile.* from step 1/ }));
  await hands.tap(page.getByRole('button', { name: 'Ring phones' }));
  const second = page.getByRole('group', { name: 'Step 2' });
  await hands.tap(second.getByRole('button', { name: 'Add a phone' }));
  await hands.tap(second.getByRole('button', { name: /[Mm]obile/ }).first());
  await hands.tap(page.getByRole('button', { name: 'Done' }));
  await expect(page.getByText(/then .*[Mm]obile/).first()).toBeVisible();
  await putLive(page, hands);
  hands.took(info, { taps: 9, keys: 0 });
});

test('a rule that was begun and says nothing is asked about, and goes again', async ({ page }, info) => {
  const hands = handsOn(page);
  await openPerson(page, 'farah-quayle', 'Farah Quayle');
  await hands.tap(part(page, 'Plan'));
  await hands.tap(page.getByRole('button', { name: 'Add a rule' }));
  await hands.tap(page.getByRole('button', { name: 'Done' }));
  await expect(page.getByText(/has no condition and does what the default rule does/)).toBeVisible();
  await hands.tap(page.getByRole('button', { name: 'Remove the rule' }));
  await expect(page.getByText('New rule')).toHaveCount(0);
  // And what is typed wrongly is not lost without a word.
  await hands.tap(page.getByRole('button', { name: /^(For every call|Default rule)\. Change/ }));
  await hands.type(page.getByRole('group', { name: 'Step 1' }).getByLabel('For, in seconds'), 'soon');
  await hands.tap(page.getByRole('button', { name: 'Done' }));
  await expect(page.getByText(/^Not taken\. For, in seconds: Seconds/)).toBeVisible();
  await hands.tap(page.getByRole('button', { name: 'Close without it' }));
  await expect(page.getByRole('dialog')).toHaveCount(0);
  hands.took(info, { taps: 9, keys: 4 });
});

test('a phone that was removed is brought back', async ({ page }, info) => {
  const hands = handsOn(page);
  await openPerson(page, 'juno-ravensby', 'Juno Ravensby');
  await hands.tap(part(page, 'Phones'));
  await hands.tap(page.getByRole('button', { name: /^More about .*[Mm]obile/ }));
  await hands.tap(page.getByRole('button', { name: 'Remove this phone' }));
  await hands.tap(
    page
      .getByRole('dialog')
      .getByRole('button', { name: /^Remove/ })
      .last(),
  );
  await putLive(page, hands);
  await hands.tap(page.getByRole('button', { name: 'One removed phone' }));
  await hands.tap(page.getByRole('button', { name: /^Bring back / }));
  await expect(page.getByRole('heading', { level: 1, name: /^Undo: Juno Ravensby/ })).toBeVisible();
  await hands.tap(page.getByRole('button', { name: 'Put live' }));
  await expect(page.getByText(/^Live since/)).toBeVisible();
  await openPerson(page, 'juno-ravensby', 'Juno Ravensby');
  await hands.tap(part(page, 'Phones'));
  await expect(page.getByRole('button', { name: /^More about .*[Mm]obile/ })).toBeVisible();
  await expect(page.getByRole('button', { name: 'One removed phone' })).toHaveCount(0);
  hands.took(info, { taps: 10, keys: 0 });
});

test('somebody is signed on at a shared desk', async ({ page, live }, info) => {
  const hands = handsOn(page);
  await freeDesk(page, live, 'hall-14');
  await goTo(page, '/desks');
  await hands.type(page.getByLabel('Search people and desks'), 'Hall desk 14');
  await hands.tap(page.getByRole('link', { name: /Hall desk 14/ }));
  await hands.tap(page.getByRole('button', { name: 'Sign somebody on' }));
  const sheet = page.getByRole('dialog');
  await hands.type(sheet.getByLabel('Who'), 'Viggo F');
  await hands.tap(sheet.getByRole('button', { name: /Viggo Fenwright/ }));
  const sat = page.getByRole('link', { name: /Viggo Fenwright.*signed on by the specialist/ });
  await expect(sat).toBeVisible();
  hands.took(info, { taps: 5, keys: 19 });
  await page.getByRole('button', { name: 'Sign Viggo Fenwright off' }).click();
  await expect(page.getByText('Nobody: the desk is free.')).toBeVisible();
});

test('several people get a status at once', { tag: '@wide' }, async ({ page }, info) => {
  const hands = handsOn(page);
  await goTo(page, '/people');
  await hands.type(page.getByLabel('Search people'), '421');
  await expect(page.getByRole('row')).not.toHaveCount(121);
  await hands.tap(page.getByRole('checkbox', { name: /^Choose all/ }));
  await hands.tap(page.getByRole('button', { name: 'Set status' }));
  await hands.tap(page.getByRole('dialog').getByRole('radio', { name: 'At sea' }));
  await hands.tap(page.getByRole('button', { name: /^Look at what changes for/ }));
  await hands.tap(page.getByRole('button', { name: /^Put live for/ }));
  await expect(page.getByText(/^Live now for/)).toBeVisible();
  hands.took(info, { taps: 6, keys: 3 });
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText(/^Undone:/)).toBeVisible();
});

test('a phone’s hand-over sheet is saved to be printed', async ({ page }, info) => {
  const hands = handsOn(page);
  await goTo(page, '/devices/phone-ruth-desk');
  const saved = page.waitForEvent('download');
  await hands.tap(page.getByRole('button', { name: 'Save as PDF' }));
  expect((await saved).suggestedFilename()).toBe('phone-ruth-desk.pdf');
  hands.took(info, { taps: 1, keys: 0 });
});

test('a person’s whole set-up is read on one page, and saved to be printed', async ({ page }, info) => {
  const hands = handsOn(page);
  await openPerson(page, 'ines', 'Ines Okafor');
  await hands.tap(part(page, 'More'));
  await hands.tap(page.getByRole('button', { name: 'Whole set-up' }));
  await expect(page.getByRole('heading', { level: 1, name: 'Set-up of Ines Okafor' })).toBeVisible();
  await expect(page.getByText(/^Mobile: answer guard 2.3 s, stop ringing after 17.5 s/)).toBeVisible();
  const saved = page.waitForEvent('download');
  await hands.tap(page.getByRole('button', { name: 'Save as PDF' }));
  expect((await saved).suggestedFilename()).toBe('set-up-ines.pdf');
  hands.took(info, { taps: 3, keys: 0 });
});

test('a permission that is missing at the ending of a group is given to the group on the spot', async ({
  page,
}) => {
  await goTo(page, '/groups/bookings');
  await page.getByRole('radio', { name: 'A number' }).first().click();
  await page.getByLabel('An outside number, in any form').first().fill('+44 20 7946 0123');
  await expect(page.getByText(/may not dial it/).first()).toBeVisible();
  await page
    .getByRole('button', { name: /^Give .* the permission / })
    .first()
    .click();
  await expect(page.getByText(/may not dial it/)).toHaveCount(0);
  await page.getByRole('button', { name: 'Discard' }).click();
});

test('a permission that is missing on the dialling bench goes onto the slate', async ({ page }) => {
  await goTo(page, '/routes');
  await page.getByLabel('At whose line?').fill('juno ravensby');
  await page.getByRole('button', { name: /Juno Ravensby/ }).click();
  await page.getByLabel('Typed, in any form').fill('+44 20 7946 0123');
  await page.getByRole('button', { name: /^Give Juno the permission / }).click();
  const sheet = page.getByRole('dialog');
  await sheet.getByLabel('Name of a new slate').fill('Juno abroad');
  await sheet.getByRole('button', { name: 'Begin this slate' }).click();
  await page.getByRole('link', { name: 'On the slate now. Open the slate' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Juno abroad' })).toBeVisible();
  await expect(page.getByText('Juno Ravensby').first()).toBeVisible();
});

test('a permission that is missing where calls shall end is given on the spot', async ({ page }, info) => {
  const hands = handsOn(page);
  await openPerson(page, 'juno-ravensby', 'Juno Ravensby');
  await hands.tap(part(page, 'Plan'));
  await hands.tap(page.getByRole('button', { name: /^(For every call|Default rule)\. Change/ }));
  const pane = page.getByRole('dialog');
  await hands.tap(pane.getByRole('radio', { name: 'A number' }).first());
  await hands.type(pane.getByLabel('An outside number, in any form').first(), '+44 20 7946 0123');
  await expect(pane.getByText(/line may not dial it/)).toBeVisible();
  await hands.tap(pane.getByRole('button', { name: /^Give Juno the permission / }));
  await expect(pane.getByText(/line may not dial it/)).toHaveCount(0);
  await hands.tap(pane.getByRole('button', { name: /^Send calls to \+44/ }));
  await hands.tap(pane.getByRole('button', { name: 'Done' }));
  await expect(region(page)).toContainText('settings changed');
  hands.took(info, { taps: 7, keys: 16 });
});
