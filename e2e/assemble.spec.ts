// The Assemble stage: one step after the other, with readings that count, on a phone and after a reload.
import { expect, openCopy, otherBrowser, stored, test, expectAccessibleInAllThemes } from './lodestone.ts';
import type { Page } from '@playwright/test';
import { randomUUID } from 'node:crypto';
import { PNG } from 'pngjs';

const toAssemble = async (page: Page) => {
  const copy = await openCopy(page, 'Long Tom', 'assemble');
  await expect(page.locator('[data-step]')).toBeVisible();
  return copy;
};
const step = (page: Page) => page.locator('[data-step]');
const done = (page: Page) => page.locator('[data-done]');

test('a train is put together step by step, with readings, a reload and a second browser in between', async ({
  page,
  context,
  baseURL
}) => {
  await context.addCookies([{ name: 'lodestone-theme', value: 'night', url: baseURL! }]);
  await page.setViewportSize({ width: 390, height: 844 });
  const { id } = await toAssemble(page);
  await expect(step(page)).toContainText('Open Harnwick five-slot wheel: undo 6 × M2.5');
  await done(page).click();
  await expect(step(page)).toContainText('Put the filters into Harnwick five-slot wheel: 1 Luminance, 2 Red');
  // Slot by slot, and what is ticked is there after a reload.
  await page.getByRole('checkbox', { name: '1 Luminance' }).check();
  await expect(page.locator('[data-save-state="saved"]')).toBeVisible();
  await page.reload();
  await expect(page.getByRole('checkbox', { name: '1 Luminance' })).toBeChecked();
  await expect(page.getByRole('checkbox', { name: '2 Red' })).not.toBeChecked();
  await done(page).click();
  await expect(step(page)).toContainText('Close Harnwick five-slot wheel');
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
  await expect(page.getByRole('heading', { name: '4 of 11 done' })).toBeVisible();
  await expect(step(page)).toContainText('Fenlark large off-axis guider');
  const other = await otherBrowser(page);
  await other.goto(`/trains/${id}/assemble`);
  await done(other).click();
  await expect(page.getByRole('heading', { name: '5 of 11 done' })).toBeVisible();
  // Without the network it goes on, and finds its way later.
  await page.context().setOffline(true);
  await done(page).click();
  await expect(page.getByRole('heading', { name: '6 of 11 done' })).toBeVisible();
  await page.context().setOffline(false);
  await expect
    .poll(async () => {
      const { assembly } = (await stored(page, id)).document as {
        assembly?: { steps?: Record<string, unknown>; seconds?: Record<string, number> };
      };
      // How long each was in hand is kept beside.
      const steps = Object.keys(assembly?.steps ?? {}).filter((key) => !key.includes(' slot '));
      expect(Object.keys(assembly?.seconds ?? {}).sort()).toEqual(steps.sort());
      return steps.sort();
    })
    .toEqual(['camera', 'close wheel', 'fill wheel', 'guider', 'open wheel', 'wheel']);
  for (let rest = 0; rest < 5; rest++) await done(page).click();
  await expect(page.getByText('Everything is put together.')).toBeVisible();
  const overflow = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
  expect(overflow).toBeLessThanOrEqual(0);
});

/** A train that is 0.6 mm short, all of whose joints take shims of the demo drawer; M48×0.75. */
const shortTrain = () => {
  const male = { thread: 'M48x0.75', gender: 'male', lengthMm: 4 };
  const female = { thread: 'M48x0.75', gender: 'female', lengthMm: 5 };
  return {
    lodestone: 'train/1',
    name: `Short by shims ${randomUUID().slice(0, 8)}`,
    host: { name: 'A refractor', kind: 'refractor', apertureMm: 80, focalLengthMm: 480, camera: female },
    elements: [
      {
        id: 'flattener',
        kind: 'corrector',
        name: 'Flattener',
        lengthMm: 40,
        sky: male,
        camera: male,
        corrector: { backFocusMm: 55, toleranceMm: 0.1, flattensField: true }
      },
      { id: 'ring', kind: 'spacer', name: 'Ring', lengthMm: 36.9, toleranceMm: 0.02, sky: female, camera: male },
      {
        id: 'camera',
        kind: 'camera',
        name: 'Camera',
        lengthMm: 17.5,
        toleranceMm: 0.02,
        sky: { ...female, lengthMm: undefined }
      }
    ]
  };
};

