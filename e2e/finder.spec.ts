import type { Page } from '@playwright/test';
import { randomUUID } from 'node:crypto';
import dormouse from '../demo/dormouse.json' with { type: 'json' };
import { expect, expectAccessibleInAllThemes, openCopy, openTrain, stored, test } from './lodestone.ts';

const verdict = (page: Page) => page.locator('[data-verdict]');
const offers = (page: Page) => page.getByRole('listbox', { name: 'Stacks' }).getByRole('option');
const part = (page: Page, words: string) => page.locator(`[id^="rail-element-"][aria-label*="${words}"]`);
const ghosts = (page: Page) => page.locator('#rail .ghost');

/** A corrector, a gap, a camera: with threads that only the test's own parts have. */
const oddTrain = (name: string, asks: object, camera: string, sky: string) => ({
  lodestone: 'train/1',
  name,
  host: {
    name: 'host',
    kind: 'refractor',
    apertureMm: 100,
    focalLengthMm: 500,
    camera: { thread: 'M68x1', gender: 'female' }
  },
  elements: [
    {
      id: 'corrector',
      kind: 'corrector',
      name: 'Corrector',
      lengthMm: 30,
      camera: { thread: camera, gender: 'male', lengthMm: 4 },
      corrector: asks
    },
    { id: 'gap', kind: 'gap', name: 'Gap' },
    {
      id: 'camera',
      kind: 'camera',
      name: 'Camera',
      lengthMm: 17.5,
      sky: { thread: sky, gender: 'female', lengthMm: 5 }
    }
  ]
});

// What is found depends on every part there is.
test.use({ apart: 'finder' });

test('find on Heron: ghosts on the rail while the arrow keys walk, applied as one step, undone as one', async ({
  page
}) => {
  const { id } = await openCopy(page);
  await page.keyboard.press('f');
  // One ring will do; the nearest stack takes more.
  await expect(offers(page).first()).toContainText('within tolerance: 0.18 mm long');
  await expect(page.getByRole('list', { name: 'Parts of this stack' })).toContainText('R-03 Ring 7.5 M63×1');
  await page.getByRole('button', { name: 'closest' }).click();
  await expect(page.getByText('Searched completely: nothing better within 6 pieces.')).toBeVisible();
  await expect(offers(page).first()).toContainText('within tolerance');
  await expect(ghosts(page)).not.toHaveCount(0);
  await expect(page.locator('[data-previewing]')).toBeVisible();
  await expect(verdict(page)).toHaveText(/Within tolerance/);

  await page.keyboard.press('ArrowDown');
  await expect(offers(page).nth(1)).toHaveAttribute('aria-selected', 'true');
  await expect(verdict(page)).toHaveText(/Within tolerance: 0\.05 mm short/);
  // Only looked at: nothing of it is saved.
  expect((await stored(page, id)).revision.number).toBe(1);

  await page.keyboard.press('Enter');
  await expect(ghosts(page)).toHaveCount(0);
  await expect(part(page, 'Ring 5 M63')).toBeVisible();
  await expect(verdict(page)).toHaveText(/Within tolerance: 0\.05 mm short/);
  await expect(page.locator('[data-save-state="saved"]')).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(verdict(page)).toHaveText(/7\.68 mm short/);
  await page.keyboard.press('Control+Shift+z');
  await expect(verdict(page)).toHaveText(/Within tolerance/);
});

test('the verdict names the ring that closes the train, and puts it in', async ({ page }) => {
  await openCopy(page);
  const step = page.locator('[data-next-step]');
  await expect(step).toContainText('R-03 (7.86 mm, Tin 1 / Bag A) closes it to 0.18 mm long.');
  await page.getByRole('button', { name: 'Put it in' }).click();
  await expect(verdict(page)).toHaveText(/Within tolerance: 0\.18 mm long/);
  await expect(step).toContainText('Nothing is left to do here.');
  await page.keyboard.press('Control+z');
  await expect(verdict(page)).toHaveText(/7\.68 mm short/);

  // Without a gap a joint is opened for it.
  await page.locator('[id="rail-element-rings"]').click();
  await page.locator('#rail').press('Delete');
  await expect(step).toContainText(/Put \S+ between .+ and .+\./);
  await page.getByRole('button', { name: 'Do it' }).click();
  await expect(verdict(page)).toHaveText(/Within tolerance/);

  await openTrain(page, dormouse);
  await expect(step).toContainText('Replace Bayonet 46.5 to M48 ring and M48 male to male with B-02; one joint less.');
  await page.getByRole('button', { name: 'Do it' }).click();
  await expect(verdict(page)).toHaveText(/Within tolerance/);
});

