import type { Page } from '@playwright/test';
import type { Person } from '../core/estate';
import { expect, goTo, strip, test } from './server';

/** What other tests of the same server left behind would stand in the way: drills go, and slates of theirs. */
async function cleared(page: Page, url: string): Promise<void> {
  const headers = { Origin: url };
  const { drills } = (await (await page.request.get('/api/drills')).json()) as {
    drills: { drill: { id: string } }[];
  };
  for (const { drill } of drills) await page.request.delete(`/api/drills/${drill.id}`, { headers });
  const { slates } = (await (await page.request.get('/api/slates')).json()) as {
    slates: { id: number; state: string }[];
  };
  for (const { id, state } of slates)
    if (['work', 'timed', 'held'].includes(state))
      await page.request.delete(`/api/slates/${id}`, { headers });
}
const personNow = async (page: Page, id: string) =>
  ((await (await page.request.get(`/api/people/${id}`)).json()) as { person: Person }).person;
const bar = (page: Page) => page.getByRole('link', { name: /^Slate / });
const beginSlate = async (page: Page, name: string) => {
  const sheet = page.getByRole('dialog', { name: 'On which slate?' });
  await sheet.getByLabel('Name of a new slate').fill(name);
  await sheet.getByRole('button', { name: 'Begin this slate' }).click();
  await expect(sheet).toHaveCount(0);
};

test.beforeEach(async ({ page, signIn, live }) => {
  await signIn();
  await cleared(page, live.url);
});

test(
  'an edit goes onto a slate, its impact is seen on two strips, and it is put live as a whole',
  { tag: '@both' },
  async ({ page }, info) => {
    const [id, name] =
      info.project.name === 'phone' ? ['farah-quayle', 'Farah Quayle'] : ['edda-drummock', 'Edda Drummock'];
    await goTo(page, `/people/${id}`);
    await expect(page.getByRole('heading', { level: 1, name })).toBeVisible();
    await page.getByRole('switch', { name: 'Mobile rings' }).click();
    await page.getByRole('button', { name: 'To the slate' }).click();
    await beginSlate(page, `Less ringing ${info.project.name}`);
    await expect(bar(page)).toContainText('1 change, not live');
    await expect(page.getByText(/this has 1 setting changed/)).toBeVisible();
    await expect(strip(page)).toHaveAccessibleName(/Mobile: stops ringing/);
    await page.getByRole('button', { name: 'Go on with the slate’s' }).click();
    await expect(strip(page)).toHaveAccessibleName(/Mobile: left out: switched off/);
    await page.getByRole('button', { name: 'Discard' }).click();

    await bar(page).click();
    const difference = page.getByRole('button', {
      name: new RegExp(`${name}: a call that would be taken at the mobile now ends as voicemail for them`),
    });
    await difference.click();
    await expect(page.getByText('Live now', { exact: true })).toBeVisible();
    await expect(page.getByTestId('ring-strip')).toHaveCount(2);
    await page.getByRole('button', { name: 'Put live' }).click();
    await expect(page.getByText(/^Live since/)).toBeVisible();
    const after = await personNow(page, id);
    expect(JSON.stringify(after.plan)).toContain('"enabled":false');

    await page.getByRole('button', { name: 'What it changed, in the record' }).click();
    // On a wide screen an entry opens from its row in the table.
    if (info.project.name !== 'phone')
      await page.getByRole('row').filter({ hasText: name }).getByRole('button').click();
    await page.getByRole('button', { name: `Undo: ${name}` }).click();
    await expect(page.getByRole('heading', { level: 1, name: `Undo: ${name}` })).toBeVisible();
    await page.getByRole('button', { name: 'Put live' }).click();
    await expect(page.getByText(/^Live since/)).toBeVisible();
    expect(JSON.stringify((await personNow(page, id)).plan)).not.toContain('"enabled":false');
  },
);

