import { DateTime } from 'luxon';
import { isoIn } from '../core/calls/time';
import { expect, goTo, test } from './server';

const ZONE = 'America/Vancouver';

test('a call that goes over the phone system is listed, and shows how it went and how it should have', async ({
  page,
  signIn,
  live,
}) => {
  await signIn();
  await goTo(page, '/calls');
  await expect(page.getByRole('heading', { level: 1, name: 'Calls' })).toBeVisible();
  // The emergency desk calls Ruth back over the phone system; her phone may still be starting.
  await expect(async () => {
    const tried = await page.request.post('/api/safety/ruth-desk/try', {
      data: {},
      headers: { Origin: live.url },
    });
    expect(tried.ok()).toBe(true);
  }).toPass({ timeout: 40_000 });
  await page.getByLabel('Search calls').fill('Ruth Adeyemi');
  const row = page.getByRole('link').filter({ hasText: 'From 911' }).first();
  await expect(row).toBeVisible({ timeout: 40_000 });
  await row.click();
  await expect(page.getByRole('heading', { level: 1, name: 'Call to Ruth Adeyemi' })).toBeVisible();
  await expect(
    page.getByRole('heading', { name: /^It (went as planned|did not go as planned)$/ }),
  ).toBeVisible();
  await expect(page.getByRole('heading', { name: 'How it went' })).toBeVisible();
  await page.getByRole('button', { name: /^Signalling: \d+ messages/ }).click();
  await page
    .getByRole('button', { name: /: INVITE, from Phone system to .*Ruth Adeyemi: / })
    .first()
    .click();
  await expect(page.getByRole('dialog', { name: 'INVITE' }).getByText(/^INVITE sip:/)).toBeVisible();
  await page.keyboard.press('Escape');
  await page.goBack();
  await page.getByLabel('Search calls').fill('nobody at all');
  await expect(page.getByText('No call that is kept fits this.')).toBeVisible();
});

test('“it did not ring yesterday at three”: the call is found, and the rule that left the mobile out', async ({
  page,
  signIn,
}) => {
  await signIn();
  await goTo(page, '/people/ines/troubleshoot');
  await page.getByRole('radio', { name: 'At a day and hour' }).click();
  const now = process.env.HOSTLER_NOW ? DateTime.fromISO(process.env.HOSTLER_NOW) : DateTime.now();
  // By the application's own table of zones: that of this machine may know an older rule.
  const there = DateTime.fromISO(isoIn(now.toMillis(), ZONE), { setZone: true });
  const then = there.minus({ days: 1 }).set({ hour: 15, minute: 4 });
  const field = page.getByLabel('Day and hour, as 2026-11-23 14:20');
  await field.fill(then.toFormat('yyyy-MM-dd HH:mm'));
  await page.getByRole('button', { name: 'Look then' }).click();
  await expect(page.getByRole('heading', { name: 'Calls around then' })).toBeVisible();
  await expect(
    page.getByText('Ines Okafor was “On leave” until 15:10, then “On shift”.').first(),
  ).toBeVisible();
  await expect(page.getByText(/mobile did not ring: the rule “On leave: Ruth covers”/).first()).toBeVisible();
  await page.getByRole('button', { name: 'See this call' }).first().click();
  await expect(page.getByRole('heading', { level: 1, name: 'Call to Ines Okafor' })).toBeVisible();
});

test(
  'a carrier that became quicker is put on a slate, which is run over last month’s calls',
  { tag: '@wide' },
  async ({ page, signIn }) => {
    await signIn();
    await goTo(page, '/calls/carriers');
    await expect(page.getByText(/voicemail after ringing changed about/)).toBeVisible({ timeout: 30_000 });
    await page.getByRole('button', { name: 'Put these times on a slate' }).first().click();
    await expect(page.getByRole('heading', { level: 1, name: /as they were measured$/ })).toBeVisible();
    await page.getByRole('button', { name: 'Run it over last month’s calls' }).click();
    await expect(page.getByText(/of [\d,]+ calls end otherwise/)).toBeVisible({ timeout: 40_000 });
    await page.getByRole('button', { name: /of these calls|These calls/ }).click();
    await expect(page.getByText(/Now:/).first()).toBeVisible();
  },
);

test('calls of another phone system: looked through, a word explained, taken in, and removed again', async ({
  page,
  signIn,
}) => {
  await signIn();
  await goTo(page, '/calls/import');
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Choose a file' }).click();
  const day = DateTime.now().minus({ days: 3 }).toFormat('yyyy-MM-dd');
  const rows = ['start,from,to,result,wait,talk', `${day} 10:00:00,6045550199,4101,answered,6,60`];
  rows.push(`${day} 11:00:00,6045550199,4101,sort of,9,`, 'soon,1,4101,answered,1,1');
  await (
    await chooser
  ).setFiles({ name: 'old.csv', mimeType: 'text/csv', buffer: Buffer.from(rows.join('\n')) });
  await expect(page.getByText('1 call in 3 rows; 2 rows cannot be read.')).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText(/Line 4, column 1/)).toBeVisible();
  await page
    .getByRole('radiogroup', { name: 'What “sort of” means' })
    .getByRole('radio', { name: 'Voicemail here' })
    .click();
  await page.getByRole('button', { name: 'Look through it again' }).click();
  await page.getByRole('button', { name: 'Take in 2 calls' }).click({ timeout: 30_000 });
  await expect(page.getByText('2 calls came in; 0 were there already.')).toBeVisible({ timeout: 30_000 });
  await page.getByRole('button', { name: 'Remove its calls' }).click();
  await expect(page.getByText('Its calls were removed.')).toBeVisible();
});