test('find on Dormouse: nothing fits, and what is advised works', async ({ page }) => {
  await openTrain(page, dormouse);
  await expect(verdict(page)).toHaveText(/0\.22 mm long/);
  await page.getByRole('button', { name: /Find the stack/ }).click();
  await expect(page.getByText(/What would help/)).toBeVisible();
  await expect(offers(page).first()).toContainText('B-02');
  await page.getByRole('button', { name: /^Do it/ }).click();
  await expect(verdict(page)).toHaveText(/Within tolerance/);
  await expect(part(page, 'Bayonet 46.5 to M48 male ring')).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(verdict(page)).toHaveText(/0\.22 mm long/);
});

test('where nothing can be matched it says what it would have to know, and goes there', async ({ page }) => {
  await page.route('**/api/drawer', (route) => route.fulfill({ json: { number: 1, parts: [], uses: [] } }));
  const face = { thread: 'M63x1', gender: 'female' };
  await openTrain(page, {
    lodestone: 'train/1',
    name: 'Blind',
    host: { name: 'Host', kind: 'refractor', apertureMm: 80, focalLengthMm: 480, camera: face },
    elements: [
      { id: 'flattener', kind: 'corrector', name: 'Flattener', lengthMm: 30, corrector: { backFocusMm: 55 } },
      { id: 'gap', kind: 'gap', name: 'Gap' },
      { id: 'camera', kind: 'camera', name: 'Camera', lengthMm: 17.5 }
    ]
  } as { name: string });
  await page.keyboard.press('f');
  const obstacles = page.locator('[data-obstacles]');
  await expect(obstacles.getByRole('listitem')).toHaveCount(3);
  await expect(obstacles).toContainText('The camera-side connection of Flattener is not stated');
  await expect(obstacles.getByRole('link', { name: 'Open the drawer' })).toBeVisible();
  await obstacles.getByRole('button', { name: 'Go there' }).first().click();
  await expect(page.locator('#inspector').getByRole('heading', { name: 'Flattener' })).toBeVisible();
});

test('a long search shows how far it is, can be stopped, and then claims nothing', async ({ page }) => {
  // Rings that all fit each other, of lengths that never come out even: this takes its time.
  const tag = randomUUID().slice(0, 6);
  const put = Array.from({ length: 260 }, (_, index) => ({
    basedOn: null,
    document: {
      partId: `L${index}-${tag}`,
      kind: 'spacer',
      name: `Slow ${tag}`,
      lengthMm: Number((1.00037 + index * 0.01713).toFixed(5)),
      sky: { thread: 'M77x0.9', gender: 'female', lengthMm: 5 },
      camera: { thread: 'M77x0.9', gender: 'male', lengthMm: 4 }
    }
  }));
  expect(
    (await page.request.post('/api/drawer/changes', { data: { changeId: randomUUID(), put, remove: [] } })).ok()
  ).toBe(true);
  const asks = { backFocusMm: 39.12345, toleranceMm: 0.00001 };
  await openTrain(page, oddTrain('Slow', asks, 'M77x0.9', 'M77x0.9'));
  await page.keyboard.press('f');
  await page.getByRole('button', { name: 'closest' }).click();
  await page.getByLabel('Most pieces').selectOption('8');
  const stop = page.getByRole('button', { name: 'Stop' });
  await expect(stop).toBeVisible();
  await expect(page.getByText(/Best so far, not proven/)).toBeVisible();
  // The page goes on answering while it searches: a help sheet opens and closes, and the search is still running.
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeHidden();
  await stop.click();
  await expect(page.getByText('Stopped: not proven.')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('heading', { name: 'Find the stack' })).toHaveCount(0);
  const remove = put.map(({ document }) => ({ partId: document.partId, basedOn: 1 }));
  await page.request.post('/api/drawer/changes', { data: { changeId: randomUUID(), put: [], remove } });
});