test(
  'a try kept as a drill blocks a slate that breaks it, until it is overruled with a reason',
  { tag: '@wide' },
  async ({ page, live }, info) => {
    const [id, name] = ['hana-castellane', 'Hana Castellane'];
    await goTo(page, `/people/${id}/try`);
    await page.getByRole('button', { name: 'Keep as a drill' }).click();
    const sheet = page.getByRole('dialog', { name: 'Keep as a drill' });
    await sheet.getByLabel('Name of the drill').fill('The message stays');
    await sheet.getByRole('button', { name: 'Keep it' }).click();
    await expect(sheet.getByText(`Kept. It holds for ${name}.`)).toBeVisible();
    await sheet.getByRole('button', { name: 'Close' }).last().click();

    const base = await personNow(page, id);
    const ending = { kind: 'hang-up', message: 'closed' } as const;
    const made = await page.request.post('/api/slates', {
      data: { name: `Breaks ${info.project.name}` },
      headers: { Origin: live.url },
    });
    const { id: slate } = (await made.json()) as { id: number };
    await page.request.put(`/api/slates/${slate}/entries/person/${id}`, {
      data: { base, after: { ...base, plan: { rules: [], otherwise: { stages: [], ending } } } },
      headers: { Origin: live.url },
    });
    await goTo(page, `/slates/${slate}`);
    await expect(page.getByText('1 of the drills’ calls fail with this slate')).toBeVisible();
    await page.getByRole('button', { name: 'Put live' }).click();
    const fails = page.getByRole('dialog', { name: 'Drills fail' });
    await expect(fails.getByText(`The message stays · ${name}`)).toBeVisible();
    await expect(fails.getByRole('button', { name: 'Put live all the same' })).toBeDisabled();
    await fails.getByLabel('Why it may be put live all the same').fill('it is meant so');
    await fails.getByRole('button', { name: 'Put live all the same' }).click();
    await expect(page.getByText('Drills were overruled: it is meant so')).toBeVisible();

    await goTo(page, '/drills');
    await expect(page.getByText(`${name}, 0 hold, 1 fail`)).toBeVisible();
    await page.getByRole('button', { name: 'Remove The message stays' }).click();
    await expect(page.getByText('No drills yet')).toBeVisible();
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect(page.getByText(`${name}, 0 hold, 1 fail`)).toBeVisible();
  },
);

test(
  'a slate is set for a time, handed on, dropped and brought back',
  { tag: '@both' },
  async ({ page, live }, info) => {
    const name = `Monday ${info.project.name}`;
    const made = await page.request.post('/api/slates', { data: { name }, headers: { Origin: live.url } });
    const { id } = (await made.json()) as { id: number };
    const base = await personNow(page, 'priya');
    await page.request.put(`/api/slates/${id}/entries/person/priya`, {
      data: { base, after: { ...base, maxCalls: base.maxCalls + 1 } },
      headers: { Origin: live.url },
    });
    await goTo(page, `/slates/${id}`);
    await page.getByRole('button', { name: 'At a time' }).click();
    const sheet = page.getByRole('dialog', { name: 'Put live at a time' });
    await sheet.getByLabel('Date').fill('tomorrow');
    await expect(sheet.getByText('is no date and time, like 2026-11-30 and 06:00')).toBeVisible();
    await sheet.getByLabel('Date').fill('2099-03-08');
    await sheet.getByLabel('Time').fill('06:00');
    await sheet.getByRole('button', { name: /^Set for Sun 8 Mar, 06:00/ }).click();
    await expect(page.getByText(/^Goes live on Sun 8 Mar 2099, 06:00/)).toBeVisible();
    await page.getByRole('button', { name: 'Settings' }).click();
    await page.getByLabel('What it is for').fill('Asked for by the terminal');
    await page.getByRole('checkbox', { name: 'Other specialists may work on it too' }).click();
    await page.getByRole('button', { name: 'Keep' }).click();
    await expect(page.getByText('Asked for by the terminal')).toBeVisible();
    await page.getByRole('button', { name: 'Settings' }).click();
    await page.getByRole('button', { name: 'Drop this slate' }).click();
    await expect(page.getByRole('heading', { level: 1, name: 'Slates' })).toBeVisible();
    await page.getByRole('link', { name: new RegExp(`^${name}`) }).click();
    await page.getByRole('button', { name: 'Restore slate' }).click();
    await expect(page.getByText(/^Not live/)).toBeVisible();
  },
);

