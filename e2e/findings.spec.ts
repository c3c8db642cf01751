import { expect, goTo, strip, test } from './server';

test.beforeEach(({ signIn }) => signIn());

test('findings are found by words and weight, seen to, put off, and mended by way of a slate', async ({
  page,
}, info) => {
  await goTo(page, '/today');
  await page.getByRole('button', { name: /^All \d+$/ }).click();
  await page.getByLabel('Search findings').fill('Owen Baptiste');
  await expect(
    page.getByText(/rings the mobile until its mobile carrier’s voicemail picks up/),
  ).toBeVisible();
  await page.getByRole('radio', { name: 'Risks' }).click();
  const risk = page.getByRole('listitem').filter({ hasText: 'Answer guard shorter than' });
  await expect(risk).toBeVisible();
  await risk.getByRole('button', { name: 'Why' }).click();
  await expect(risk.getByText(/Switched off, its voicemail answers/)).toBeVisible();
  await risk.getByRole('button', { name: 'Assign' }).click();
  const sheet = page.getByRole('dialog', { name: 'Assign' });
  await sheet.getByRole('button', { name: 'Assign to me' }).click();
  await sheet.getByLabel('Put off until').fill('whenever');
  await sheet.getByRole('button', { name: 'Keep' }).click();
  await expect(sheet.getByText(/must be/)).toBeVisible();
  await sheet.getByLabel('Put off until').fill('2099-01-01');
  await sheet.getByRole('button', { name: 'Keep' }).click();
  await expect(risk).toHaveCount(0);
  await page.getByRole('radio', { name: 'Put off' }).click();
  await expect(risk.getByText('assigned to specialist, put off until 2099-01-01')).toBeVisible();
  await risk.getByRole('button', { name: 'Assign' }).click();
  await sheet.getByLabel('Put off until').fill('');
  await sheet.getByLabel('Assigned to').fill('');
  await sheet.getByRole('button', { name: 'Keep' }).click();
  await page.getByRole('radio', { name: 'Open' }).click();

  await risk.getByRole('button', { name: /^Answer guard 4 s/ }).click();
  const which = page.getByRole('dialog', { name: 'On which slate?' });
  await which.getByLabel('Name of a new slate').fill(`Mends ${info.project.name}`);
  await which.getByRole('button', { name: 'Begin this slate' }).click();
  await expect(page.getByRole('link', { name: /^Slate .*not live/ })).toBeVisible();
});

