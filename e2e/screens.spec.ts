import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { expect, goTo, test } from './server';

const AXE = readFileSync(require.resolve('axe-core/axe.min.js'), 'utf8');

// Of what is right nothing is told, and style sheets that none of these rules reads are not fetched once more: both take
// longer than finding what is wrong.
const TOLD = { resultTypes: ['violations'], preload: { assets: ['media'] } };
const EVERYTHING = { ...TOLD, runOnly: ['wcag2a', 'wcag2aa', 'wcag21aa'] };
const CONTRAST = { ...TOLD, runOnly: { type: 'rule', values: ['color-contrast'] } };

/** What axe finds wrong on the page as it is now: the rule and where. */
async function accessibilityFaults(page: Page, look: object = EVERYTHING): Promise<string[]> {
  if (!(await page.evaluate(() => 'axe' in window))) await page.evaluate(AXE);
  return page.evaluate(async (options) => {
    const axe = (
      window as unknown as {
        axe: { run: (o: object) => Promise<{ violations: { id: string; nodes: { html: string }[] }[] }> };
      }
    ).axe;
    const { violations } = await axe.run(options);
    return violations.flatMap((v) => v.nodes.map((node) => `${v.id}: ${node.html.slice(0, 160)}`));
  }, look);
}

const SCREENS: readonly (readonly [string, string, RegExp])[] = [
  ['Today', '/today', /^Today$/],
  ['a person', '/people/ines', /^Ines Okafor$/],
  ['a person whose calls are lost', '/people/amara', /^Amara Lindqvist$/],
  ['a try', '/people/tomasz/try', /^Try a call to Tomasz Bright$/],
  ['a slate', '/slates/1', /^Winter timetable$/],
  ['findings', '/findings', /^Findings$/],
  ['troubleshooting', '/people/ruth/troubleshoot', /^Troubleshoot Ruth Adeyemi$/],
  ['leaving', '/people/tomasz/leave', /^Tomasz Bright leaves$/],
  ['drills', '/drills', /^Drills$/],
  ['a work order', '/slates/1/order', /^Work order: Winter timetable$/],
  ['import', '/import', /^Import staff$/],
  ['record', '/record', /^Record$/],
  ['a phone for emergencies', '/safety/ruth-desk', /^Ruth Adeyemi: Bookings desk$/],
  ['calls', '/calls', /^Calls$/],
  ['whether calls went as planned', '/calls/nights', /^As planned\?$/],
  ['lost calls', '/calls/lost', /^Lost calls$/],
  ['answer times', '/calls/times', /^Answer times$/],
  ['a person’s answer times', '/people/ines/times', /^Answer times: Ines Okafor$/],
  ['carriers', '/calls/carriers', /^Carriers$/],
  ['trunks', '/calls/traffic', /^Trunks$/],
  ['what calls cost', '/calls/cost', /^Cost$/],
  ['the week’s letter', '/calls/letter', /^The week$/],
  ['importing calls', '/calls/import', /^Import calls$/],
  ['access numbers', '/access', /^Access numbers$/],
  ['an access number', '/access/call-through', /^Call through$/],
  ['rounds of calls', '/rounds', /^Rounds of calls$/],
  ['a round of calls', '/rounds/1', /^Sailing 7 of Friday cancelled$/],
  ['phones', '/phones', /^Phones$/],
  ['a phone', '/phones/tomasz-app', /^Tomasz Bright: Softphone/],
  ['the transport probe', '/probe', /^Transport probe$/],
  ['devices', '/devices', /^Devices$/],
  ['sites', '/sites', /^Sites$/],
  ['how many seats', '/groups/service-desk/seats', /^How many seats: Service desk$/],
  ['groups and menus', '/groups', /^Groups and menus$/],
  ['hours and statuses', '/hours', /^Hours and statuses$/],
  ['the organisation', '/organisation', /^Organisation$/],
  ['the servers', '/server', /^Servers$/],
  ['an address that is none', '/no-such-page', /^No such page$/],
  ['provisioning', '/provisioning', /^Provisioning$/],
  ['a device', '/devices/phone-ruth-desk', /^Ruth Adeyemi, Bookings desk$/],
  ['a site', '/sites/north-landing', /^North Landing$/],
  ['desks', '/desks', /^Desks$/],
  ['a desk', '/desks/hall-1', /^Hall desk 1$/],
  ['networks', '/networks', /^Networks$/],
  ['a network', '/networks/home-ruth', /^Network of Ruth’s home$/],
  ['a server', '/networks/servers/system', /^Phone system$/],
  ['routes', '/routes', /^Routes$/],
  ['the route table', '/routes/table', /^Route table$/],
  ['a list of numbers', '/routes/lists/yard-people', /^Yard people$/],
  ['dialling', '/routes/dialling', /^Dialling$/],
  ['the fraud protection', '/routes/guard', /^Fraud protection$/],
  ['what a number does', '/numbers/4000', /^What 4000 does$/],
  ['a group', '/groups/bookings', /^Bookings$/],
  ['a menu', '/menus/main', /^Terminal main menu$/],
  ['hours', '/hours/office', /^Office hours$/],
  ['a status', '/statuses/away', /^Away$/],
  ['the glossary', '/glossary', /^Glossary$/],
  ['one’s account', '/account', /^Your account$/],
];

