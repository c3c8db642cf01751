import { expect, goTo, test } from '../server';
import { handsOn } from './hands';
import { openPerson as open, part, putLive, region } from './steps';

/** Tasks of the trade as a person does them, each counted in taps and keys. */
test.beforeEach(async ({ signIn }) => signIn());

test('somebody new can be called: name, mobile, the rest as proposed', async ({ page }, info) => {
  const hands = handsOn(page);
  await goTo(page, '/people');
  await hands.tap(page.getByRole('button', { name: 'Add person' }));
  const sheet = page.getByRole('dialog', { name: 'Add person' });
  await expect(sheet.getByText('The next free one')).toBeVisible();
  await hands.type(sheet.getByLabel('Name'), 'Odile Brackwater');
  await hands.type(sheet.getByLabel('Mobile, if there is one'), '778 555 0181');
  await hands.tap(sheet.getByRole('button', { name: 'Add person' }));
  await expect(page.getByRole('heading', { level: 1, name: 'Odile Brackwater' })).toBeVisible();
  await expect(page.getByText(/Rings the desk phone and the mobile together for 25 s/).first()).toBeVisible();
  hands.took(info, { taps: 4, keys: 28 });
});

test('a second line with a direct number', async ({ page }, info) => {
  const hands = handsOn(page);
  await open(page, 'wren-larkmoor', 'Wren Larkmoor');
  await hands.tap(part(page, 'More'));
  await hands.tap(page.getByRole('button', { name: 'Change', exact: true }).last());
  const sheet = page.getByRole('dialog', { name: 'Name, lines and permission' });
  await hands.tap(sheet.getByRole('button', { name: /^Add a line, \d{4}$/ }));
  const direct = sheet.getByLabel('Direct number, if there is one').last();
  await hands.type(direct, '250 555 0101');
  await expect(sheet.getByText('Belongs to Ines Okafor already')).toBeVisible();
  await hands.type(direct, '250 555 0197');
  await hands.tap(sheet.getByRole('button', { name: 'Give the line +1 250 555 0197' }));
  await hands.tap(sheet.getByRole('button', { name: 'Done' }));
  await putLive(page, hands);
  await page.reload();
  await expect(page.getByText(/^Line \d{4}, direct \+1 250 555 0197$/)).toBeVisible();
  hands.took(info, { taps: 9, keys: 24 });
});

test('a desk phone at home: its account and the telephone itself, in one go', async ({ page }, info) => {
  const hands = handsOn(page);
  await open(page, 'farah-quayle', 'Farah Quayle');
  await hands.tap(part(page, 'Phones'));
  await hands.tap(page.getByRole('button', { name: 'Add phone' }));
  const sheet = page.getByRole('dialog', { name: 'Add phone' });
  await hands.tap(sheet.getByRole('radio', { name: 'Desk phone away from the office' }));
  await hands.tap(sheet.getByRole('radio', { name: 'Gannet 20' }));
  await hands.type(sheet.getByLabel('MAC address, from the label below it'), '02005e10');
  await expect(sheet.getByText(/^Twelve digits/)).toBeVisible();
  await hands.type(sheet.getByLabel('MAC address, from the label below it'), '02005e1000c1');
  await hands.tap(sheet.getByRole('button', { name: 'Add phone' }));
  await expect(
    page.getByRole('heading', { level: 1, name: 'Desk phone at home of Farah Quayle' }),
  ).toBeVisible();
  hands.took(info, { taps: 7, keys: 20 });
});

test('a softphone: account, hand-over sheet and its code', async ({ page }, info) => {
  const hands = handsOn(page);
  await open(page, 'farah-quayle', 'Farah Quayle');
  await hands.tap(part(page, 'Phones'));
  await hands.tap(page.getByRole('button', { name: 'Add phone' }));
  const sheet = page.getByRole('dialog', { name: 'Add phone' });
  await hands.tap(sheet.getByRole('radio', { name: 'Softphone on a computer' }));
  await hands.tap(sheet.getByRole('button', { name: 'Add and hand over' }));
  await expect(
    page.getByRole('heading', { level: 1, name: 'Farah Quayle: Softphone on the computer' }),
  ).toBeVisible();
  await hands.tap(page.getByRole('button', { name: 'Open the sheet' }));
  await expect(page.getByText(/code/i).first()).toBeVisible();
  hands.took(info, { taps: 5, keys: 0 });
});