test('from a complaint to its causes, with the call that shows one', async ({ page }) => {
  await goTo(page, '/people/ruth');
  await page.getByRole('button', { name: 'Troubleshoot' }).click();
  await page.getByRole('radio', { name: 'My mobile does not ring' }).click();
  const first = page.getByRole('listitem').first();
  await expect(first).toContainText('1. It is set so: every such call goes this way.');
  await expect(first).toContainText('the permission does not allow this number');
  await expect(first.getByRole('button', { name: 'Give the permission “Local and national”' })).toBeVisible();
  await first.getByRole('button', { name: 'Show the call' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Try a call to Ruth Adeyemi' })).toBeVisible();
  await goTo(page, '/people/priya/troubleshoot');
  await page.getByRole('radio', { name: 'My softphone does not ring' }).click();
  await expect(
    page
      .getByText(/sleeps, and is woken late/)
      .or(page.getByText(/not registered/))
      .first(),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Something else' }).click();
  await expect(page.getByRole('radio', { name: 'It rings at night' })).toBeVisible();
});

test('a phone that owes a restart rings as it runs, until it was restarted', async ({ page, live }) => {
  const id = 'leocadia-eastmark';
  const headers = { Origin: live.url };
  const answer = (await (await page.request.get(`/api/people/${id}`)).json()) as {
    version: number;
    person: { name: string; lines: { extension: string }[] };
  };
  const { version, person } = answer;
  const extension = '4881';
  const lines = person.lines.map((line, i) => (i === 0 ? { ...line, extension } : line));
  await page.request.put(`/api/people/${id}`, { data: { version, person: { ...person, lines } }, headers });
  await goTo(page, `/people/${id}`);
  await expect(page.getByText(/owes a restart: /)).toBeVisible();
  await expect(strip(page)).toHaveAccessibleName(/not registered/);
  await goTo(page, '/today');
  const owed = page.getByText(new RegExp(`until restarted, then as ${extension}`));
  await expect(owed).toBeVisible();
  await goTo(page, `/people/${id}`);
  await page.getByRole('button', { name: 'Restarted' }).click();
  await expect(page.getByText(/owes a restart: /)).toHaveCount(0);
  await expect(strip(page)).not.toHaveAccessibleName(/not registered/);
});

test('somebody leaves: all that leads there is shown, and goes onto a slate with the successor’s', async ({
  page,
}) => {
  await goTo(page, '/people/tomasz/leave');
  await expect(page.getByText('Ines Okafor hands calls to Tomasz Bright’s plan.')).toBeVisible();
  await page.getByRole('radio', { name: 'A successor' }).click();
  await page.getByLabel('Choose the successor').fill('Owen');
  await page.getByRole('button', { name: /Owen Baptiste/ }).click();
  await expect(page.getByText('→ to Owen Baptiste').first()).toBeVisible();
  await page.getByRole('checkbox', { name: /Remove the drills/ }).click();
  await page.getByRole('button', { name: /^Put \d+ changes on a new slate/ }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Tomasz Bright leaves' })).toBeVisible();
  await expect(page.getByText('Duty engineers').first()).toBeVisible();
  await expect(page.getByText(/Ripple/)).toBeVisible();
});

test(
  'a table of a phone system is compared: columns matched, one difference taken over, another put on an order',
  { tag: '@wide' },
  async ({ page }) => {
    await goTo(page, '/routes');
    await page.getByRole('link', { name: /^Compare with a phone system/ }).click();
    const chooser = page.waitForEvent('filechooser');
    await page.getByRole('button', { name: 'Choose a file' }).click();
    const csv = 'Station,Holder,Calls\n4101,Ines Okafor,7\n4106,Mateo Wrong,\n';
    await (await chooser).setFiles({ name: 'stations.csv', mimeType: 'text/csv', buffer: Buffer.from(csv) });
    const match = async (group: string, heading: string) =>
      page
        .getByRole('radiogroup', { name: group, exact: true })
        .getByRole('radio', { name: heading, exact: true })
        .click();
    const sheet = page.getByRole('dialog', { name: 'Which column is what' });
    await expect(sheet.or(page.getByRole('heading', { name: 'Differences' }))).toBeVisible();
    if (await sheet.isVisible()) {
      await match('Extension', 'Station');
      await match('Name', 'Holder');
      await match('Calls at once', 'Calls');
      await sheet.getByRole('button', { name: 'Compare' }).click();
    }
    const row = page.getByRole('listitem').filter({ hasText: 'Ines Okafor: Calls at once' });
    await expect(row).toContainText('There: 7.');
    await row.getByRole('checkbox', { name: /^Ours is right/ }).click();
    const download = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Work order of 1' }).click();
    expect((await download).suggestedFilename()).toBe('work-order.md');
  },
);

test('the estate of two moments is compared', { tag: '@wide' }, async ({ page }) => {
  await goTo(page, '/record');
  await page.getByRole('link', { name: 'Two moments' }).click();
  await page.getByLabel('From').fill('yesterday');
  await expect(page.getByText('is no date and time, like 2026-11-25 06:00')).toBeVisible();
  await page.getByLabel('From').fill('2001-01-01 00:00');
  await page.getByRole('button', { name: 'Compare' }).click();
  await expect(page.getByText('The estate was not here yet at the first moment.')).toBeVisible();
});

test('the record is filtered and goes out as a file', async ({ page }) => {
  await goTo(page, '/record');
  await page.getByRole('button', { name: 'Filter' }).click();
  await page.getByLabel('Search the record').fill('nobody is called so');
  await expect(page.getByText('Nothing in the record is like this.', { exact: false })).toBeVisible();
  await page.getByLabel('Search the record').fill('');
  await page.getByRole('radio', { name: 'Sign-ins' }).click();
  await expect(page.getByText(/signed in:/).first()).toBeVisible();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'As JSON lines' }).click();
  expect((await download).suggestedFilename()).toBe('record.jsonl');
});
