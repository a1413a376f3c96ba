// Everything can be reached: by finger, by pointer, by someone who hears the page, and what is in the way moves aside.
import type { CDPSession, Page } from '@playwright/test';
import { randomUUID } from 'node:crypto';
import heron from '../demo/heron.json' with { type: 'json' };
import { expect, openCopy, ready, test } from './lodestone.ts';

const verdict = (page: Page) => page.locator('[data-verdict]');
const rail = (page: Page) => page.locator('#rail');
const sheet = (page: Page) => page.locator('.sheet');

/** Ids of what the rail holds, as it is read out. */
const readOrder = async (page: Page): Promise<string[]> =>
  ((await rail(page).getAttribute('aria-owns')) ?? '').split(' ').filter(Boolean);

test('the rail is read in the order light takes, with kind, faces, how it is known, and what is wrong', async ({
  page
}) => {
  await openCopy(page);
  const ids = await readOrder(page);
  expect(ids[0]).toBe('rail-host');
  // Every option once, elements in the order of the document, each joint before the part it seats.
  expect(new Set(ids).size).toBe(await rail(page).getByRole('option').count());
  const elements = ids.filter((id) => id.startsWith('rail-element-')).map((id) => id.replace('rail-element-', ''));
  expect(elements).toEqual(heron.elements.map(({ id }) => id));
  for (const [at, id] of ids.entries()) {
    if (id.startsWith('rail-joint-')) expect(ids[at + 1]).toBe(id.replace('joint', 'element'));
  }
  const guider = rail(page).getByRole('option', { name: /^Fenlark off-axis guider, 17\.20 mm/ });
  await expect(guider).toHaveAttribute('aria-label', /measured, sky face M63×1 female 5, camera face /);

  // A ring whose thread cannot join: the joint says so where it is heard.
  const wheel = rail(page).getByRole('option', { name: /^Harnwick seven-slot wheel/ });
  await wheel.click();
  const sky = page.locator('#inspector').getByLabel('Sky face: diameter and pitch');
  await sky.fill('M42×1');
  await sky.blur();
  await expect(
    rail(page)
      .getByRole('option', { name: /^Joint .*does not close: / })
      .first()
  ).toBeAttached();
});

test('handles of 34 joints keep a finger apart, and each is reached', async ({ page }) => {
  const ring = (index: number) => ({
    kind: 'spacer',
    id: `r${index}`,
    name: `Ring ${index}`,
    lengthMm: index % 3 === 0 ? 0.5 : 1.5,
    sky: { thread: 'M48×0.75', gender: 'female', lengthMm: 3 },
    camera: { thread: 'M48×0.75', gender: 'male', lengthMm: 3 }
  });
  const [corrector] = heron.elements;
  const camera = heron.elements.at(-1);
  const document = {
    ...heron,
    name: `Many rings ${randomUUID().slice(0, 6)}`,
    elements: [corrector, ...Array.from({ length: 33 }, (_, index) => ring(index)), camera]
  };
  const response = await page.request.post('/api/trains', { data: { saveId: randomUUID(), document } });
  const { id } = (await response.json()) as { id: string };
  await page.goto(`/trains/${id}/build`);
  await ready(page);
  const placesNow = () =>
    page
      .locator('#rail [id^="rail-joint-"] circle.reach')
      .evaluateAll((circles) =>
        circles.map((circle) => circle.getBoundingClientRect()).map(({ x, y, width }) => [x + width / 2, y + width / 2])
      );
  const places = await placesNow();
  expect(places.length).toBeGreaterThanOrEqual(34);
  for (const [at, place] of places.entries()) {
    for (const other of places.slice(at + 1)) {
      expect(Math.hypot(place[0]! - other[0]!, place[1]! - other[1]!)).toBeGreaterThan(23.5);
    }
  }
  for (const at of [3, 11, 20, 33]) {
    // The verdict above may have got another line meanwhile.
    const [x, y] = (await placesNow())[at]!;
    await page.mouse.click(x!, y!);
    await expect(page.locator('#rail [id^="rail-joint-"]').nth(at)).toHaveAttribute('aria-selected', 'true');
    await page.keyboard.press('Escape');
  }
});