test('constraints are set where they live: a gap’s limit on the rail, a part pinned, a part ruled out', async ({
  page
}) => {
  const { id } = await openCopy(page);
  const limit = page.getByRole('slider', { name: /Upper limit/ });
  await limit.focus();
  await page.keyboard.press('Shift+ArrowLeft');
  await expect(limit).toHaveAttribute('aria-valuetext', '19.00 mm');
  const box = (await limit.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 - 60, box.y + 4, { steps: 4 });
  await page.mouse.up();
  await expect(limit).not.toHaveAttribute('aria-valuetext', '19.00 mm');
  await expect(page.locator('[data-save-state="saved"]')).toBeVisible();
  const { document } = await stored(page, id);
  expect((document.elements.find((each) => each.id === 'rings') as { maxMm?: number }).maxMm).toBeLessThan(15);

  await page.locator('#rail').focus();
  await page.keyboard.press('f');
  await expect(offers(page).first()).toContainText('within tolerance');
  await expect(offers(page).first()).toContainText('R-03');
  await page.getByRole('button', { name: 'Never use R-03' }).click();
  await expect(page.getByRole('button', { name: 'without R-03' })).toBeVisible();
  await expect(offers(page).first()).not.toContainText('R-03');
  await expect(offers(page).first()).toContainText('R-02');
  await page.getByRole('button', { name: 'trade-offs' }).click();
  await expect(page.getByRole('group', { name: 'Error against pieces' })).toBeVisible();
});

test('what is missing is bought: list and sheet for the shop; or a ring is made: its drawings', async ({ page }) => {
  const { name } = await openCopy(page);
  await page.keyboard.press('f');
  await page.getByRole('button', { name: 'closest' }).click();
  await expect(offers(page).first()).not.toContainText('(buy)');
  await page.getByLabel('also what is to buy').check();
  await expect(offers(page).first()).toContainText('(buy)');
  const [list] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'To buy' }).click()
  ]);
  expect(list.suggestedFilename()).toBe(`${name} shopping list.csv`);
  const [sheet] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Sheet for the shop' }).click()
  ]);
  expect(sheet.suggestedFilename()).toBe(`${name} please check.pdf`);

  // A gap that no ring of the drawer closes.
  await openTrain(page, oddTrain('Odd', { backFocusMm: 55, toleranceMm: 0.1 }, 'M77x1', 'M75x1'));
  await page.keyboard.press('f');
  await expect(offers(page).first()).toContainText('Have a custom spacer made: 37.50 mm');
  for (const format of ['PDF', 'SVG', 'DXF', 'STL']) {
    const [file] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name: format, exact: true }).click()
    ]);
    expect(file.suggestedFilename()).toMatch(new RegExp(`^Ring 37\\.50 for Odd.*\\.${format.toLowerCase()}$`));
  }
  await page.getByRole('button', { name: /^Do it/ }).click();
  await expect(verdict(page)).toHaveText('Within tolerance, exactly');
});

