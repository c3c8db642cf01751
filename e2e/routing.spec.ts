import type { Page } from '@playwright/test';
import { dragTo, expect, goTo, isPhone, test } from './server';

test.beforeEach(({ signIn }) => signIn());

const openTable = async (page: Page) => {
  await goTo(page, '/routes/table');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Route table');
  await expect(page.getByText(/^12 routes, 6 systems: \d faults and one risk\.$/)).toBeVisible();
};
const route = (page: Page, name: string) => page.getByRole('button', { name: `${name}. Change` });
const titles = (page: Page) =>
  page
    .getByRole('button', { name: /\. Change$/ })
    .evaluateAll((all) => all.map((each) => each.textContent ?? ''));

test(
  'what somebody dials is followed from the keys to the trunk, and refused where it is refused',
  { tag: '@both' },
  async ({ page }) => {
    await goTo(page, '/routes');
    await page.getByLabel('At whose line?').fill('tomasz');
    await page.getByRole('button', { name: /Tomasz Bright/ }).click();
    await page.getByLabel('Typed, in any form').fill('604 555 0101');
    const way = page.getByRole('list', { name: /^The way of/ });
    await expect(way.getByRole('listitem')).toHaveText([
      /Understood.*\+1 604 555 0101, national; dialled as 916045550101; the outside code was added/,
      /Permission.*may call it/,
      /Route.*National into E\.164, then North America/,
      /Trunk.*Terminal trunk/,
      /Sent.*\+16045550101/,
    ]);
    await page.getByLabel('Typed, in any form').fill('1 900 555 0100');
    await expect(way.getByText(/SIP 403/)).toBeVisible();
    await page.getByLabel('Typed, in any form').fill('ferry');
    await expect(way.getByText('A number is dialled in digits, not letters.')).toBeVisible();
  },
);

test('a finding is played, mended and the mend taken back', { tag: '@both' }, async ({ page }) => {
  await openTable(page);
  await page.getByRole('checkbox', { name: 'Only routes with something wrong' }).click();
  const fork = page.getByRole('group', { name: 'People with phones on two systems', exact: true });
  await expect(
    fork.getByText(/24 numbers of the list Phones on two systems do not come to the fork/),
  ).toBeVisible();
  await fork.getByRole('button', { name: 'Show the call' }).first().click();
  const way = page.getByRole('list', { name: /^The way of/ });
  await expect(way.getByText('Our own numbers: to Terminal phone system')).toBeVisible();
  if (isPhone(page)) await page.getByRole('button', { name: 'Close' }).click();
  await fork.getByRole('button', { name: 'Move it above Our own numbers' }).click();
  await expect(page.getByText(/do not come to the fork/)).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText(/do not come to the fork/)).toBeVisible();
});