test('a menu on the rail and in the drawer, by pointer and by key; its commands are those of the keys', async ({
  page
}) => {
  await openCopy(page);
  const guider = rail(page).getByRole('option', { name: /^Fenlark off-axis guider/ });
  await guider.click({ button: 'right' });
  const menu = page.getByRole('menu', { name: 'What can be done here' });
  await expect(menu.getByRole('menuitem').first()).toBeFocused();
  await expect(guider).toHaveAttribute('aria-selected', 'true');
  await page.keyboard.press('Escape');
  await expect(menu).toBeHidden();
  await rail(page).focus();
  await page.keyboard.press('Shift+F10');
  await menu.getByRole('menuitem', { name: /^Remove the part/ }).click();
  await expect(guider).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await expect(guider).toHaveCount(1);

  await page.goto('/drawer');
  await page.getByRole('searchbox', { name: 'Search the drawer' }).fill('R-03');
  const row = page.getByRole('option', { name: /^R-03/ });
  await row.click({ button: 'right' });
  await page.keyboard.press('ArrowDown');
  await expect(page.getByRole('menuitem', { name: /^Choose the part/ })).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(row).toHaveAttribute('aria-selected', 'true');
});

test('while a part is held, what would come of letting go is said', async ({ page }) => {
  await openCopy(page, 'Long Tom');
  const guider = rail(page).getByRole('option', { name: /^Fenlark large off-axis guider/ });
  const box = (await guider.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + 20);
  await page.mouse.down();
  await page.mouse.move(box.x + 220, box.y + 30, { steps: 8 });
  await expect(page.locator('[data-would-be]')).toContainText(/does not fit/);
  await page.keyboard.press('Escape');
  await page.mouse.up();
  await expect(page.locator('[data-would-be]')).toBeHidden();
  await expect(page.getByRole('button', { name: /^Undo/ }).first()).toBeDisabled();
});