const PHONE = { width: 390, height: 844 };
const WIDE = { width: 1280, height: 800 };

/** Waits until what was changed is drawn and nothing is on its way any more. */
async function drawn(page: Page): Promise<void> {
  await page.evaluate(
    () => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(() => done(null)))),
  );
  // One that is named tells how far something has come, and stays.
  await expect(page.locator('[role="progressbar"]:not([aria-label])')).toHaveCount(0);
}

/** One visit, narrow in light colours and wide in dark ones: no accessibility faults, nothing wider than the screen. */
async function expectNothingWrong(page: Page): Promise<void> {
  await page.waitForLoadState('networkidle');
  for (const [size, colorScheme] of [
    [PHONE, 'light'],
    [WIDE, 'dark'],
  ] as const) {
    await page.setViewportSize(size);
    await page.emulateMedia({ colorScheme });
    await drawn(page);
    expect(await accessibilityFaults(page)).toEqual([]);
    await expect(page.getByRole('heading', { level: 1 })).toHaveCount(1);
    await expect(page).toHaveTitle(/. · Hostler$/);
    const over = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
    expect(over).toBeLessThanOrEqual(0);
  }
}

/** How many are gone through without loading the application anew. */
const AT_ONCE = 12;
for (let first = 0; first < SCREENS.length; first += AT_ONCE) {
  const some = SCREENS.slice(first, first + AT_ONCE);
  test(`no accessibility faults and nothing wider than the screen: ${some.map(([name]) => name).join(', ')}`, async ({
    page,
    signIn,
  }) => {
    await signIn();
    for (const [name, path, heading] of some)
      await test.step(name, async () => {
        await page.setViewportSize(PHONE);
        await page.emulateMedia({ colorScheme: 'light' });
        await goTo(page, path);
        await expect(page.getByRole('heading', { level: 1, name: heading })).toBeVisible();
        await expectNothingWrong(page);
      });
  });
}

test('somebody’s own page has no accessibility faults and nothing wider than the screen', async ({
  page,
  signIn,
}) => {
  await signIn('4101');
  await goTo(page, '/');
  await expect(page.getByRole('heading', { level: 1, name: 'Ines Okafor' })).toBeVisible();
  await expectNothingWrong(page);
});

test(
  'sign-in, the list of people, the moment sheet and the editor have no accessibility faults',
  { tag: '@both' },
  async ({ page, signIn }) => {
    const dark = () => page.emulateMedia({ colorScheme: 'dark' });
    const light = () => page.emulateMedia({ colorScheme: 'light' });
    const nothingWrong = async () => {
      await light();
      expect(await accessibilityFaults(page)).toEqual([]);
      await dark();
      expect(await accessibilityFaults(page, CONTRAST)).toEqual([]);
    };
    await goTo(page, '/');
    await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible();
    await nothingWrong();
    await signIn();
    await goTo(page, '/people');
    await expect(page.getByRole('link', { name: /Ines Okafor/ })).toBeVisible();
    await nothingWrong();
    await goTo(page, '/people/mateo');
    await page.getByRole('button', { name: /^Day and time/ }).click();
    await expect(page.getByRole('dialog')).toBeVisible();
    await nothingWrong();
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: /^Mobile: / }).click();
    await expect(page.getByLabel('Answer guard, in seconds')).toBeVisible();
    await nothingWrong();
  },
);

