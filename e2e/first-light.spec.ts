// First light: whether it reaches, one instruction at a time, by hand and with the focuser that ships.
import { expect, expectAccessible, openCopy, simulated, stored, test } from './lodestone.ts';
import type { Page } from '@playwright/test';

const instruction = (page: Page) => page.locator('[data-instruction]');
const toFirstLight = async (page: Page, demo: 'Heron' | 'Long Tom') => {
  const copy = await openCopy(page, demo, 'first-light');
  await expect(page.getByRole('region', { name: 'What to do now' })).toBeVisible();
  return copy;
};
/** What comes before the first frame. */
const begin = async (page: Page) => {
  for (const words of ['Leave the cover on', 'Point at a bright star', 'Turn the focus knob to the stop']) {
    await expect(instruction(page)).toContainText(words);
    await page.locator('[data-tick]').click();
  }
};
const enter = async (page: Page, position: number, hfr: number) => {
  await page.getByLabel('position', { exact: true }).fill(String(position));
  await page.getByLabel('HFR, px').fill(String(hfr));
  await page.getByLabel('HFR, px').press('Enter');
};

test('a whole first light with the focuser that ships, on a phone by night, ends at the focus', async ({
  page,
  context,
  baseURL
}) => {
  await context.addCookies([{ name: 'lodestone-theme', value: 'night', url: baseURL! }]);
  await page.setViewportSize({ width: 390, height: 844 });
  await toFirstLight(page, 'Long Tom');
  await begin(page);
  const simulate = page.locator('[data-simulate]');
  for (let frame = 0; frame < 25 && (await simulate.count()) > 0; frame++) {
    const before = await page
      .locator('[data-focus-curve] circle, [data-instruction]')
      .evaluateAll((all) => all.map((each) => each.outerHTML).join());
    await simulate.click();
    await expect
      .poll(() =>
        page
          .locator('[data-focus-curve] circle, [data-instruction]')
          .evaluateAll((all) => all.map((each) => each.outerHTML).join())
      )
      .not.toBe(before);
  }
  // The train’s own budget says 44.61 mm: 9294 steps of 4.8 µm, and 60 of backlash before them.
  const said = await instruction(page).innerText();
  const best = Number(/Go to (\d+), and lock it/.exec(said)![1]);
  expect(Math.abs(best - 9354)).toBeLessThan(120);
  await page.locator('[data-tick]').click();
  await expect(instruction(page)).toContainText('Now the guide camera');
  await page.locator('[data-tick]').click();
  await page.locator('[data-tick]').click();
  await page.getByLabel('Note').fill('Seeing was poor.');
  await page.getByLabel('Note').blur();
  await page.reload();
  await expect(page.getByLabel('Note')).toHaveValue('Seeing was poor.');
  const overflow = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
  expect(overflow).toBeLessThanOrEqual(0);
  await expectAccessible(page, 'First light');
});

test('by hand, without the network in the middle, with an undo, a wrong sign asked about, and a run that is kept', async ({
  page,
  context
}) => {
  const { id } = await toFirstLight(page, 'Long Tom');
  await begin(page);
  const hfr = (x: number) => Number(Math.hypot(2.2, 0.012 * (x - 3000)).toFixed(2));
  await enter(page, 2600, hfr(2600));
  await enter(page, 2700, hfr(2700));
  await expect(page.getByText('The star shrank from 5.28 to 4.22 px.')).toBeVisible();
  await context.setOffline(true);
  await enter(page, 2800, hfr(2800));
  await enter(page, -2800, 3);
  await expect(page.getByText('Check the sign')).toBeVisible();
  const frames = page.locator('[data-focus-curve] circle');
  await expect(frames).toHaveCount(3);
  await enter(page, 2900, hfr(2900));
  await context.setOffline(false);
  for (const x of [3000, 3100]) await enter(page, x, hfr(x));
  await expect(frames).toHaveCount(6);
  await expect(page.locator('[data-focus-answer]')).toContainText('Best at 3000');
  await expect(instruction(page)).toContainText('Go to 3000, and lock it.');
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(frames).toHaveCount(5);
  await page.keyboard.press('Control+Shift+z');
  await page.getByRole('button', { name: 'Keep the run, start another' }).click();
  await expect(page.getByText('Runs that were kept')).toBeVisible();
  await expect
    .poll(
      async () =>
        ((await stored(page, id)).document as { focusing?: { runs?: { points: unknown[] }[] } }).focusing?.runs?.[0]
          ?.points.length
    )
    .toBe(6);
});