test('a double click goes to the fields; F1 says what a field asks for, and leads to the guide', async ({ page }) => {
  await openCopy(page);
  await rail(page)
    .getByRole('option', { name: /^Harnwick seven-slot wheel/ })
    .dblclick();
  const inspector = page.locator('#inspector');
  await expect(inspector.locator(':focus')).toHaveCount(1);
  await inspector.getByRole('textbox', { name: 'Published length' }).focus();
  await page.keyboard.press('F1');
  const note = page.getByRole('note');
  await expect(note).toContainText('From shoulder to shoulder');
  await note.getByRole('link', { name: 'More in the guide' }).click();
  await expect(page).toHaveURL(/guide#lengthMm$/);
  await expect(page.locator('#lengthMm')).toBeInViewport();
  // Every picture of the guide is there.
  for (const picture of await page.locator('figure img').all()) {
    await picture.scrollIntoViewIfNeeded();
    await expect.poll(() => picture.evaluate((img) => (img as HTMLImageElement).naturalWidth)).toBeGreaterThan(0);
  }
});

test('the tour is offered once, walks Build by key, and ends where it is left', async ({ page }) => {
  await page.goto('/');
  await page.locator('[data-tour-offer]').getByRole('link', { name: 'Show me' }).click();
  const dialog = page.getByRole('dialog', { name: /^Tour/ });
  await expect(dialog).toContainText('The answer comes first');
  for (let step = 0; step < 5; step++) await page.keyboard.press('ArrowRight');
  await expect(dialog).toContainText('Let it find the rings');
  await page.keyboard.press('ArrowLeft');
  await expect(page.locator('.sheet[data-toured]')).toHaveCount(1);
  await page.keyboard.press('Escape');
  await expect(dialog).toBeHidden();
  await expect(page.locator('[data-toured]')).toHaveCount(0);
  await page.goto('/');
  await expect(page.getByRole('heading', { name: 'Trains', level: 1 })).toBeVisible();
  await expect(page.locator('[data-tour-offer]')).toHaveCount(0);
});

test('a slip in a word is understood, and nothing is exchanged unasked', async ({ page }) => {
  await page.goto('/drawer');
  await expect(page.locator('#part-list')).toHaveAttribute('data-count', /[1-9]/);
  await page.getByRole('searchbox', { name: 'Search the drawer' }).fill('adpater m63');
  await expect(page.locator('#part-list')).toHaveAttribute('data-count', '0');
  await page.getByRole('button', { name: 'adapter m63', exact: true }).click();
  await expect(page.locator('#part-list')).toHaveAttribute('data-count', /[1-9]/);
});

test('with colours the owner has forced, drawing and buttons are made of them', async ({ page }) => {
  await page.emulateMedia({ forcedColors: 'active' });
  await openCopy(page);
  const { edge, text } = await page.evaluate(() => {
    const probe = document.createElement('span');
    probe.style.color = 'CanvasText';
    document.body.append(probe);
    const text = getComputedStyle(probe).color;
    probe.remove();
    const drawn = document.querySelector('#rail rect.outside');
    return { edge: drawn && getComputedStyle(drawn).stroke, text };
  });
  expect(edge).toBe(text);
});

test('the focus stays on the page when what had it goes', async ({ page }) => {
  const { name } = await openCopy(page);
  await rail(page).focus();
  await page.keyboard.press('f');
  await expect(page.getByRole('listbox', { name: 'Stacks' })).toBeFocused();
  await page.keyboard.press('Escape');
  await expect(rail(page)).toBeFocused();
  await page.goto('/');
  await page.getByRole('button', { name: `Delete ${name}` }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByText(`${name} deleted.`)).toBeVisible();
  await expect(page.locator(':focus')).toHaveText('Trains');
});

test('other orders of a stack are opened, and one of them goes in', async ({ page }) => {
  const ring = (partId: string, lengthMm: number) => ({
    partId,
    kind: 'spacer',
    name: 'Ring',
    lengthMm,
    sky: { thread: 'M63×1', gender: 'female', lengthMm: 5 },
    camera: { thread: 'M63×1', gender: 'male', lengthMm: 4.5 },
    location: 'Orders'
  });
  const put = [ring('OR-1', 3), ring('OR-2', 4.68)].map((document) => ({ document, basedOn: null }));
  const made = await page.request.post('/api/drawer/changes', { data: { changeId: randomUUID(), put, remove: [] } });
  expect(made.ok(), await made.text()).toBe(true);
  await openCopy(page);
  await rail(page).focus();
  await page.keyboard.press('f');
  await page.getByLabel('Only from this place').selectOption('Orders');
  await page.getByRole('button', { name: 'Other orders of these parts' }).click();
  const shown = page.getByRole('list', { name: 'Parts of this stack' }).getByRole('listitem');
  const first = await shown.allInnerTexts();
  expect(first).toHaveLength(2);
  await page.locator('[data-orders] button').first().click();
  await expect.poll(() => shown.allInnerTexts()).toEqual([first[1], first[0]]);
  await page.getByRole('button', { name: /^Put it in/ }).click();
  await expect(verdict(page)).toHaveText(/Within tolerance/);
  const parts = (await readOrder(page)).filter((id) => id.startsWith('rail-element-OR-'));
  expect(parts).toEqual(
    first[1]!.startsWith('OR-1')
      ? ['rail-element-OR-1', 'rail-element-OR-2']
      : ['rail-element-OR-2', 'rail-element-OR-1']
  );
});

test('on paper stand the verdict, the drawing and the sum, without buttons', async ({ page }) => {
  await openCopy(page);
  await page.emulateMedia({ media: 'print' });
  await expect(page.locator('header').first()).toBeHidden();
  await expect(rail(page)).toBeVisible();
  await expect(verdict(page)).toBeVisible();
  await expect(sheet(page)).toBeHidden();
  const background = await page
    .locator('.area-rail .panel')
    .evaluate((panel) => getComputedStyle(panel).backgroundColor);
  expect(background).toBe('rgb(255, 255, 255)');
});

/** Fingers on the glass, as the browser itself sees them. */
class Fingers {
  private constructor(private readonly session: CDPSession) {}
  static async on(page: Page): Promise<Fingers> {
    return new Fingers(await page.context().newCDPSession(page));
  }
  async drag(paths: readonly (readonly [number, number, number, number])[], steps = 10): Promise<void> {
    const at = (share: number) =>
      paths.map(([x1, y1, x2, y2], id) => ({ id, x: x1 + (x2 - x1) * share, y: y1 + (y2 - y1) * share }));
    await this.session.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: at(0) });
    for (let step = 1; step <= steps; step++) {
      await this.session.send('Input.dispatchTouchEvent', { type: 'touchMove', touchPoints: at(step / steps) });
    }
    await this.session.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
  }
}