test('what was changed since is shown with both sides, and carried over', async ({ page, live }, info) => {
  const headers = { Origin: live.url };
  const made = await page.request.post('/api/slates', {
    data: { name: `Old ${info.project.name}` },
    headers,
  });
  const { id } = (await made.json()) as { id: number };
  const answer = (await (await page.request.get('/api/people/caspian-holmstrand')).json()) as {
    person: Person;
    version: number;
  };
  const { person, version } = answer;
  await page.request.put(`/api/slates/${id}/entries/person/${person.id}`, {
    data: { base: person, after: { ...person, maxCalls: person.maxCalls + 3 } },
    headers,
  });
  await page.request.put(`/api/people/${person.id}`, {
    data: {
      version,
      person: { ...person, permission: person.permission === 'coast' ? 'anywhere' : 'coast' },
    },
    headers,
  });
  await goTo(page, `/slates/${id}`);
  await expect(page.getByText(/1 of these was changed outside this slate since/)).toBeVisible();
  await expect(page.getByText('Live now:')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Put live' })).toBeDisabled();
  await page.getByRole('button', { name: /^Carry over/ }).click();
  await expect(page.getByText('Live now:')).toHaveCount(0);
  await page.getByRole('button', { name: 'Put live' }).click();
  await expect(page.getByText(/^Live since/)).toBeVisible();
  const after = await personNow(page, person.id);
  expect(after.maxCalls).toBe(person.maxCalls + 3);
  expect(after.permission).not.toBe(person.permission);
});

test('a work order is ticked off step by step', async ({ page, live }, info) => {
  const headers = { Origin: live.url };
  const made = await page.request.post('/api/slates', {
    data: { name: `Order ${info.project.name}` },
    headers,
  });
  const { id } = (await made.json()) as { id: number };
  const base = await personNow(page, 'wren-larkmoor');
  await page.request.put(`/api/slates/${id}/entries/person/wren-larkmoor`, {
    data: { base, after: { ...base, maxCalls: 4 } },
    headers,
  });
  await goTo(page, `/slates/${id}`);
  await page.getByRole('button', { name: 'Work order' }).click();
  await expect(page.getByText('0 of 2 steps done')).toBeVisible();
  await page.getByRole('checkbox', { name: /^calls at once: \d → 4/ }).click();
  await expect(page.getByText('1 of 2 steps done')).toBeVisible();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'PDF' }).click();
  expect((await download).suggestedFilename()).toBe('work-order.pdf');
});

test('what is taken off a slate can be put back', async ({ page, live }, info) => {
  const headers = { Origin: live.url };
  const made = await page.request.post('/api/slates', {
    data: { name: `Off ${info.project.name}` },
    headers,
  });
  const { id } = (await made.json()) as { id: number };
  const base = await personNow(page, 'lena');
  await page.request.put(`/api/slates/${id}/entries/person/lena`, {
    data: { base, after: { ...base, maxCalls: 9 } },
    headers,
  });
  await goTo(page, `/slates/${id}`);
  await page.getByRole('button', { name: `Take ${base.name} off the slate` }).click();
  await expect(page.getByText('Nothing is on this slate yet')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText(/calls at once: \d → 9/)).toBeVisible();
});

test('a permission goes onto a slate from its sheet, and is live only with it', async ({ page }, info) => {
  await goTo(page, '/routes/dialling');
  await page
    .getByRole('button', { name: /^Inside only/ })
    .or(page.getByRole('link', { name: /^Inside only/ }))
    .first()
    .click();
  const sheet = page.getByRole('dialog', { name: 'Inside only' });
  await sheet.getByRole('checkbox', { name: 'toll-free numbers' }).click();
  await sheet.getByRole('button', { name: 'To the slate' }).click();
  await beginSlate(page, `Inside ${info.project.name}`);
  await expect(bar(page)).toContainText('1 change');
  await bar(page).click();
  await expect(page.getByText('Inside only').first()).toBeVisible();
  await page.getByRole('button', { name: 'Settings' }).click();
  await page.getByRole('button', { name: 'Drop this slate' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Slates' })).toBeVisible();
});

test(
  'the route table goes onto a slate, and is gone on with from there',
  { tag: '@wide' },
  async ({ page }, info) => {
    await goTo(page, '/routes/table');
    await expect(page.getByRole('heading', { level: 1, name: 'Route table' })).toBeVisible();
    await page
      .getByRole('button', { name: /^Abroad into E.164: earlier$|^Abroad into E\.164.*earlier/ })
      .first()
      .click();
    await page.getByRole('button', { name: 'To the slate' }).click();
    await beginSlate(page, `Routes ${info.project.name}`);
    await expect(page.getByText(/On the slate “Routes .*this has 1 setting changed/)).toBeVisible();
    await page.getByRole('button', { name: 'Go on with the slate’s' }).click();
    await expect(page.getByRole('button', { name: 'Put live' })).toBeVisible();
    await page.getByRole('button', { name: 'Discard' }).click();
    await bar(page).click();
    await expect(page.getByText(/order: .*→/)).toBeVisible();
  },
);
