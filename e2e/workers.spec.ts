// Workers that cannot be loaded: whoever waits is told, and the same works once they are there.
import type { Page } from '@playwright/test';
import { expect, expectAccessible, openCopy, test } from './lodestone.ts';

/** Keeps a worker from being loaded. @returns what lets it be loaded again */
async function withhold(page: Page, worker: string): Promise<() => Promise<void>> {
  const pattern = new RegExp(`/workers/${worker}\\.worker-`);
  await page.route(pattern, (route) => route.abort());
  return () => page.unroute(pattern);
}

const failed = (page: Page) => page.locator('[data-failed]');
const again = (page: Page) => page.getByRole('button', { name: 'Try again' });
const NOT_LOADED = 'could not be loaded';

test('the finder tells that it could not be loaded, and finds at the second try', async ({ page }) => {
  const restore = await withhold(page, 'finder');
  await openCopy(page);
  await page.keyboard.press('f');
  await expect(failed(page)).toContainText(NOT_LOADED);
  await expectAccessible(page, 'a finder that could not be loaded');
  await restore();
  await again(page).click();
  await expect(page.getByRole('listbox', { name: 'Stacks' }).getByRole('option').first()).toBeVisible();
  await expect(failed(page)).toHaveCount(0);
});

test('draws and light tell it on Check', async ({ page }) => {
  const draws = await withhold(page, 'doubt');
  const light = await withhold(page, 'light');
  await openCopy(page, 'Long Tom', 'check');
  await expect(page.getByText('The light map was not made.')).toBeVisible();
  await light();
  await again(page).first().click();
  await expect(page.locator('[data-light-map=there]')).toBeVisible();
  await page.getByRole('button', { name: 'length', exact: true }).click();
  await expect(failed(page)).toContainText(NOT_LOADED);
  await draws();
  await failed(page).getByRole('button', { name: 'Try again' }).click();
  await expect(page.locator('[data-draws]')).toContainText('million draws');
});

test('a frame whose reader died is read at the second try', async ({ page }) => {
  const frame = await withhold(page, 'frame');
  const camera = await withhold(page, 'experiment');
  await openCopy(page, 'Long Tom', 'tune');
  await page.locator('[data-list=frames]').click();
  await page.locator('[data-simulate]').click();
  const shown = page.locator('[data-frame-state=failed]');
  await expect(shown).toContainText(NOT_LOADED);
  await camera();
  await again(page).click();
  await expect(shown).toContainText(NOT_LOADED);
  await frame();
  await again(page).click();
  await expect(page.locator('[data-frame][data-state=read]')).toBeVisible({ timeout: 60_000 });
});