test(
  'a route is added by its conditions, moved by keys, and its call traced before it is live',
  { tag: '@both' },
  async ({ page }) => {
    await openTable(page);
    await page.getByRole('button', { name: 'Add a route' }).click();
    const sheet = page.getByRole('dialog');
    await sheet.getByLabel('Name', { exact: true }).fill('Yard by its old numbers');
    await sheet.getByRole('checkbox', { name: 'Terminal phone system' }).click();
    await sheet.getByLabel('Numbers that fit a digit map').fill('77[x');
    await expect(sheet.getByText(/^At 3: the bracket \[ is not closed/)).toBeVisible();
    await sheet.getByLabel('Numbers that fit a digit map').fill('77xx');
    await sheet.getByRole('radio', { name: 'Old yard system' }).first().click();
    await sheet.getByLabel('Characters taken off the number').fill('2');
    await expect(
      sheet.getByText(
        'Calls from Terminal phone system to numbers that fit 77xx go to Old yard system without the first 2 characters.',
      ),
    ).toBeVisible();
    await sheet.getByRole('button', { name: 'Done' }).click();
    expect((await titles(page)).at(-1)).toContain('13. Yard by its old numbers');
    if (isPhone(page)) await page.getByRole('button', { name: 'Yard by its old numbers: earlier' }).click();
    else {
      await page.getByRole('button', { name: 'Drag route 13' }).focus();
      await page.keyboard.press('ArrowUp');
    }
    await expect.poll(async () => (await titles(page))[11]).toContain('Yard by its old numbers');
    if (isPhone(page)) await page.getByRole('button', { name: 'Follow a number through the table' }).click();
    await page.getByLabel('Number, as it comes to the table').fill('7712');
    const way = page.getByRole('list', { name: /^The way of/ });
    await expect(way.getByText('Yard by its old numbers: to Old yard system')).toBeVisible();
    await expect(way.getByText('as 12', { exact: true })).toBeVisible();
    if (isPhone(page)) await page.getByRole('button', { name: 'Close' }).click();
    await page.getByRole('button', { name: 'Discard' }).click();
    await expect(route(page, 'Yard by its old numbers')).toHaveCount(0);
  },
);

test('a route is dragged to another place, and the findings follow', { tag: '@wide' }, async ({ page }) => {
  await openTable(page);
  await dragTo(page, 'route', 1, 2);
  await expect
    .poll(async () => (await titles(page)).slice(0, 2))
    .toEqual([expect.stringContaining('1. Abroad into E.164'), expect.stringContaining('2. Emergency')]);
  await page.getByRole('button', { name: 'Discard' }).click();
});

test('people on a list have phones on two systems: the route is proposed, its difference seen, and taken', async ({
  page,
}) => {
  await openTable(page);
  await page.getByRole('button', { name: 'People on a list have phones on two systems' }).click();
  const sheet = page.getByRole('dialog');
  await sheet
    .getByRole('radiogroup', { name: 'The people on' })
    .getByRole('radio', { name: 'Yard people' })
    .click();
  await sheet.getByRole('button', { name: 'Propose the route' }).click();
  await expect(sheet.getByText('As route 6 of 13:')).toBeVisible();
  await expect(sheet.getByText(/^New: Yard people: both systems/)).toBeVisible();
  await sheet.getByRole('button', { name: 'Take it into the table' }).click();
  await expect.poll(async () => (await titles(page))[5]).toContain('Yard people: both systems');
  await page.getByRole('button', { name: 'Discard' }).click();
});

test('a list is made from a directory export, put to use, replaced, brought back and removed', async ({
  page,
}, info) => {
  const name = `Deck ${info.project.name}`;
  await openTable(page);
  const choose = async (text: string, fileName: string) => {
    const chooser = page.waitForEvent('filechooser');
    await page.getByRole('button', { name: /^Choose a(nother)? file$/ }).click();
    await (await chooser).setFiles({ name: fileName, mimeType: 'text/plain', buffer: Buffer.from(text) });
  };
  await page.getByRole('button', { name: 'Add a list' }).click();
  await choose('dn: cn=a\nmobile:: ***\n', 'broken.ldif');
  await expect(page.getByText('Line 2: the value is no base64')).toBeVisible();
  await choose(
    'version: 1\n\ndn: cn=a\ntelephoneNumber: +1 250 555 0171\nmobile: +1 778 555 0171\n\ndn: cn=b\ntelephoneNumber: +1 250\n  555 0172\n',
    `${name}.ldif`,
  );
  await expect(page.getByText('2 numbers from 2 entries.')).toBeVisible();
  await expect(page.getByRole('radio', { name: /telephonenumber \(2\)/ })).toBeVisible();
  await expect(page.getByLabel('Name of the list')).toHaveValue('broken');
  await page.getByLabel('Name of the list').fill(name);
  await page.getByRole('dialog').getByRole('button', { name: 'Put live' }).click();
  await page.getByRole('link', { name: new RegExp(name) }).click();
  await expect(page.getByText('+1 250 555 0172')).toBeVisible();

  await page.getByRole('button', { name: 'Replace it by a file' }).click();
  await choose('number\n+1 250 555 0172\n+1 250 555 0173\n', 'new.csv');
  await expect(
    page.getByText('one number stay, 1 are new, 1 go.').or(page.getByText(/1 are new, 1 go/)),
  ).toBeVisible();
  await page.getByRole('dialog').getByRole('button', { name: 'Put live' }).click();
  await expect(page.getByText('+1 250 555 0173')).toBeVisible();
  await page.getByRole('button', { name: 'Take the last replacement back' }).click();
  await expect(page.getByText('+1 250 555 0171')).toBeVisible();
  await page.getByRole('button', { name: 'Remove this list' }).click();
  await page.getByRole('button', { name: 'Restore list' }).click();
  await expect(page.getByText('+1 250 555 0171')).toBeVisible();
  await page.getByRole('button', { name: 'Remove this list' }).click();
  await expect(page.getByText(/was removed, with 2 numbers/)).toBeVisible();
});

test(
  'a list is replaced on a slate: the calls that go elsewhere are seen before it goes live',
  { tag: '@wide' },
  async ({ page, live }, info) => {
    const name = `Quay ${info.project.name}`;
    await openTable(page);
    const begun = await page.request.post('/api/slates', { data: { name }, headers: { Origin: live.url } });
    const { id } = (await begun.json()) as { id: number };
    await page.evaluate(
      (current) =>
        sessionStorage.setItem('hostler-slate', JSON.stringify({ state: { current }, version: 0 })),
      id,
    );
    await page.reload();
    await page.getByRole('button', { name: 'Add a list' }).click();
    const chooser = page.waitForEvent('filechooser');
    await page.getByRole('button', { name: 'Choose a file' }).click();
    await (
      await chooser
    ).setFiles({
      name: `${name}.csv`,
      mimeType: 'text/csv',
      buffer: Buffer.from('number\n+1 250 555 0191\n+1 250 555 0192\n'),
    });
    await page.getByRole('button', { name: 'To the slate', exact: true }).click();
    const link = page.getByRole('link', { name: new RegExp(`${name}.*new on the slate`) });
    await expect(link).toBeVisible();
    await goTo(page, '/slates');
    await page
      .getByRole('link', { name: new RegExp(name) })
      .first()
      .click();
    await expect(page.getByText('list of numbers, added by')).toBeVisible();
    // No route asks for it yet, so no call goes elsewhere.
    await expect(page.getByText(/calls at the route table/)).toBeVisible();
    await expect(page.getByText('No call ends differently, in any case that was checked.')).toBeVisible();
    await page.getByRole('button', { name: `Take ${name} off the slate` }).click();
    await expect(page.getByText(`${name} is off the slate.`)).toBeVisible();
  },
);

test('a number is tried against the permissions; a code of the organisation’s own is added and read', async ({
  page,
}) => {
  const code = '*71';
  await goTo(page, '/routes/dialling');
  await page.getByLabel('Try a number against them').fill('+44 20 7946 0000');
  await expect(page.getByText('+44 20 7946 0000, international; dialled as 9011442079460000')).toBeVisible();
  await expect(page.getByText('may, by Overseas trunk')).toBeVisible();
  await expect(page.getByText('may not: the permission does not allow this number').first()).toBeVisible();
  await page.getByRole('button', { name: 'Change', exact: true }).click();
  const sheet = page.getByRole('dialog');
  await sheet.getByRole('button', { name: 'Add a code' }).click();
  await sheet.getByLabel('Code', { exact: true }).last().fill(code);
  await sheet.getByRole('button', { name: 'Put live' }).click();
  await expect(sheet.getByText('is missing', { exact: true })).toBeVisible();
  await sheet.getByLabel('What it does').last().fill('Twinning on or off');
  await sheet.getByRole('button', { name: 'Put live' }).click();
  await expect(page.getByText(code, { exact: true })).toBeVisible();
  await goTo(page, '/routes');
  await page.getByLabel('At whose line?').fill('4101');
  await page.getByRole('button', { name: /Ines Okafor/ }).click();
  await page.getByLabel('Typed, in any form').fill(code);
  await expect(page.getByText(`the code ${code}: Twinning on or off`)).toBeVisible();
});

test(
  'the fraud protection: who can call what is watched, and a beginning that is added',
  { tag: '@wide' },
  async ({ page }) => {
    const prefix = '+290';
    await goTo(page, '/routes/guard');
    await expect(page.getByText(/^Abroad sends numbers that begin with/)).toBeVisible();
    await page.getByRole('button', { name: 'Change what is watched' }).click();
    const sheet = page.getByRole('dialog');
    const field = sheet.getByLabel('Numbers that begin with, beside premium ones');
    const before = await field.inputValue();
    await field.fill(`${before}, 44`);
    await expect(sheet.getByText('44 must be + and digits, such as +371')).toBeVisible();
    await field.fill(`${before}, ${prefix}`);
    await sheet.getByRole('button', { name: 'Put live' }).click();
    await expect(page.getByText(new RegExp(`^Can call .*\\${prefix}`))).toBeVisible();
  },
);

test('the ground check of a person says what their line can call, and mends what it cannot', async ({
  page,
}) => {
  await goTo(page, '/people/ruth');
  await expect(page.getByText('Ground check')).toBeVisible();
  await expect(page.getByText(/This line cannot call any outside number/)).toBeVisible();
  await page
    .getByRole('button', { name: /^Give Ruth the permission / })
    .first()
    .click();
  await expect(page.getByText(/^Calls out: local, national/)).toBeVisible();
  await page.getByRole('button', { name: 'Discard' }).click();
});
