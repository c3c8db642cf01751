import { expect, goTo, test } from './server';

test('a phone at home that stops ringing is found, seen to die, set to what works there, and rings', async ({
  page,
  signIn,
}) => {
  await signIn();
  await goTo(page, '/phones');
  await page.getByRole('link', { name: 'Networks' }).click();
  await page.getByRole('link', { name: /^Priya’s home/ }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Network of Priya’s home' })).toBeVisible();
  await page.getByRole('radio', { name: 'Priya Raman, Office phone' }).click();
  const rings = page.getByRole('button', { name: /^Rings after any silence/ });
  await expect(rings).toHaveAccessibleName(/: no\. After 30 s it does not ring: behind Home router no phone/);
  await expect(page.getByText(/^INVITE at Home router: here it ends/)).toBeVisible();
  await page.getByRole('button', { name: 'Step back' }).click();
  await expect(page.getByText(/^INVITE at Border controller/)).toBeVisible();

  await page.getByRole('link', { name: /^How this phone gets out/ }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Priya Raman, Office phone' })).toBeVisible();
  const keepAlive = page.getByLabel('Keep-alive every so many seconds');
  await keepAlive.fill('none');
  await expect(page.getByText('Whole seconds, 1 or more')).toBeVisible();
  await keepAlive.fill('20');
  await expect(page.getByRole('button', { name: /^Rings after any silence/ })).toHaveAccessibleName(
    /: yes\./,
  );
  await page.getByRole('button', { name: 'Put live' }).click();
  await expect(page.getByRole('button', { name: 'Put live' })).toBeHidden();
  await page.reload();
  await expect(page.getByLabel('Keep-alive every so many seconds')).toHaveValue('20');
  await expect(page.getByRole('button', { name: /^Rings after any silence/ })).toHaveAccessibleName(
    /: yes\./,
  );
});

test('a network is begun from a plain kind, changed, and what comes of it is seen at once', async ({
  page,
  signIn,
}) => {
  await signIn();
  await goTo(page, '/networks/yard');
  await page.getByRole('button', { name: 'Mobile network, two NATs' }).click();
  await expect(page.getByText('Does it work from there?')).toBeVisible();
  await expect(page.getByRole('button', { name: /^Rings after any silence: no/ })).toBeVisible();
  await page.getByRole('button', { name: 'Remove Provider NAT' }).click();
  await page.getByLabel('Blocked outward').fill('udp, tco');
  await expect(page.getByText('“tco” is none: udp, tcp, udp:5060 or udp:10000-20000')).toBeVisible();
  await page.getByLabel('Blocked outward').fill('udp');
  await expect(page.getByRole('button', { name: /^Registers: no\. Hotspot blocks it/ })).toBeVisible();
  await page.getByRole('button', { name: 'Put live' }).click();
  await expect(page.getByRole('button', { name: 'Put live' })).toBeHidden();
  await goTo(page, '/networks');
  await expect(page.getByRole('link', { name: /^The yard.*Hotspot blocks it/ })).toBeVisible();
  // Its phones stand behind that router now, and their own pages say what it does to them.
  await goTo(page, '/phones/ines-desk');
  await expect(page.getByText(/REGISTER was lost on its way/)).toBeVisible({ timeout: 20_000 });
  await expect(page.getByText(/lost: Hotspot blocks it$/)).toBeVisible();
  await page.getByRole('link', { name: 'What works in this network' }).click();
  await page.getByRole('button', { name: 'Remove Hotspot' }).click();
  await page.getByRole('button', { name: 'Put live' }).click();
  await expect(page.getByRole('button', { name: 'Put live' })).toBeHidden();
  await goTo(page, '/phones/ines-desk');
  await expect(page.getByText(/^UDP from 127\.0\./)).toBeVisible({ timeout: 20_000 });
});

test('a measured line is typed in, and it is said whether to ring the app or the mobile number', async ({
  page,
  signIn,
}) => {
  await signIn();
  await goTo(page, '/networks/home-priya');
  await page.getByRole('button', { name: 'How a call over a measured line sounds' }).click();
  await expect(page.getByText(/^MOS 4\.\d\d, R \d\d$/)).toBeVisible();
  await expect(page.getByText(/ring the app first/)).toBeVisible();
  await page.getByLabel('Loss, %').fill('12');
  await expect(page.getByText(/ring the mobile number instead/)).toBeVisible();
  await page.getByLabel('Loss, %').fill('much');
  await expect(page.getByText('A number from 0 to 100')).toBeVisible();
  await page.getByRole('radio', { name: 'Jitter' }).click();
  await expect(page.getByRole('img', { name: /^MOS over jitter: 0 ms/ })).toBeVisible();
});

test('a server is added and moved into an office', async ({ page, signIn }) => {
  await signIn();
  await goTo(page, '/networks');
  await page.getByRole('button', { name: 'Add a server' }).click();
  await page.getByRole('button', { name: 'VPN server' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'VPN server' })).toBeVisible();
  await page.getByRole('radio', { name: 'Harbour terminal, behind Terminal router' }).click();
  await page.getByLabel('Address', { exact: true }).fill('10.0.0.20');
  await page.getByLabel('Public address', { exact: true }).fill('198.51.100.2');
  await page.getByRole('button', { name: 'Put live' }).click();
  await expect(page.getByRole('button', { name: 'Put live' })).toBeHidden();
  await goTo(page, '/networks');
  await expect(page.getByRole('link', { name: 'VPN server 198.51.100.2' })).toBeVisible();
});

test('a branch relay: its steps, drills of its stop, and its phones moved back by the slate', async ({
  page,
  signIn,
}) => {
  await signIn();
  await goTo(page, '/sites/north-landing');
  await expect(page.getByText('2 phones get out by it.')).toBeVisible();
  await expect(page.getByText('Gita Yarrow', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Keep it as drills' }).click();
  await expect(page.getByText(/^One drill is kept/)).toBeVisible();
  await page.getByRole('button', { name: 'Move 2 phones back' }).click();
  await page.getByLabel('Name of a new slate').fill('Without the relay');
  await page.getByRole('button', { name: 'Begin this slate' }).click();
  await page.getByRole('link', { name: 'On the slate now. Open the slate' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Without the relay' })).toBeVisible();
  await goTo(page, '/drills');
  await expect(page.getByText('Gita Yarrow when the relay of North Landing stops')).toBeVisible();
});

test('a phone at home is tried with real packets, and what was tried counts until something is changed', async ({
  page,
  signIn,
}) => {
  await signIn();
  await goTo(page, '/networks/home-ruth');
  await page.getByRole('button', { name: 'Try it with real packets' }).click();
  await expect(page.getByText('Tried: all 10 answers are as computed.')).toBeVisible({ timeout: 60_000 });
  await page.getByRole('button', { name: 'What was tried' }).click();
  await expect(page.getByText('Registers: yes')).toBeVisible();
  await expect(page.getByText('Rings at once: no')).toBeVisible();
  await expect(page.getByText(/→ 203\.0\.113\.7:65000, lost: behind Home router/).first()).toBeVisible();
  await goTo(page, '/networks/north-landing');
  await expect(
    page.getByText(/^Not tried with real packets\. A branch relay is computed only/),
  ).toBeVisible();
});
