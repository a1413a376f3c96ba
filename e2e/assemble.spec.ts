// The Assemble stage: one step after the other, with readings that count, on a phone and after a reload.
import { expect, expectAccessible, openCopy, otherBrowser, stored, test } from './lodestone.ts';
import type { Page } from '@playwright/test';

const toAssemble = async (page: Page) => {
  const copy = await openCopy(page, 'Long Tom');
  await page.goto(`/trains/${copy.id}/assemble`);
  await expect(page.locator('[data-step]')).toBeVisible();
  return copy;
};
const step = (page: Page) => page.locator('[data-step]');
const done = (page: Page) => page.locator('[data-done]');

test('a train is put together step by step, with readings, a reload and a second browser in between', async ({
  page
}) => {
  await page.setViewportSize({ width: 390, height: 844 });
  const { id } = await toAssemble(page);
  await expect(step(page)).toContainText('Put the filters into Harnwick five-slot wheel: 1 Luminance, 2 Red');
  await done(page).click();
  await expect(step(page)).toContainText('Screw Harnwick five-slot wheel and Harnwick mono');
  await expect(page.getByRole('list', { name: 'Cautions' })).toContainText('The sensor is open');
  // A reading counts at once.
  const reading = page.locator('[data-measure] input');
  await reading.fill('20.6');
  await reading.press('Enter');
  await expect(page.locator('[data-verdict]')).toContainText('0.03 mm long');
  await done(page).click();
  await expect(step(page)).toContainText('Fenlark large off-axis guider');
  // Read in inches: asked about before it counts.
  await reading.fill('1.543');
  await reading.press('Enter');
  await expect(page.locator('[data-doubted]')).toContainText('It does not count yet');
  await expect(page.locator('[data-verdict]')).toContainText('0.03 mm long');
  await page.getByRole('button', { name: '39.19 mm was meant' }).click();
  await expect(page.locator('[data-doubted]')).toHaveCount(0);
  await expect(page.locator('[data-measure]')).toContainText('was read as 39.19 mm');
  await page.reload();
  await expect(page.getByRole('heading', { name: '2 of 7 done' })).toBeVisible();
  await expect(step(page)).toContainText('Fenlark large off-axis guider');
  const other = await otherBrowser(page);
  await other.goto(`/trains/${id}/assemble`);
  await done(other).click();
  await expect(page.getByRole('heading', { name: '3 of 7 done' })).toBeVisible();
  // Without the network it goes on, and finds its way later.
  await page.context().setOffline(true);
  await done(page).click();
  await expect(page.getByRole('heading', { name: '4 of 7 done' })).toBeVisible();
  await page.context().setOffline(false);
  await expect
    .poll(async () => ((await stored(page, id)).document as { assembly?: { done?: string[] } }).assembly?.done)
    .toEqual(['fill wheel', 'camera', 'wheel', 'guider']);
  for (let rest = 0; rest < 3; rest++) await done(page).click();
  await expect(page.getByText('Everything is put together.')).toBeVisible();
  const overflow = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
  expect(overflow).toBeLessThanOrEqual(0);
});

test('steps are walked by keys, done and undone, from either end', async ({ page }) => {
  await toAssemble(page);
  await page.keyboard.press('x');
  await expect(page.getByRole('heading', { name: '1 of 7 done' })).toBeVisible();
  await page.keyboard.press('q');
  await expect(done(page)).toContainText('Not done after all');
  await page.keyboard.press('x');
  await expect(page.getByRole('heading', { name: '0 of 7 done' })).toBeVisible();
  await page.keyboard.press('j');
  await expect(page.locator('#rail-joint-camera')).toHaveAttribute('aria-selected', 'true');
  await page.getByRole('button', { name: 'from the telescope' }).click();
  await expect(page.locator('[data-steps] button').first()).toContainText('Quillfeather 203 two-mirror');
  await page.keyboard.press('Control+z');
  await expect(page.locator('[data-steps] button').first()).toContainText('Put the filters');
});

for (const theme of ['dusk', 'daylight', 'night']) {
  test(`Assemble is readable in the ${theme} theme`, async ({ page, context, baseURL }) => {
    await context.addCookies([{ name: 'lodestone-theme', value: theme, url: baseURL! }]);
    await toAssemble(page);
    await page.keyboard.press('x');
    await expectAccessible(page, 'Assemble');
  });
}
