import { expect, goTo, test } from './server';

test('a person is added by hand, rings at once, and their phone and voicemail are set', async ({
  page,
  signIn,
}) => {
  await signIn();
  await goTo(page, '/people');
  await page.getByRole('button', { name: 'Add person' }).click();
  const sheet = page.getByRole('dialog', { name: 'Add person' });
  await expect(sheet.getByText('The next free one')).toBeVisible();
  const free = await sheet.getByLabel('Extension').inputValue();
  await sheet.getByLabel('Name').fill('Dalia Wren');
  await sheet.getByLabel('Mobile, if there is one').fill('my mobile');
  await expect(sheet.getByRole('button', { name: 'Add person' })).toBeDisabled();
  await sheet.getByLabel('Mobile, if there is one').fill('9 1 778 555 0177');
  await expect(sheet.getByText('+1 778 555 0177')).toBeVisible();
  await sheet.getByLabel('Extension').fill('4101');
  await sheet.getByRole('button', { name: 'Add person' }).click();
  await expect(sheet.getByText('4101 belongs to Ines Okafor already')).toBeVisible();
  await expect(sheet.getByLabel('Name')).toHaveValue('Dalia Wren');
  await sheet.getByLabel('Extension').fill(free);
  await sheet.getByRole('button', { name: 'Add person' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Dalia Wren' })).toBeVisible();
  await expect(page.getByText(/Rings the desk phone and the mobile together for 25 s/).first()).toBeVisible();

  await page.getByRole('button', { name: /^Mobile: / }).click();
  await page.getByRole('button', { name: 'The phone itself' }).click();
  await page.getByLabel('Name of the phone').fill('Pocket phone');
  await page.getByLabel('Its voicemail answers after ringing for, in seconds').fill('15');
  await page.getByLabel('Digits sent after the answer').fill('12x');
  await expect(page.getByText(/^Digits, \*, #, A to D/)).toBeVisible();
  await page.getByLabel('Digits sent after the answer').fill(',,204');
  await page.getByRole('radio', { name: 'Another number' }).click();
  await page.getByLabel('Number of the organisation, in any form').fill('250 555 0100');
  await expect(page.getByText('Shows +1 250 555 0100')).toBeVisible();
  const done = page.getByRole('button', { name: 'Done' });
  if (await done.isVisible()) await done.click();
  await page.getByRole('switch', { name: 'Voicemail takes messages' }).click();
  await expect(page.getByText('Takes no messages: calls that end here fail.')).toBeVisible();
  await page.getByRole('switch', { name: 'Voicemail takes messages' }).click();
  await page.getByLabel('Send copies to').fill('Ruth');
  await page.getByRole('button', { name: /^Ruth Adeyemi/ }).click();
  await expect(page.getByText('A copy goes to Ruth Adeyemi')).toBeVisible();
  // Its voicemail answers before it stops ringing: that is said, and asked, before it is live.
  await expect(page.getByText(/^Breaks for Dalia Wren/).first()).toBeVisible();
  await page.getByRole('button', { name: 'Put live' }).click();
  await expect(page.getByText('Something gets worse with this.')).toBeVisible();
  await page.getByRole('button', { name: 'Put live all the same' }).click();
  await expect(page.getByText('Live now.')).toBeVisible();
  await page.reload();
  await expect(page.getByText('A copy goes to Ruth Adeyemi')).toBeVisible();
  await expect(page.getByRole('button', { name: /^Pocket phone: / })).toBeVisible();
});

test('whatever is open prints whole, over as many sheets of paper as it takes', async ({ page, signIn }) => {
  await signIn();
  await goTo(page, '/findings');
  await expect(page.getByRole('heading', { level: 1, name: 'Findings' })).toBeVisible();
  await expect(page.getByRole('listitem').first()).toBeVisible();
  const sheets = async () => {
    const pdf = (await page.pdf({ format: 'A4' })).toString('latin1');
    return Number(/\/Count (\d+)/.exec(pdf)?.[1] ?? 0);
  };
  expect(await sheets()).toBeGreaterThan(2);
  // Afterwards the screen is as it was.
  await expect(page.locator('[data-print]')).toHaveCount(0);
  await expect(page.getByRole('navigation', { name: 'Main' })).toBeVisible();
});

test('where to begin is said on Today until it is put away', async ({ page, signIn }) => {
  await signIn();
  await goTo(page, '/today');
  await expect(page.getByRole('heading', { name: 'Where to begin' })).toBeVisible();
  await page.getByRole('link', { name: /^See what is wrong before anybody complains/ }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Findings' })).toBeVisible();
  await goTo(page, '/today');
  await page.getByRole('button', { name: 'Put away' }).click();
  await expect(page.getByRole('heading', { name: 'Where to begin' })).toBeHidden();
  await page.reload();
  await expect(page.getByRole('heading', { level: 1, name: 'Today' })).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Where to begin' })).toBeHidden();
});

test('what somebody else changes is seen without loading again, and what is being edited stays', async ({
  page,
  signIn,
}) => {
  await signIn();
  await goTo(page, '/people/owen');
  const heading = page.getByRole('heading', { level: 1 });
  await expect(heading).toHaveText('Owen Baptiste');
  const other = async (name: string) => {
    const { version, person } = (await (await page.request.get('/api/people/owen')).json()) as {
      version: number;
      person: { name: string };
    };
    const origin = new URL(page.url()).origin;
    const answer = await page.request.put('/api/people/owen', {
      headers: { Origin: origin },
      data: { version, person: { ...person, name } },
    });
    expect(answer.status()).toBe(200);
  };
  await other('Owen Baptiste-Hale');
  await expect(heading).toHaveText('Owen Baptiste-Hale');
  await page.getByRole('switch', { name: 'Voicemail takes messages' }).click();
  await expect(page.getByRole('region', { name: 'Changes not live' })).toBeVisible();
  await other('Owen Baptiste');
  // What was begun stays, and what came between is told when it is put live.
  await expect(page.getByText('Takes no messages: calls that end here fail.')).toBeVisible();
  await expect(page.getByRole('region', { name: 'Changes not live' })).toBeVisible();
});

test(
  'of a long list what is here is shown while the rest comes, and whoever is not here yet is found',
  { tag: '@both' },
  async ({ page, signIn }) => {
    await signIn();
    // The list as it would be with somebody in a second part, which is held back.
    let letGo: () => void = () => undefined;
    const held = new Promise<void>((resolve) => (letGo = resolve));
    const second = 'f'.repeat(24);
    let rows: readonly object[] = [];
    await page.route(/\/api\/people(\?have=.*)?$/, async (route) => {
      const response = await route.fetch();
      const head = (await response.json()) as { parts: object[]; people: object[] | null };
      rows = [{ ...head.people?.[0], id: 'zo-late', name: 'Zo Late', extension: '4999', numbers: [] }];
      await route.fulfill({
        response,
        json: { ...head, parts: [...head.parts, { hash: second, count: rows.length }] },
      });
    });
    await page.route('**/api/people-parts?*', async (route) => {
      await held;
      await route.fulfill({ json: { parts: [rows] } });
    });
    await goTo(page, '/people');
    await expect(page.getByText(/^\d+ of \d+ people, the rest is coming$/)).toBeVisible();
    await expect(page.getByRole('link', { name: /Ines Okafor/ }).first()).toBeVisible();
    await page.getByLabel('Search people').fill('ruth');
    await expect(page.getByText(/^1 of \d+ people$/)).toBeVisible();
    await expect(page.getByRole('link', { name: /Ruth Adeyemi/ }).first()).toBeVisible();
    await page.getByLabel('Search people').fill('zo late');
    await expect(page.getByText('Nobody fits')).toBeVisible();
    letGo();
    await expect(page.getByRole('link', { name: /Zo Late/ }).first()).toBeVisible();
    await page.getByLabel('Search people').fill('');
    await expect(page.getByText(/^\d+ people$/)).toBeVisible();
  },
);
