import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, goTo, isPhone, strip, test } from './server';

/** The main job, from a staff list to a call that rings desk and mobile together, and still there after a restart. */
test(
  'import, ring the mobile too, try a call, restart, still there',
  { tag: '@both' },
  async ({ page, signIn, live }, info) => {
    // Each project and each try brings people of its own: the database is the same.
    const digit = (info.project.name === 'phone' ? ['3', '7'] : ['4', '8'])[info.retry] ?? '9';
    const name = `Odile ${info.project.name} ${digit}`;
    const list = readFileSync(join(__dirname, '../demo/new-crew.csv'), 'utf8')
      .replaceAll(/;423(\d);/g, `;42${digit}$1;`)
      .replaceAll('250-555-0191', `250 555 019${digit}`)
      .replaceAll('+1 250 555 0192', '')
      .replaceAll('Odile Brackwater', name);
    await signIn();
    await goTo(page, '/people');
    await page.getByRole('button', { name: 'Import staff' }).click();
    const chooser = page.waitForEvent('filechooser');
    await page.getByRole('button', { name: 'Choose a file' }).click();
    await (await chooser).setFiles({ name: 'crew.csv', mimeType: 'text/csv', buffer: Buffer.from(list) });

    await expect(page.getByRole('heading', { name: 'What becomes of the rows' })).toBeVisible();
    await expect(page.getByText(/stands in line 2 already/)).toBeVisible();
    await page.getByRole('radio', { name: /created/ }).click();
    await expect(page.getByText(name)).toBeVisible();
    await page.getByRole('button', { name: /^Write \d people/ }).click();
    await page.getByRole('button', { name: 'Show People' }).click();

    await page.getByLabel('Search people').fill(`42${digit}0`);
    await page.getByRole('link', { name }).click();
    await expect(page.getByRole('heading', { level: 1, name })).toBeVisible();
    await expect(strip(page)).toHaveAccessibleName(
      /Desk phone: rings 24.8 s; Mobile: left out: switched off in the plan/,
    );
    await page.getByRole('switch', { name: 'Mobile rings' }).click();
    await expect(strip(page)).toHaveAccessibleName(
      /Mobile: stops ringing at 22 s.*Voicemail for Odile after 25 s/,
    );
    await expect(
      page
        .getByText(
          'Rings the desk phone and the mobile together for 25 s. Nobody answers: voicemail for Odile.',
        )
        .first(),
    ).toBeVisible();
    await page.getByRole('button', { name: 'Put live' }).click();
    await expect(page.getByText('Live now.')).toBeVisible();

    await page.getByRole('button', { name: 'Try a call' }).click();
    await page
      .getByRole('radiogroup', { name: 'What Mobile does' })
      .getByRole('radio', { name: 'Answers', exact: true })
      .click();
    await page.getByRole('button', { name: 'Ring now' }).click();
    await expect(page.getByText("Answered at Odile's mobile after 9.2 s.").first()).toBeVisible();

    await live.restart();
    await page.goto('/people');
    await page.getByLabel('Search people').fill(`9 1 778 555 0181`);
    await page.getByRole('link', { name }).first().click();
    // What was tried last is still the moment in view, and its call goes as it went.
    await expect(strip(page)).toHaveAccessibleName(/Mobile: connected at 9\.2 s/);
    if (!isPhone(page))
      await expect(page.getByRole('link', { name }).first()).toHaveAttribute('aria-current', 'page');
  },
);