test(
  'the list: filtered by state and status, found by any form of a number, empty with a way out',
  { tag: '@both' },
  async ({ page, signIn }) => {
    await signIn();
    await goTo(page, '/people');
    const count = page.getByText(/ people$/).first();
    await page.getByRole('checkbox', { name: 'Lost' }).click();
    await expect(page.getByRole('link', { name: /Owen Baptiste/ })).toBeVisible();
    await expect(page.getByRole('link', { name: /Ines Okafor/ })).toHaveCount(0);
    await page.getByRole('checkbox', { name: 'Has left' }).click();
    await expect(count).toHaveText(/^1 of \d+ people$/);
    await page.getByLabel('Search people').fill('nobody of this name');
    await expect(page.getByText('Nobody fits')).toBeVisible();
    await page.getByRole('button', { name: 'Show everybody' }).click();
    await page.getByLabel('Search people').fill('(236) 555-0108');
    await expect(page.getByRole('link', { name: /Priya Raman/ })).toBeVisible();
    await expect(count).toHaveText(/^1 of /);
  },
);

test('a term is explained where it stands, and found by what others call it', async ({ page, signIn }) => {
  await signIn();
  await goTo(page, '/drills');
  await page.getByRole('button', { name: 'Explain: Drill' }).click();
  const sheet = page.getByRole('dialog', { name: 'Drill' });
  await expect(sheet.getByText(/^A try that was kept/)).toBeVisible();
  await sheet.getByRole('button', { name: 'Close' }).click();
  await goTo(page, '/people');
  await page.getByLabel('Search people').fill('twinning');
  await expect(page.getByText('It is a term, though: Single number reach.')).toBeVisible();
  await page.getByRole('button', { name: 'Show in the glossary' }).click();
  await expect(page.getByRole('heading', { level: 2, name: 'Single number reach' })).toBeVisible();
  await page.getByLabel('Search the terms').fill('no such thing');
  await expect(page.getByText('No such term')).toBeVisible();
});

test('Today counts everybody once, and leads to those who are lost', async ({ page, signIn }) => {
  await signIn();
  await goTo(page, '/today');
  const { people, counts } = (await (await page.request.get('/api/today')).json()) as {
    people: number;
    counts: Record<string, number>;
  };
  expect(Object.values(counts).reduce((a, b) => a + b, 0)).toBe(people);
  await page.getByRole('link', { name: /Owen Baptiste/ }).click();
  await expect(
    page.getByText(/the mobile carrier's voicemail of Owen's mobile took the call/).first(),
  ).toBeVisible();
});

test('when the server is gone, the page says so and can try again', async ({ page, signIn, context }) => {
  await signIn();
  await goTo(page, '/today');
  await context.route('**/api/people', (route) => route.abort());
  await page.getByRole('link', { name: 'People', exact: true }).click();
  await expect(page.getByText('The server cannot be reached.', { exact: false })).toBeVisible();
  await context.unroute('**/api/people');
  await page.getByRole('button', { name: 'Try again' }).click();
  await expect(page.getByRole('link', { name: /Ines Okafor/ })).toBeVisible();
});

test('text grows with the size that is set in the browser, and nothing gets wider than the screen', async ({
  page,
  signIn,
}) => {
  await signIn();
  await goTo(page, '/people/ines');
  const heading = page.getByRole('heading', { level: 1, name: 'Ines Okafor' });
  await expect(heading).toBeVisible();
  const size = () => heading.evaluate((node) => parseFloat(getComputedStyle(node).fontSize));
  const usual = await size();
  await page.evaluate(() => {
    document.documentElement.style.fontSize = '24px';
  });
  expect(await size()).toBeCloseTo(usual * 1.5, 1);
  expect(await page.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth)).toBe(true);
});

test('what moves stands still for whoever asks their device for less motion', async ({ page, signIn }) => {
  await signIn();
  await goTo(page, '/people/ines');
  await expect(page.getByRole('heading', { level: 1, name: 'Ines Okafor' })).toBeVisible();
  /** What takes longest to change its look, in s. */
  const longest = () =>
    page.evaluate(() =>
      Math.max(
        ...[...document.querySelectorAll('*')].flatMap((node) =>
          getComputedStyle(node)
            .transitionDuration.split(',')
            .map((text) => parseFloat(text)),
        ),
      ),
    );
  expect(await longest()).toBeLessThan(0.01);
  await page.emulateMedia({ reducedMotion: 'no-preference' });
  expect(await longest()).toBeGreaterThan(0.1);
  await page.getByRole('link', { name: 'Today', exact: true }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Today' })).toBeVisible();
});
