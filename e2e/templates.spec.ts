import { expect, goTo, isPhone, strip, test } from './server';

test.beforeEach(({ signIn }) => signIn());

test('who differs from a template is shown, brought back with all the rest, and that taken back', async ({
  page,
}) => {
  // The two sizes share one estate: one takes back what the other may look at.
  await goTo(page, '/people');
  await page.getByRole('button', { name: 'Templates' }).click();
  await expect(page.getByText('2 differ')).toBeVisible();
  await page.getByText('Deck crew', { exact: true }).click();
  await expect(page.getByText('22, of whom 2 differ from it.')).toBeVisible();
  await page.getByRole('button', { name: 'Start people from it' }).first().click();
  await expect(page.getByRole('checkbox', { name: 'Hana Abara, 4220' })).toBeChecked();
  await page.getByRole('button', { name: 'Look at what changes for 2 people' }).click();
  await expect(page.getByText('2 people would change; nobody would be harder to reach now.')).toBeVisible();
  await page.getByRole('button', { name: 'Put live for 2 people' }).click();
  await expect(page.getByText('Live now for 2 people.')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('Undone: 2 people as before.')).toBeVisible();
  await page.getByRole('button', { name: 'Done' }).click();
  await expect(page.getByText('22, of whom 2 differ from it.')).toBeVisible();
  await goTo(page, '/record');
  await expect(
    page.getByText(/put live the slate Undo: Template Deck crew for 2 people, 2 changes/),
  ).toBeVisible();
});

test(
  'a template is edited like a plan, and the strip of one who follows it shows it at once',
  { tag: '@both' },
  async ({ page }) => {
    await goTo(page, '/templates/engine-crew');
    await page.getByRole('radio', { name: 'On shift' }).click();
    await expect(strip(page)).toHaveAccessibleName(/Softphone|softphone/);
    await page.getByRole('button', { name: 'Default rule. Change' }).click();
    const stage = page.getByRole('group', { name: 'Step 1' });
    await stage.getByLabel('For, in seconds').fill('9');
    if (isPhone(page)) await page.getByRole('button', { name: 'Done' }).click();
    await expect(page.getByText(/together for 9 s/)).toBeVisible();
    await expect(page.getByText(/Nobody answers: Voicemail for .* after 9 s/)).toBeVisible();
    await page.getByRole('button', { name: 'Discard' }).click();
    await expect(page.getByText(/together for 9 s/)).toBeHidden();
  },
);

test('a person is started from a template: what they have no phone for is said, and it can be taken back', async ({
  page,
}) => {
  await goTo(page, '/people/mateo');
  await page.getByRole('button', { name: 'Template or colleague' }).click();
  await page.getByRole('button', { name: /^Deck crew/ }).click();
  await expect(page.getByText(/Has no softphone on a mobile: left out of “At sea/)).toBeVisible();
  await page.getByRole('button', { name: 'Done' }).last().click();
  await expect(page.getByText('Follows the template “Deck crew” to the letter.')).toBeVisible();
  await page.reload();
  await expect(page.getByText('Follows the template “Deck crew” to the letter.')).toBeVisible();
  await page.getByRole('button', { name: 'Undo last change' }).click();
  await expect(page.getByText('Follows no template.')).toBeVisible();
});

test('a plan is saved as a template, followed by the person, and let go again', async ({ page }, info) => {
  const name = `Like Priya, ${info.project.name}`;
  await goTo(page, '/people/priya');
  await page.getByRole('button', { name: 'Template or colleague' }).click();
  await page.getByRole('button', { name: 'Save this plan as a template' }).click();
  await page.getByLabel('Name of the template').fill(name);
  await page.getByRole('button', { name: 'Save the template' }).click();
  await expect(page.getByText(`Follows the template “${name}” to the letter.`)).toBeVisible();
  await page.getByRole('button', { name: 'Discard' }).click();
  await goTo(page, '/templates');
  await page.getByText(name).click();
  await page.getByRole('button', { name: 'Remove this template' }).click();
  await page.getByRole('button', { name: 'Remove it' }).click();
  await expect(page.getByRole('heading', { name: 'Templates' })).toBeVisible();
  await expect(page.getByText(name)).toBeHidden();
});