test('a phone that others use is removed by a slate, with what it leaves behind', async ({ page }, info) => {
  const hands = handsOn(page);
  await open(page, 'ines', 'Ines Okafor');
  await hands.tap(part(page, 'Phones'));
  await hands.tap(page.getByRole('button', { name: 'More about Dock office phone' }));
  await hands.tap(page.getByRole('button', { name: 'Remove this phone' }));
  const sheet = page.getByRole('dialog', { name: 'Remove Dock office phone?' });
  await expect(sheet.getByText(/^Ruth Adeyemi: the default rule rings it: taken out/)).toBeVisible();
  await hands.tap(sheet.getByRole('button', { name: 'Remove it by a slate' }));
  const which = page.getByRole('dialog', { name: 'On which slate?' });
  await hands.type(which.getByLabel('Name of a new slate'), 'Dock');
  await hands.tap(which.getByRole('button', { name: 'Begin this slate' }));
  await expect(page.getByRole('heading', { level: 1, name: 'Dock' })).toBeVisible();
  await expect(page.getByText('Ruth Adeyemi').first()).toBeVisible();
  hands.took(info, { taps: 6, keys: 4 });
});

test('calls are forwarded to a colleague when busy', async ({ page }, info) => {
  const hands = handsOn(page);
  await open(page, 'farah-quayle', 'Farah Quayle');
  await hands.tap(part(page, 'Plan'));
  await hands.tap(page.getByRole('button', { name: 'Change', exact: true }).nth(1));
  const sheet = page.getByRole('dialog', { name: 'Forward when busy' });
  await hands.tap(sheet.getByRole('radio', { name: 'A colleague' }));
  await expect(sheet.getByRole('button', { name: 'Choose where to' })).toBeDisabled();
  await hands.type(sheet.getByLabel('Which colleague'), 'Owen');
  await hands.tap(sheet.getByRole('button', { name: /^Owen Baptiste/ }));
  await hands.tap(sheet.getByRole('button', { name: /own plan/ }));
  await hands.tap(sheet.getByRole('button', { name: /^Forward when busy: on to Owen/ }));
  await putLive(page, hands);
  hands.took(info, { taps: 9, keys: 4 });
});

test('a holiday is put into the hours, each year', async ({ page }, info) => {
  const hands = handsOn(page);
  await goTo(page, '/hours/office');
  await hands.type(page.getByLabel('Or a date, as 2026-12-25'), '2026-12-28');
  await hands.tap(page.getByRole('checkbox', { name: /^The same day each year/ }));
  await hands.tap(page.getByRole('button', { name: 'Closed on this day' }));
  await expect(page.getByText('Mon 28 Dec 2026', { exact: true })).toBeVisible();
  await expect(page.getByText('Sat 28 Dec 2030', { exact: true })).toBeVisible();
  // Edits of hours outlast a reload.
  await page.reload();
  await expect(page.getByText('Sat 28 Dec 2030', { exact: true })).toBeVisible();
  await hands.tap(region(page).getByRole('button', { name: 'Discard' }));
  await expect(page.getByText('Sat 28 Dec 2030', { exact: true })).toHaveCount(0);
  hands.took(info, { taps: 4, keys: 10 });
});

test('a menu gets a case of its own for calls from inside', async ({ page }, info) => {
  const hands = handsOn(page);
  await goTo(page, '/menus/main');
  await hands.tap(page.getByRole('button', { name: 'Add a case' }));
  await hands.tap(page.getByRole('button', { name: 'Change it' }).first());
  await hands.tap(page.getByRole('radio', { name: 'From inside' }).first());
  await expect(page.getByRole('heading', { name: /from inside/ }).first()).toBeVisible();
  await hands.tap(page.getByRole('button', { name: 'Asked later' }).first());
  await expect(page.getByRole('heading', { name: /from inside/ }).first()).toBeVisible();
  await hands.tap(region(page).getByRole('button', { name: 'Discard' }));
  hands.took(info, { taps: 5, keys: 0 });
});