test.describe('on a phone', () => {
  test.use({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true });

  test('the rail is pinched and pushed, never out of sight, and the page still scrolls over it', async ({ page }) => {
    await openCopy(page);
    const box = (await rail(page).boundingBox())!;
    const y = box.y + box.height / 2;
    const scale = async () => Number(await rail(page).getAttribute('data-px-per-mm'));
    const sensor = async () => (await page.locator('#rail [data-plane="sensor"]').boundingBox())!.x;
    const fingers = await Fingers.on(page);
    const before = await scale();
    await fingers.drag([
      [box.x + 150, y, box.x + 60, y],
      [box.x + 210, y, box.x + 300, y]
    ]);
    expect(await scale()).toBeGreaterThan(before * 1.5);
    const stood = await sensor();
    await fingers.drag([[box.x + 300, y, box.x + 150, y]]);
    await expect.poll(sensor).toBeLessThan(stood - 80);
    for (let push = 0; push < 8; push++) await fingers.drag([[box.x + 340, y, box.x + 10, y]]);
    const shapes = await page
      .locator('#rail [id^="rail-element-"]')
      .evaluateAll((parts) =>
        parts.map((part) => part.getBoundingClientRect()).map(({ left, right }) => [left, right] as const)
      );
    expect(shapes.some(([left, right]) => right > 0 && left < 390)).toBe(true);
    await fingers.drag([[box.x + 200, y + 60, box.x + 200, y - 160]]);
    await expect.poll(() => page.evaluate(() => window.scrollY)).toBeGreaterThan(50);
  });

  test('the sheet comes up with what is tapped, is pulled by its handle, and hides nothing from the keys', async ({
    page
  }) => {
    await openCopy(page);
    await expect(sheet(page)).toHaveAttribute('data-level', 'peek');
    const heights = async () => (await sheet(page).boundingBox())!.height;
    expect(await heights()).toBeLessThan(80);
    await rail(page)
      .getByRole('option', { name: /^Harnwick seven-slot wheel/ })
      .tap();
    await expect(sheet(page)).toHaveAttribute('data-level', 'half');
    await expect(rail(page)).toBeInViewport({ ratio: 0.9 });
    await expect(
      page.locator('#inspector').getByRole('heading', { name: 'Harnwick seven-slot wheel' })
    ).toBeInViewport();
    // It slides up: where its handle is counts once it rests.
    let grip = (await page.locator('.sheet .grip').boundingBox())!;
    await expect
      .poll(async () => {
        const before = grip.y;
        grip = (await page.locator('.sheet .grip').boundingBox())!;
        return grip.y - before;
      })
      .toBe(0);
    const fingers = await Fingers.on(page);
    await fingers.drag([[195, grip.y + 20, 195, 90]]);
    await expect(sheet(page)).toHaveAttribute('data-level', 'full');
    await expect.poll(heights).toBeGreaterThan(700);
    await fingers.drag([[195, 110, 195, 830]]);
    await expect(sheet(page)).toHaveAttribute('data-level', 'peek');
    await page.locator('.sheet .grip').focus();
    await page.keyboard.press('Tab');
    await expect(sheet(page)).toHaveAttribute('data-level', 'half');
  });

  test('the whole job by touch: from nothing to a train within tolerance, and back', async ({ page }) => {
    const tag = randomUUID().slice(0, 6);
    await page.goto('/new');
    await page.getByRole('combobox', { name: 'Telescope or lens' }).tap();
    await page.keyboard.type('100 f/6');
    await page.getByRole('combobox', { name: 'Corrector' }).tap();
    await page.keyboard.type('55');
    await page.getByRole('combobox', { name: 'Camera' }).tap();
    await page.keyboard.type('17.5');
    await expect(page.locator('[data-first-answer]')).toHaveText('37.50 mm short');
    await page.getByRole('textbox', { name: 'Name of the train' }).fill(`By touch ${tag}`);
    await page.getByRole('button', { name: /Go on to Build/ }).tap();
    await ready(page);

    await page.getByRole('button', { name: 'Menu' }).tap();
    await page.getByRole('navigation', { name: 'Menu' }).getByRole('link', { name: 'Drawer' }).tap();
    await expect(page.locator('#part-list')).toBeVisible();
    await page.getByRole('button', { name: 'New part' }).tap();
    await page.getByRole('textbox', { name: 'Parts in one line' }).tap();
    await page.keyboard.type('m48 f-m 37.5');
    const dialog = page.getByRole('dialog', { name: 'New parts' });
    while (!(await dialog.getByText(/In the drawer:/).isVisible())) {
      await dialog
        .getByRole('button', { name: /M48×0\.75|Put .* in/ })
        .first()
        .tap();
    }
    await dialog.getByRole('button', { name: 'Close', exact: true }).first().tap();

    await page.goBack();
    await ready(page);
    await page.getByRole('button', { name: /Find the stack/ }).tap();
    await page.getByRole('button', { name: /^Put it in/ }).tap();
    await expect(verdict(page)).toHaveText(/Within tolerance|Length within tolerance/);
    await page.getByRole('button', { name: /^Undo/ }).first().tap();
    await expect(verdict(page)).toHaveText(/37\.50 mm short/);
  });
});