test('where the draw tube is too short a tube of the drawer is offered that lands nearest the middle', async ({
  page
}) => {
  const { id } = await openCopy(page, 'Heron');
  // Of a telescope whose focus lies 34 mm farther out.
  const { revision, document } = await stored(page, id);
  const host = (document as unknown as { host: { focuser: object } }).host;
  await page.request.post(`/api/trains/${id}/revisions`, {
    data: {
      saveId: crypto.randomUUID(),
      basedOn: revision.number,
      document: { ...document, host: { ...host, focuser: { ...host.focuser, focusFromRackedInMm: 170 } } }
    }
  });
  await page.goto(`/trains/${id}/build`);
  await page.getByRole('button', { name: 'Put it in' }).click();
  await expect(page.locator('[data-save-state="saved"]')).toBeVisible();
  await page.goto(`/trains/${id}/first-light`);
  await expect(page.locator('[data-focus-verdict="no-outward"]')).toBeVisible();
  const tubes = page.locator('[data-tubes] li');
  await expect(tubes.first()).toContainText('With TUBE-35 (35 mm, Shelf) focus falls at 19 mm of 40 mm: it reaches.');
  await expect(tubes.filter({ hasText: 'too long' })).toHaveCount(1);
  await expect(tubes.filter({ hasText: 'too long' }).getByRole('button')).toHaveCount(0);
  await tubes.first().getByRole('button', { name: 'Put it in' }).click();
  await expect(page.locator('[data-focus-verdict="reaches"]')).toBeVisible();
  await expectAccessible(page, 'First light');
  // A run with both ways in it tells the backlash.
  await expect(page.getByText(/backlash \d+/)).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.locator('[data-focus-verdict="no-outward"]')).toBeVisible();
});

test('what is only seen counts, and a frame that is dropped fills the form', async ({ page }) => {
  await toFirstLight(page, 'Long Tom');
  await begin(page);
  await page.getByLabel('position', { exact: true }).fill('0');
  await page.locator('[data-seen=nothing]').click();
  await enter(page, 2000, 40);
  await page.getByLabel('position', { exact: true }).fill('3000');
  await page.locator('[data-seen=smaller]').click();
  await expect(page.locator('[data-focus-curve] circle')).toHaveCount(3);
  await expect(instruction(page)).toContainText(/Step out to \d+/);
  // A test frame as a capture program names it: star size and position come from the file.
  await page.getByLabel('Test frames', { exact: true }).setInputFiles(simulated('focus 4100.fits'));
  await expect(page.locator('[data-from-frame]')).toContainText('focus 4100.fits');
  await expect(page.getByLabel('position', { exact: true })).toHaveValue('4100');
  await expect(page.getByLabel('HFR, px')).toHaveValue(/^\d+\.\d\d$/);
  await page.getByLabel('HFR, px').press('Enter');
  await expect(page.locator('[data-focus-curve] circle')).toHaveCount(4);
});

test('what was tried bounds the focus, and contradictions are told', async ({ page }) => {
  const { id } = await openCopy(page, 'Long Tom');
  const { revision, document } = await stored(page, id);
  const host = { ...(document as unknown as { host: object }).host, focuser: { travelMm: 50 } };
  await page.request.post(`/api/trains/${id}/revisions`, {
    data: { saveId: crypto.randomUUID(), basedOn: revision.number, document: { ...document, host } }
  });
  await page.goto(`/trains/${id}/first-light`);
  await expect(page.locator('[data-focus-verdict="unknown"]')).toBeVisible();
  await page.getByText('No focus?').click();
  await page.getByRole('button', { name: 'Fully out: not enough' }).click();
  await expect(page.locator('[data-focus-verdict="no-outward"]')).toBeVisible();
  await page.getByRole('button', { name: 'Fully in: too far already' }).click();
  await expect(page.locator('[data-focus-says]')).toContainText('contradict each other');
  await page.getByRole('button', { name: 'Remove attempt 2' }).click();
  await expect(page.locator('[data-focus-verdict="no-outward"]')).toBeVisible();
});