test('a complaint about an hour that is past is looked into as things stood then', async ({ page }, info) => {
  const hands = handsOn(page);
  await goTo(page, '/people/ruth/troubleshoot');
  await hands.tap(page.getByRole('radio').first());
  await hands.tap(page.getByRole('radio', { name: 'At a day and hour' }));
  await hands.type(page.getByLabel('Day and hour, as 2026-11-23 14:20'), '2001-01-01 10:00');
  await hands.tap(page.getByRole('button', { name: 'Look then' }));
  await expect(page.getByText('The estate was not here yet at that moment.')).toBeVisible();
  hands.took(info, { taps: 4, keys: 16 });
});

test('what makes calls worse is asked before it is live, and Go back leaves all as it was', async ({
  page,
}, info) => {
  const hands = handsOn(page);
  await open(page, 'tomasz', 'Tomasz Bright');
  await hands.tap(part(page, 'Cover'));
  await hands.tap(page.getByRole('switch', { name: 'Voicemail takes messages' }));
  await hands.tap(region(page).getByRole('button', { name: 'Put live' }));
  await expect(page.getByText('Something gets worse with this.')).toBeVisible();
  await hands.tap(page.getByRole('button', { name: 'Go back' }));
  await hands.tap(region(page).getByRole('button', { name: 'Discard' }));
  await expect(page.getByText('Takes messages.', { exact: true })).toBeVisible();
  hands.took(info, { taps: 5, keys: 0 });
});

test(
  'by keyboard alone: from People to a setting of a phone, in under 25 keys',
  { tag: '@wide' },
  async ({ page }, info) => {
    const hands = handsOn(page);
    await goTo(page, '/today');
    await expect(page.getByRole('heading', { level: 1, name: 'Today' })).toBeVisible();
    await hands.press('g');
    await hands.press('p');
    await expect(page.getByLabel('Search people')).toBeVisible();
    await hands.press('/');
    for (const letter of 'mateo') await hands.press(letter);
    await hands.press('Enter');
    await expect(page.getByRole('heading', { level: 1, name: 'Mateo Sundqvist' })).toBeFocused();
    await hands.press('e');
    await expect(page.getByRole('region', { name: /^How .* rings$/ })).toBeFocused();
    await hands.press('Tab', 2);
    await expect(page.getByRole('region', { name: /^How .* rings$/ }).locator(':focus')).toHaveCount(1);
    hands.took(info, { taps: 0, keys: 13 });
  },
);

test('links, radio buttons and Back by keyboard', { tag: '@wide' }, async ({ page }) => {
  await goTo(page, '/today');
  const people = page.getByRole('link', { name: 'People' });
  await expect(people).toHaveAttribute('href', '/people');
  await people.focus();
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/people$/);
  await page.getByRole('link', { name: /^Ines Okafor/ }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { level: 1, name: 'Ines Okafor' })).toBeFocused();
  await page.getByRole('button', { name: 'Add phone' }).click();
  const sheet = page.getByRole('dialog', { name: 'Add phone' });
  await sheet.getByRole('radio', { name: 'Mobile', exact: true }).focus();
  await page.keyboard.press('ArrowRight');
  await expect(sheet.getByRole('radio', { name: 'Softphone on a mobile' })).toBeChecked();
  await sheet.getByRole('checkbox').focus();
  await page.keyboard.press('Space');
  await expect(sheet.getByRole('checkbox')).not.toBeChecked();
  // Back closes what lies above the page first.
  await page.goBack();
  await expect(sheet).toHaveCount(0);
  await expect(page.getByRole('heading', { level: 1, name: 'Ines Okafor' })).toBeVisible();
});

test('what somebody wants to do is found by any word for it', { tag: '@wide' }, async ({ page }) => {
  await goTo(page, '/today');
  await expect(page.getByRole('heading', { level: 1, name: 'Today' })).toBeVisible();
  await page.keyboard.press('h');
  const sheet = page.getByRole('dialog', { name: 'How do I …' });
  await sheet.getByLabel('What do you want to do?').fill('xylophone');
  await expect(sheet.getByText('No task fits')).toBeVisible();
  await sheet.getByLabel('What do you want to do?').fill('hunt group');
  await sheet.getByRole('link', { name: /^Change a group/ }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Groups and menus' })).toBeVisible();
});