test(
  'a plan as a call script, and one read in with what could not be carried over',
  { tag: '@wide' },
  async ({ page }) => {
    await goTo(page, '/people/noor');
    await page.getByRole('button', { name: 'Call script' }).click();
    await expect(page.getByText(/<cpl xmlns="urn:ietf:params:xml:ns:cpl">/)).toBeVisible();
    const saved = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Save the script' }).click();
    expect((await saved).suggestedFilename()).toBe('noor.cpl.xml');
    await page.getByRole('radio', { name: 'A script as the plan' }).click();
    const field = page.getByLabel('Or paste the script');
    await field.fill('<cpl>\n<!DOCTYPE x>');
    await page.getByRole('button', { name: 'Read it' }).click();
    await expect(page.getByText(/^line 2: /)).toBeVisible();
    await field.fill(
      '<cpl><incoming><log name="x"><location url="sip:4103@phones.invalid"><proxy/></location></log></incoming></cpl>',
    );
    await page.getByRole('button', { name: 'Read it' }).click();
    await expect(page.getByText(/Line 1: <log> is left out/)).toBeVisible();
    await page.getByRole('button', { name: 'Take it as the plan' }).click();
    await expect(strip(page)).toHaveAccessibleName(/Ruth/);
    await page.getByRole('button', { name: 'Discard' }).click();
  },
);

test(
  'a colleague’s phone and plan are drawn beside each other, and the agreement is recorded',
  { tag: '@wide' },
  async ({ page }) => {
    await goTo(page, '/people/mateo');
    await page.getByRole('button', { name: /^(Default rule|For every call)\. Change/ }).click();
    await page.getByRole('button', { name: 'Add a phone' }).first().click();
    await page.getByLabel('Or a colleague’s phone').fill('ruth');
    await page.getByRole('button', { name: /Ruth Adeyemi/ }).click();
    await expect(page.getByText('Ruth’s phone, as a part of this plan')).toBeVisible();
    await expect(page.getByText(/Nobody answers: Voicemail for Mateo/).first()).toBeVisible();
    await expect(page.getByText(/Nobody answers: Voicemail for Ruth/).first()).toBeVisible();
    await page.getByRole('button', { name: /^Ruth’s Bookings desk/i }).click();
    await expect(page.getByText('Whether they have agreed is not recorded')).toBeVisible();
    await page.getByRole('group', { name: 'Step 1' }).getByRole('button', { name: 'Edit' }).last().click();
    await page.getByRole('switch', { name: 'Ruth Adeyemi has agreed' }).click();
    await expect(page.getByText(/^On \d{4}-\d\d-\d\d, as recorded here/)).toBeVisible();
  },
);

test(
  'times and codes of the organisation are changed, refused where they cannot be, and hold in a try',
  { tag: '@wide' },
  async ({ page }) => {
    await goTo(page, '/routes');
    await page.getByRole('button', { name: 'Change times and codes' }).click();
    await page.getByLabel('Keys that send the call to the desk').fill('*2');
    await page.getByRole('button', { name: 'Put live' }).click();
    await expect(page.getByText(/none begins with the other/).first()).toBeVisible();
    await page.getByLabel('Keys that send the call to the desk').fill('*7');
    await page.getByRole('button', { name: 'Put live' }).click();
    await expect(page.getByText(/At a mobile \*7 sends it to the desk/)).toBeVisible();
  },
);

test(
  'two at one group: the second sees both versions and goes on with theirs',
  { tag: '@wide' },
  async ({ page }) => {
    await goTo(page, '/groups/bookings');
    await page.getByRole('radio', { name: 'In turn, after the last' }).click();
    const { version, object } = (await (await page.request.get('/api/objects/group/bookings')).json()) as {
      version: number;
      object: object;
    };
    const put = await page.request.put('/api/objects/group/bookings', {
      data: { version, object: { ...object, ringMs: 17_000 } },
      headers: { Origin: new URL(page.url()).origin },
    });
    expect(put.ok()).toBe(true);
    await page.getByRole('button', { name: 'Put live' }).click();
    await expect(page.getByText('Changed by somebody else too')).toBeVisible();
    await expect(page.getByText('Theirs: 17 s')).toBeVisible();
    await page.getByRole('button', { name: 'Take theirs' }).click();
    await expect(page.getByLabel('Each rings for, in seconds')).toHaveValue('17');
  },
);

test('a template of a usual kind is added: shared desk or mobile', async ({ page, signIn }) => {
  await signIn();
  await goTo(page, '/templates');
  await page.getByRole('button', { name: 'Add a template' }).click();
  const sheet = page.getByRole('dialog');
  await expect(sheet.getByLabel('Name', { exact: true })).toHaveValue('Shared desk or mobile');
  await sheet.getByRole('radio', { name: 'Desk phone, then mobile' }).click();
  await expect(sheet.getByLabel('Name', { exact: true })).toHaveValue('Desk phone, then mobile');
  await sheet.getByRole('radio', { name: 'Shared desk or mobile' }).click();
  await sheet.getByLabel('Name', { exact: true }).fill('Hall or pocket');
  await sheet.getByRole('button', { name: 'Add the template' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Hall or pocket' })).toBeVisible();
  await goTo(page, '/templates');
  await expect(page.getByRole('link', { name: /^Hall or pocket/ })).toBeVisible();
});