test('three trains from one drawer: no part is wanted twice, and all are filled in one go', async ({ page }) => {
  const second = await openCopy(page);
  const third = await openCopy(page);
  await openCopy(page);
  await page.keyboard.press('f');
  await expect(offers(page).first()).toBeVisible();
  await page.getByText('Together with other trains').click();
  for (const { name } of [second, third]) await page.getByRole('checkbox', { name }).check();
  await expect(page.getByRole('checkbox', { name: 'Long Tom', exact: true })).toBeDisabled();
  await page.getByRole('button', { name: 'Find for all 3' }).click();

  const rows = page.getByRole('table', { name: 'Stacks of the trains' }).getByRole('row');
  await expect(rows).toHaveCount(3);
  const cells = await rows.locator('td:first-of-type').allTextContents();
  const stacks = cells.map((words) => words.match(/[RSX]-\d+/g) ?? []);
  const names = await rows.getByRole('rowheader').allTextContents();
  const rings = stacks.flat().filter((partId) => partId.startsWith('R-'));
  expect(rings.length).toBeGreaterThan(0);
  expect(new Set(rings).size).toBe(rings.length);
  // The copies of Heron have corrector, wheel and camera in common, of which there is one each.
  await expect(page.locator('[data-collisions]')).toContainText('They cannot be assembled at once');

  await page.getByRole('button', { name: 'Put them into all 3' }).click();
  const undo = page.getByRole('button', { name: /^Undo in/ });
  await expect(undo).toBeVisible();
  await expect(verdict(page)).toHaveText(/Within tolerance/);
  const partsOf = async (id: string) =>
    (await stored(page, id)).document.elements.flatMap(({ partId }) => (partId?.match(/^[RSX]-/) ? [partId] : []));
  for (const { id, name } of [second, third]) expect(await partsOf(id)).toEqual(stacks[names.indexOf(name)]);

  await undo.click();
  await expect.poll(() => partsOf(second.id)).toEqual([]);
  await expect.poll(() => partsOf(third.id)).toEqual([]);
});

test('trains are changed over with the fewest parts moved; one that has no stack is named', async ({ page }) => {
  const other = await openCopy(page);
  await openCopy(page);
  await page.keyboard.press('f');
  await expect(offers(page).first()).toBeVisible();
  await page.getByText('Together with other trains').click();
  await page.getByRole('checkbox', { name: other.name }).check();
  await page.getByLabel('What the trains are to share').selectOption('changeover');
  await page.getByRole('button', { name: 'Find for both' }).click();
  await expect(page.getByText('Nothing has to be moved.')).toBeVisible();
  await page.getByRole('checkbox', { name: 'Dormouse', exact: true }).check();
  await page.getByRole('button', { name: 'Find for all 3' }).click();
  await expect(page.getByText('Dormouse has no stack within tolerance, even alone.')).toBeVisible();
});

test('wrong requests for drawings and sheets are 4xx', async ({ page }) => {
  const ring = {
    lengthMm: 5,
    toleranceMm: 0.02,
    clearMm: 40,
    outerMm: 60,
    sky: { thread: 'M48x0.75', gender: 'male' },
    camera: { thread: 'M48x0.75', gender: 'male' }
  };
  const draw = async (...parts: unknown[]) =>
    (await page.request.post('/api/ring', { data: { title: 'x', parts } })).status();
  const bolted = { ...ring, lengthMm: 12, sky: { bolts: { count: 4, circleMm: 54 } } };
  const tapped = { ...bolted, screws: { sky: { thread: 'M2', hole: 'tapped' } } };
  expect(await draw(ring)).toBe(200);
  expect(await draw({ ...ring, name: 'with the wheel' }, tapped)).toBe(200);
  for (const wrong of [
    [],
    [{ ...ring, lengthMm: -1 }],
    [{ ...ring, sky: {} }],
    [{ ...ring, clearMm: 70 }],
    [{ ...ring, more: 1 }],
    [{ ...tapped, screws: { sky: { thread: 'M9', hole: 'tapped' } } }],
    [{ ...ring, flanges: { sky: { bayonet: 'dslr-44.0', gender: 'male', thicknessMm: 0 } } }],
    Array.from({ length: 6 }, () => ring)
  ]) {
    expect(await draw(...wrong)).toBe(400);
  }
  expect((await page.request.post('/api/check-sheet', { data: { document: {}, buy: [] } })).status()).toBe(400);
});

test('the finder has no serious accessibility finding in any theme', async ({ page }) => {
  await openCopy(page);
  await page.keyboard.press('f');
  await expect(offers(page).first()).toBeVisible();
  await expectAccessibleInAllThemes(page, 'finder');
});
