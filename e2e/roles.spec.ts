import { expect, goTo, PASSWORD, strip, test } from './server';

test(
  'the manager reads, with private numbers masked, and can change nothing',
  { tag: '@both' },
  async ({ page, signIn }) => {
    await signIn('manager');
    await goTo(page, '/people/mateo');
    await expect(page.getByText('+1778••••07')).toBeVisible();
    await expect(strip(page)).toHaveAccessibleName(/Gate 2 phone: rings/);
    for (const name of ['Edit', 'Add phone', 'Import staff'])
      await expect(page.getByRole('button', { name, exact: true })).toHaveCount(0);
    await expect(page.getByRole('switch', { name: 'Mobile rings' })).toBeDisabled();
    await goTo(page, '/import');
    await expect(page.getByText('Importing staff is for specialists.')).toBeVisible();
  },
);

test('the help desk is shown a number on demand, flips a switch, and the record has both', async ({
  page,
  signIn,
}) => {
  await signIn('helpdesk');
  await goTo(page, '/people/dalia');
  await expect(page.getByText('+1778••••15')).toBeVisible();
  await page.getByRole('button', { name: /^Show the number of Mobile/ }).click();
  await expect(page.getByText('+1 778 555 0115')).toBeVisible();
  const before = await page.getByRole('switch', { name: 'Mobile rings' }).isChecked();
  await page.getByRole('switch', { name: 'Mobile rings' }).click();
  await expect(strip(page)).toHaveAccessibleName(
    before ? /Mobile: left out/ : /Mobile: stops ringing at 22 s/,
  );
  await page.getByRole('radiogroup', { name: 'Status today' }).getByRole('radio', { name: 'Away' }).click();
  // What others have changed meanwhile may make it worse for somebody: then it asks first.
  const asks = page.getByRole('button', { name: 'Set it all the same' });
  const isAway = page.getByRole('button', { name: 'Status: Away. Change' });
  await expect(asks.or(isAway)).toBeVisible();
  if (await asks.isVisible()) await asks.click();
  await expect(isAway).toBeVisible();
  await goTo(page, '/record');
  await expect(page.getByText(/helpdesk was shown a private number of Dalia Nwosu/).first()).toBeVisible();
  await expect(page.getByText(/helpdesk switched a phone of Dalia Nwosu/).first()).toBeVisible();
});

test('signing in: empty fields are told beside them, a wrong password plainly, the right one leads to Today', async ({
  page,
}) => {
  await goTo(page, '/');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByText('Your account name')).toBeVisible();
  await page.getByLabel('Name', { exact: true }).fill('nobody');
  await page.getByLabel('Password', { exact: true }).fill('wrong');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('alert')).toHaveText('This name and password do not go together.');
  await page.getByLabel('Name', { exact: true }).fill('specialist');
  await page.getByLabel('Password', { exact: true }).fill(PASSWORD);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible();
});

test('after signing out, nothing is left to see', async ({ page, signIn }) => {
  await signIn();
  await goTo(page, '/today');
  await page.getByRole('button', { name: 'Account', exact: true }).click();
  await page.getByRole('button', { name: 'Sign out', exact: true }).last().click();
  await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible();
  await goTo(page, '/people/ines');
  await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible();
});

test(
  'what a page asks for first is on its way with the page, but only for those who are signed in',
  { tag: '@wide' },
  async ({ page, signIn }) => {
    expect((await page.request.get('/people')).headers().link).toBeUndefined();
    await signIn();
    const { link } = (await page.request.get('/people')).headers();
    expect(link).toContain('</api/people>; rel=preload; as=fetch');
    expect((await page.request.get('/people/%3Cines%3E')).headers().link).not.toContain('<ines>');
  },
);

test('what was searched in a tab is there for the same account after a reload, and for nobody else', async ({
  page,
  signIn,
}) => {
  await signIn();
  await goTo(page, '/people');
  const search = page.getByPlaceholder('Name, extension or number');
  await search.fill('Noor');
  await expect(page.getByRole('link', { name: /Ines Okafor/ })).toHaveCount(0);
  await signIn();
  await goTo(page, '/people');
  await expect(search).toHaveValue('Noor');
  await signIn('manager');
  await goTo(page, '/people');
  await expect(page.getByRole('link', { name: /Ines Okafor/ })).toBeVisible();
  await expect(search).toHaveValue('');
});
