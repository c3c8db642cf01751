import type { Page } from '@playwright/test';
import { expect, goTo } from '../server';
import type { handsOn } from './hands';

/** Opens a person's page, and waits for it. */
export const openPerson = async (page: Page, id: string, name: string) => {
  await goTo(page, `/people/${id}`);
  await expect(page.getByRole('heading', { level: 1, name })).toBeVisible();
};
/** A part of a person's page, in the row that stays in view. */
export const part = (page: Page, name: string) =>
  page.getByRole('navigation', { name: /^Parts of/ }).getByRole('button', { name, exact: true });
export const region = (page: Page) => page.getByRole('region', { name: 'Changes not live' });

/** Puts live, also where something gets worse and that is asked. */
export async function putLive(page: Page, hands: ReturnType<typeof handsOn>): Promise<void> {
  await hands.tap(region(page).getByRole('button', { name: 'Put live' }));
  const sure = page.getByRole('button', { name: 'Put live all the same' });
  const live = page.getByText('Live now.');
  await expect(sure.or(live).first()).toBeVisible();
  if (await sure.isVisible()) await hands.tap(sure);
  await expect(live).toBeVisible();
}