test('before the last joint the sheet says which shims of the drawer land the sensor, and a thread is asked for', async ({
  page
}) => {
  const made = await page.request.post('/api/trains', { data: { saveId: randomUUID(), document: shortTrain() } });
  const { id } = (await made.json()) as { id: string };
  await page.goto(`/trains/${id}/assemble`);
  // The depth of the camera's thread is not known, and cannot be measured afterwards.
  const asked = page.locator('[data-ask]');
  await expect(asked).toContainText('Depth of the thread on the sky side of Camera');
  await asked.locator('input').fill('5');
  await asked.locator('input').press('Enter');
  await expect(asked).toHaveCount(0);
  await done(page).click();
  await expect(step(page)).toContainText('Flattener');
  const landing = page.locator('[data-landing]');
  await expect(landing).toContainText('S-03 (0.50 mm, Tin 3 / Shims) and S-01 (0.10 mm, Tin 3 / Shims)');
  await landing.getByRole('button', { name: 'Fit it' }).first().click();
  await expect(page.locator('[data-verdict]')).toContainText('Within tolerance');
  await expect(step(page)).toContainText('with Shim 0.5');
  // Undone, it is as it was; done again, the joint that was closed before stays closed.
  await page.keyboard.press('Control+z');
  await expect(page.locator('[data-verdict]')).toContainText('0.60 mm short');
  await expect(page.getByRole('heading', { name: '1 of 3 done' })).toBeVisible();
});

test('a joint that was changed since is to be closed again, and only that', async ({ page }) => {
  const { id } = await toAssemble(page);
  for (let each = 0; each < 5; each++) await done(page).click();
  await expect(page.getByRole('heading', { name: '5 of 11 done' })).toBeVisible();
  await expect(page.locator('[data-save-state="saved"]')).toBeVisible();
  const { revision, document } = await stored(page, id);
  const elements = document.elements.map((element) =>
    element.id === 'wheel' ? { ...element, seat: { shimsMm: [0.1] } } : element
  );
  const saved = await page.request.post(`/api/trains/${id}/revisions`, {
    data: { saveId: randomUUID(), basedOn: revision.number, document: { ...document, elements } }
  });
  expect(saved.ok()).toBe(true);
  await expect(page.getByRole('heading', { name: '4 of 11 done' })).toBeVisible();
  await expect(step(page)).toContainText('with a shim of 0.10 mm between');
  await expect(page.locator('[aria-label="Step in hand"]')).toContainText('changed since it was done');
});

test('by night no pixel of the sheet is green or blue', async ({ page, context, baseURL }) => {
  await context.addCookies([{ name: 'lodestone-theme', value: 'night', url: baseURL! }]);
  await page.setViewportSize({ width: 390, height: 844 });
  await toAssemble(page);
  await done(page).click();
  await page.evaluate(() => document.fonts.ready);
  const { data } = PNG.sync.read(await page.screenshot({ animations: 'disabled' }));
  let worst = 0;
  for (let at = 0; at < data.length; at += 4)
    worst = Math.max(worst, data[at + 1]! - data[at]! * 0.25, data[at + 2]! - data[at]! * 0.25);
  // Red light has hardly any of either: the theme's own reds go up to a quarter of green.
  expect(worst).toBeLessThanOrEqual(0);
});

test('steps are walked by keys, done and undone, from either end', async ({ page }) => {
  await toAssemble(page);
  await page.keyboard.press('x');
  await expect(page.getByRole('heading', { name: '1 of 11 done' })).toBeVisible();
  await page.keyboard.press('q');
  await expect(done(page)).toContainText('Not done');
  await page.keyboard.press('x');
  await expect(page.getByRole('heading', { name: '0 of 11 done' })).toBeVisible();
  for (let each = 0; each < 3; each++) await page.keyboard.press('j');
  await expect(page.locator('#rail-joint-camera')).toHaveAttribute('aria-selected', 'true');
  await page.getByRole('button', { name: 'from the telescope' }).click();
  await expect(page.locator('[data-steps] button').first()).toContainText('Quillfeather 203 two-mirror');
  await page.keyboard.press('Control+z');
  await expect(page.locator('[data-steps] button').first()).toContainText('Open Harnwick');
});

test('Assemble is readable in every theme', async ({ page }) => {
  await toAssemble(page);
  await page.keyboard.press('x');
  await expectAccessibleInAllThemes(page, 'Assemble');
});
