import { expect, goTo, strip, test } from './server';

test(
  'a seat is added, put into a group by rank, and told what becomes of its calls without anybody',
  { tag: '@both' },
  async ({ page, signIn }, info) => {
    await signIn();
    const [name, extension] =
      info.project.name === 'phone' ? ['Dispatch one', '4551'] : ['Dispatch two', '4552'];
    await goTo(page, '/groups');
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
    await goTo(page, '/groups');
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
    await goTo(page, '/groups');
    await page.getByRole('link', { name: new RegExp(`^${name}`) }).click();
    await expect(page.getByRole('link', { name: new RegExp(`Desk of ${name}`) })).toBeVisible();
  },
);

test('somebody is signed on to a seat at a phone, paused, and the group says so', async ({
  page,
  signIn,
}) => {
  await signIn();
  await goTo(page, '/seats/service-3');
  await expect(page.getByText('Nobody.', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Sign somebody on' }).click();
  const sheet = page.getByRole('dialog');
  await sheet.getByLabel('Who').fill('Tomasz');
  await sheet.getByRole('button', { name: /Tomasz Bright/ }).click();
  await sheet.getByRole('radio', { name: 'Another phone' }).click();
  await sheet.getByLabel('Its number in any form, or its SIP address').fill('12');
  await sheet.getByRole('button', { name: 'Sign Tomasz Bright on' }).click();
  await expect(sheet.getByText('is no number that can be called')).toBeVisible();
  await sheet.getByLabel('Its number in any form, or its SIP address').fill('778 555 0147');
  await sheet.getByRole('button', { name: 'Sign Tomasz Bright on' }).click();
  await expect(sheet).toHaveCount(0);
  await expect(page.getByRole('link', { name: /Tomasz Bright, at \+1 778 555 0147.*ready/ })).toBeVisible();
  await page.getByRole('button', { name: 'Pause', exact: true }).click();
  await expect(page.getByRole('link', { name: /Tomasz Bright.*paused: Break/ })).toBeVisible();
  await goTo(page, '/groups/service-desk');
  await expect(page.getByText(/^Tomasz Bright, at .*: paused: Break$/)).toBeVisible();
  await expect(page.getByText(/^Next: Ruth Adeyemi/)).toBeVisible();
  // The one who has been idle for longest of those of rank 1 is rung first.
  await expect(strip(page)).toHaveAccessibleName(/Ruth/);
  await goTo(page, '/seats/service-3');
  await page.getByRole('button', { name: 'Go on' }).click();
  await page.getByRole('button', { name: 'Sign Tomasz Bright off' }).click();
  await expect(page.getByText('Nobody.', { exact: true })).toBeVisible();
});

test('people sign on to a seat on their own page at whichever phone, pause it and leave it', async ({
  page,
  signIn,
}) => {
  await signIn('4101');
  await goTo(page, '/');
  await page.getByRole('button', { name: 'Sign on to a seat' }).click();
  const sheet = page.getByRole('dialog');
  await sheet.getByRole('button', { name: /Service from home 2/ }).click();
  await sheet.getByRole('radio', { name: 'Mobile' }).click();
  await expect(sheet.getByText(/^Calls come to .*, and are accepted with key 1\.$/)).toBeVisible();
  await sheet.getByRole('button', { name: 'Sign on', exact: true }).click();
  await expect(page.getByText(/^You take calls at Mobile: ready/).last()).toBeVisible();
  await page
    .getByRole('radiogroup', { name: 'Pause Service from home 2' })
    .getByRole('radio', { name: 'Meeting' })
    .click();
  await expect(page.getByText('You take calls at Mobile: paused: Meeting')).toBeVisible();
  await page.getByRole('button', { name: 'Go on at Service from home 2' }).click();
  await expect(page.getByText('You take calls at Mobile: paused: Meeting')).toHaveCount(0);
  await page.getByRole('button', { name: 'Leave Service from home 2' }).click();
  await expect(page.getByRole('button', { name: 'Leave Service from home 2' })).toHaveCount(0);
});

test('how many seats a group needs: by formula, by trying the group, and by half hour', async ({
  page,
  signIn,
}) => {
  await signIn();
  await goTo(page, '/groups/service-desk');
  await page.getByRole('link', { name: /How many seats are needed/ }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('How many seats: Service desk');
  await page.getByLabel('Calls an hour').fill('90');
  await page.getByLabel('Talk, s').fill('180');
  await page.getByLabel('Wrap-up, s').fill('30');
  await page.getByLabel('Seats signed on').fill('6');
  // 5.25 Erlangs: 8 seats answer 80 % within 20 s, 7 do not.
  await expect(page.getByText('6 seats are too few: 8 are needed.')).toBeVisible();
  await page.getByLabel('Seats signed on').fill('8');
  await expect(page.getByText('8 seats are enough; 8 would do.')).toBeVisible();
  await page.getByLabel('Talk, s').fill('a while');
  await expect(page.getByText('From 1 to 7200')).toBeVisible();
  await page.getByLabel('Talk, s').fill('180');
  await page.getByRole('button', { name: 'Try it with 20,000 calls' }).click();
  await expect(page.getByRole('table', { name: 'Tried beside the formula' })).toBeVisible({
    timeout: 30_000,
  });
  await expect(page.getByRole('row').filter({ hasText: 'Answered within 20 s' })).toContainText('±');
  await page.getByLabel('Half hours and calls, a line each').fill('08:00 45\n8:15 3');
  await expect(page.getByText(/^Line 2: A half hour and its calls/)).toBeVisible();
  await page.getByLabel('Half hours and calls, a line each').fill('08:00 45');
  await expect(page.getByText('8 seats for 45 calls')).toBeVisible();
});

test('a group is added once it is known what it dials with, and not before', async ({ page, signIn }) => {
  await signIn();
  let letIn: () => void = () => undefined;
  const waiting = new Promise<void>((done) => {
    letIn = done;
  });
  await page.route('**/api/objects/permission', async (route) => {
    await waiting;
    await route.continue();
  });
  await goTo(page, '/groups');
  await page.getByRole('button', { name: 'Add a group' }).click();
  await page.getByLabel('Name').fill('Gangway');
  await page.getByLabel('Extension').fill('4571');
  const add = page.getByRole('dialog').getByRole('button', { name: 'Add a group' });
  await expect(add).toBeDisabled();
  letIn();
  await add.click();
  await expect(page.getByRole('heading', { level: 1, name: 'Gangway' })).toBeVisible();
});

test('a group cannot be added where there is nothing to dial with, and it is said why', async ({
  page,
  signIn,
}) => {
  await signIn();
  await page.route('**/api/objects/permission', (route) =>
    route.fulfill({ json: { objects: [], revision: 1 } }),
  );
  await goTo(page, '/groups');
  await page.getByRole('button', { name: 'Add a group' }).click();
  await page.getByLabel('Name').fill('Gangway two');
  await page.getByLabel('Extension').fill('4572');
  await expect(page.getByText(/^There is no permission to dial with yet/)).toBeVisible();
  await expect(page.getByRole('dialog').getByRole('button', { name: 'Add a group' })).toBeDisabled();
});
