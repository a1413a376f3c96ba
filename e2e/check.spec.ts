// Light and guiding, as far as a check tells them: what is missing, what is typed, what it comes to.
import type { Page } from '@playwright/test';
import { randomUUID } from 'node:crypto';
import longTom from '../demo/long-tom.json' with { type: 'json' };
import { expect, expectAccessible, expectAccessibleInAllThemes, openCopy, stored, test } from './lodestone.ts';

test('the guider says what it has to know, and with it whether its camera comes to focus', async ({ page }) => {
  await openCopy(page);
  const findings = async (words: RegExp | string) => {
    await page.getByRole('button', { name: /note|problem/ }).click();
    await expect(page.locator('#problems')).toContainText(words);
  };
  await findings('state the flange distance of the guide camera');
  await page
    .locator('#problems')
    .getByRole('button', { name: /^not known .*guide focus/i })
    .click();
  const inspector = page.locator('#inspector');
  await expect(inspector.getByRole('heading', { name: 'Fenlark off-axis guider' })).toBeVisible();
  await inspector.getByText('Guide prism', { exact: true }).click();
  const flange = inspector.getByRole('textbox', { name: 'Guide camera, flange to sensor' });
  await flange.fill('12.5');
  await flange.blur();
  await findings(/does not reach focus: its shoulder must be \d+\.\d\d mm from the axis/);
  await flange.fill('25');
  await flange.blur();
  // The list stays open, and follows.
  await expect(page.locator('#problems')).not.toContainText('guide camera');
});

test('filters too small for the sensor are told with the size that would do', async ({ page }) => {
  await openCopy(page, 'Long Tom');
  await page.getByRole('button', { name: /note/ }).click();
  await expect(page.locator('#problems')).toContainText(/Corner light \d+ %/);
  await page
    .locator('#problems')
    .getByRole('button', { name: /corner light/i })
    .click();
  await expect(page.locator('#inspector').getByRole('heading', { name: 'Harnwick five-slot wheel' })).toBeVisible();
});

const toCheck = async (page: Page, demo: 'Heron' | 'Long Tom' = 'Long Tom') => {
  const copy = await openCopy(page, demo);
  await page.getByRole('navigation', { name: 'Stages' }).getByRole('link', { name: 'Check' }).click();
  await expect(page.locator('[data-check-verdict]')).toBeVisible();
  return copy;
};
const line = (page: Page, code: string) => page.locator(`[data-check="${code}"]`);

test('Check tells what is wrong, and its remedies out of the drawer clear both light and guiding', async ({ page }) => {
  await toCheck(page);
  const verdict = page.locator('[data-check-verdict]');
  await expect(verdict).toContainText('4 things to look at');
  await expect(line(page, 'corner-light')).toHaveAttribute('data-level', 'warning');
  await expect(line(page, 'guide-focus')).toContainText('Put a tube of 7.73 mm to 23.73 mm between');
  // A finding leads to its place, on both pictures.
  await line(page, 'corner-light').getByRole('button', { name: 'Corner light' }).click();
  await expect(page.locator('#rail-element-wheel')).toHaveAttribute('aria-selected', 'true');
  await expect(page.locator('#face-wheel')).toHaveAttribute('aria-selected', 'true');

  await line(page, 'corner-light').getByRole('button', { name: 'Put FW-3 in its place' }).click();
  await expect(verdict).toContainText('3 things to look at');
  await line(page, 'guide-focus').getByRole('button', { name: 'Add R-28, 15.00 mm' }).click();
  await expect(verdict).toContainText('2 things to look at');
  // What passed is folded away, and can be looked at.
  await page.locator('[data-passed]').click();
  await expect(line(page, 'guide-focus')).toContainText('reaches focus');
  // Each was one step.
  await page.keyboard.press('Control+z');
  await expect(verdict).toContainText('3 things to look at');
  await page.keyboard.press('Control+z');
  await expect(verdict).toContainText('4 things to look at');
});

test('the point of the sensor is dragged and moved by keys, on rail, face and profile alike', async ({ page }) => {
  await toCheck(page);
  const point = page.locator('#field-point');
  const rail = page.locator('#rail');
  await expect(point).toHaveAttribute('aria-valuetext', '21.6 mm from the middle');
  await expect(rail.locator('[data-stop]').first()).toContainText('cuts');
  const box = (await point.boundingBox())!;
  const axis = Number(
    await page
      .locator('#rail path.axis')
      .first()
      .getAttribute('d')
      .then((d) => /^M0 ([\d.]+)/.exec(d!)![1])
  );
  const top = (await rail.boundingBox())!.y;
  await page.mouse.move(box.x + 12, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + 12, top + axis, { steps: 5 });
  await page.mouse.up();
  await expect(point).toHaveAttribute('aria-valuetext', /^0\.\d mm from the middle$/);
  // In the middle nothing is cut.
  await expect(rail.locator('[data-stop]')).toHaveCount(0);
  await expect(page.locator('[data-profile] .value')).toHaveText('100 %');
  await point.focus();
  await page.keyboard.press('End');
  await expect(point).toHaveAttribute('aria-valuetext', '21.6 mm from the middle');
  await page.keyboard.press('ArrowDown');
  await expect(point).toHaveAttribute('aria-valuetext', '21.1 mm from the middle');
  // The layer goes and comes by its key.
  await page.keyboard.press('b');
  await expect(point).toHaveCount(0);
  await page.keyboard.press('v');
  await expect(rail.locator('[data-stop]')).toContainText('7.73 mm farther out than it goes');
});

test('the panel that is open stands in the address, and is there again after a reload', async ({ page }) => {
  await openCopy(page, 'Long Tom', 'check');
  const load = page.getByRole('group', { name: 'What is looked at' }).getByRole('button', { name: 'load' });
  await load.click();
  await expect(page).toHaveURL(/check#load$/);
  await page.reload();
  await expect(load).toHaveAttribute('aria-pressed', 'true');
});

test('the light map is compared with another filter, by the slider', async ({ page }) => {
  await toCheck(page);
  const corners = page.locator('[data-corner]');
  await expect(page.locator('[data-light-map="there"]')).toBeAttached();
  await expect(corners).toHaveText(['52 %', '52 %', '52 %', '52 %']);
  await page.getByRole('combobox', { name: 'Compare the light with' }).selectOption('50 mm square');
  const split = page.locator('#face-split');
  await expect(split).toBeVisible();
  // Right of the slider what it would be, left of it what it is.
  await expect(corners.nth(1)).toHaveText('52 %');
  await expect(corners.nth(0)).not.toHaveText('52 %');
  await split.focus();
  for (let press = 0; press < 26; press++) await page.keyboard.press('ArrowRight');
  await expect(corners).toHaveText(['52 %', '52 %', '52 %', '52 %']);
  // Without the corrector the beam is another one.
  await page.getByRole('combobox', { name: 'Compare the light with' }).selectOption('corrector');
  await expect(page.locator('[data-profile]')).toHaveAttribute(
    'aria-label',
    /without the corrector: \d+ % in the corner/
  );
  await page.getByRole('button', { name: 'as a flat' }).click();
  await expect(page.locator('[data-profile] .wanted')).toHaveCount(0);
});

test('an object is framed, and the turn it needs is handed to the rotation planner and kept', async ({ page }) => {
  const { id } = await toCheck(page);
  await page.getByRole('group', { name: 'What is looked at' }).getByRole('button', { name: 'framing' }).click();
  const object = page.getByRole('combobox', { name: 'Object' });
  // The demo frames M31 with two panels.
  await expect(page.locator('[data-object]')).toContainText('it fits into 2 panels');
  await page.getByRole('textbox', { name: 'Columns' }).fill('1');
  await page.getByRole('textbox', { name: 'Columns' }).blur();
  await expect(page.locator('[data-object]')).toContainText('it does not fit');
  await object.fill('triang');
  await page.getByRole('option', { name: /M33/ }).first().click();
  await expect(page.locator('[data-object]')).toContainText('it fits');
  await object.fill('androm');
  await page.getByRole('option', { name: /M31/ }).first().click();
  await expect(page.locator('[data-object]')).toContainText('it does not fit');
  await expect(page.locator('[data-framing="M31"] ellipse')).toBeVisible();
  await page.getByRole('textbox', { name: 'Current angle' }).fill('0');
  await page.getByRole('textbox', { name: 'Current angle' }).blur();
  await page.getByRole('button', { name: 'Long side along it' }).click();
  await expect(page.locator('[data-turn]')).toContainText('55° clockwise');
  await expect(page.getByRole('textbox', { name: 'Turn by, degrees' })).toHaveValue('55.0');
  await expect(page.locator('[data-guide-stars]')).toContainText('galactic latitude −22°');
  // M31 lies along the long side now: two panels beside each other are enough.
  await page.getByRole('button', { name: 'Cover M31' }).click();
  await expect(page.locator('[data-mosaic]')).toContainText('2 panels');
  await expect(page.locator('[data-framing] .panel-of')).toHaveCount(2);
  // A way is carried out: the camera stands as it is to, and all of it is kept.
  await page.getByRole('button', { name: 'Do it' }).first().click();
  await expect(page.locator('[data-turn]')).toContainText('It is at that angle');
  await expect
    .poll(async () => (await stored(page, id)).document)
    .toMatchObject({ framing: { object: 'M31', topDeg: -55, standsDeg: -55, columns: 2, rows: 1 } });
  await page.reload();
  await page.getByRole('group', { name: 'What is looked at' }).getByRole('button', { name: 'framing' }).click();
  await expect(object).toHaveValue(/M31/);
});

test('the time for a target: filters × exposures × panels, of which one takes longer', async ({ page }) => {
  const { id } = await toCheck(page);
  await page.getByRole('group', { name: 'What is looked at' }).getByRole('button', { name: 'framing' }).click();
  const total = page.locator('[data-target-time]');
  // The demo’s two panels of a quarter of an hour.
  await expect(total).toHaveAttribute('data-target-time', '30.0');
  await page.locator('[data-plan-exposures]').click();
  const rows = page.getByRole('table', { name: 'Exposures' }).getByRole('row');
  // Luminance, red, green and blue, 20 of 3 minutes each; nothing is exposed through the dark slot.
  await expect(rows).toHaveCount(5);
  await expect(total).toHaveAttribute('data-target-time', '480.0');
  await expect(total).toContainText('A colour camera with the same pixels needs 12.0 h');
  await expect(total).toContainText('1.9 times as long');
  const count = page.getByLabel('Exposures, filter 1');
  await count.fill('0');
  await count.blur();
  await expect(count).toHaveAttribute('aria-invalid', 'true');
  await count.fill('40');
  await count.blur();
  await expect(total).toHaveAttribute('data-target-time', '600.0');
  await page.getByText('Panels that take longer or shorter').click();
  await page.getByLabel('Panel 1, 2: times as long').fill('1.5');
  await page.getByLabel('Panel 1, 2: times as long').blur();
  await expect(total).toHaveAttribute('data-target-time', '750.0');
  await expect
    .poll(async () => (await stored(page, id)).document)
    .toMatchObject({ framing: { panelTimes: [1, 1.5], exposures: [{ count: 40, seconds: 180 }, {}, {}, {}] } });
  await expectAccessible(page, 'the time for a target');
});

test('a weight of one’s own balances the tube, and a heavier camera says what to hang', async ({ page }) => {
  const { id } = await toCheck(page);
  await page.getByRole('group', { name: 'What is looked at' }).getByRole('button', { name: 'load' }).click();
  await page.getByLabel('Weight you own, g').fill('1500');
  await expect(page.locator('[data-weight-place]')).toContainText('ahead of the camera face');
  await page.locator('[data-hang]').click();
  await expect(page.locator('[data-balance]')).toContainText('In balance about the declination axis');
  await expect
    .poll(async () => (await stored(page, id)).document)
    .toMatchObject({ host: { attached: expect.arrayContaining([expect.objectContaining({ massG: 1500 })]) } });
  await page.getByText('Write a test down').click();
  await page.locator('[data-camera-to-come] input').fill('1500');
  await page.getByRole('button', { name: /^hang \d+ g at/ }).click();
  await expect(page.getByLabel('Mass hung on, g')).not.toHaveValue('300');
  await expectAccessible(page, 'weights');
});

test('filters are put in an order of one’s own, and a set of another train is offered as one', async ({ page }) => {
  await toCheck(page);
  await page.getByRole('group', { name: 'What is looked at' }).getByRole('button', { name: 'slots' }).click();
  const slots = page.getByRole('table', { name: /^Slots of/ }).getByRole('row');
  await expect(slots.first()).toContainText('Luminance');
  await page.getByText('As a set').click();
  await page.getByLabel('Your own order of filters').fill('blue G red');
  await page.keyboard.press('Enter');
  await expect(slots.first()).toContainText('Blue');
  await expect(slots.nth(1)).toContainText('Green');
  await page.getByRole('button', { name: 'Filters of another train …' }).click();
  await expect(page.locator('[data-sets]')).toContainText(/Heron.*: Luminance/);
  await expectAccessible(page, 'filters as a set');
  await page.keyboard.press('Control+z');
  await expect(slots.first()).toContainText('Luminance');
});

test('what is not known names its field, and the button opens it', async ({ page }) => {
  await toCheck(page, 'Heron');
  await line(page, 'guide-unknown').getByRole('button', { name: 'Open the field' }).click();
  const flange = page.getByRole('textbox', { name: 'Guide camera, flange to sensor' });
  await expect(flange).toBeFocused();
  await flange.fill('12.5');
  await flange.blur();
  await expect(line(page, 'guide-unknown')).toHaveCount(0);
  await expect(line(page, 'guide-focus')).toBeAttached();
});

test('a frame that is no solved FITS file is refused by name, one that is gives scale and angle', async ({ page }) => {
  await toCheck(page);
  await page.getByText('Spacing from a solved frame').click();
  const file = page.locator('input[type=file][accept*=fits]');
  await file.setInputFiles({ name: 'holiday.fits', mimeType: 'image/fits', buffer: Buffer.from('not at all') });
  await expect(page.getByRole('alert')).toContainText('holiday.fits: This is no FITS file');
  const card = (words: string) => words.padEnd(80);
  const header = [
    card('SIMPLE  =                    T'),
    card('CD1_1   =             -1.9E-04'),
    card('CD1_2   =                  0.0'),
    card('CD2_1   =                  0.0'),
    card('CD2_2   =              1.9E-04'),
    card('END')
  ].join('');
  await file.setInputFiles({ name: 'solved.fits', mimeType: 'image/fits', buffer: Buffer.from(header.padEnd(2880)) });
  await expect(page.getByRole('textbox', { name: /Measured image scale/ })).toHaveValue('0.6840');
  // A moving mirror changes the focal length by itself.
  await expect(page.locator('[data-spacing]')).toContainText('does not give the spacing');
  await page.getByRole('button', { name: 'Take it as the camera’s angle' }).click();
  await page.getByRole('group', { name: 'What is looked at' }).getByRole('button', { name: 'framing' }).click();
  await expect(page.getByRole('textbox', { name: 'Current angle' })).toHaveValue('0');
});

test('Check is readable in every theme', async ({ page }) => {
  await toCheck(page);
  await page.keyboard.press('v');
  await expectAccessibleInAllThemes(page, 'Check, light and guide');
  await page.getByRole('group', { name: 'What is looked at' }).getByRole('button', { name: 'framing' }).click();
  await expect(page.locator('[data-framing="M31"]')).toBeAttached();
  await page.getByRole('combobox', { name: 'Object' }).fill('M42');
  await page.keyboard.press('Enter');
  await expect(page.locator('[data-framing="M42"]')).toBeAttached();
  await expectAccessibleInAllThemes(page, 'Check, framing');
});

test('Check on a phone: the list leads to the part, in the sheet', async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await toCheck(page, 'Heron');
  await line(page, 'guide-unknown').getByRole('button', { name: 'Open the field' }).click();
  await expect(page.getByRole('textbox', { name: 'Guide camera, flange to sensor' })).toBeInViewport();
  const overflow = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
  expect(overflow).toBeLessThanOrEqual(0);
});

test('the finder is told how much light the corners are to get, and says what they get', async ({ page }) => {
  await openCopy(page);
  await page.keyboard.press('f');
  await expect(page.locator('#offer-0')).toContainText('% corner light');
  const corners = page.getByRole('combobox', { name: 'Light the corners are to get' });
  await expect(corners.locator('option').first()).toHaveText('90 % as set');
  await corners.selectOption('any light');
  await expect(page.locator('#offer-0')).toContainText('within tolerance');
});

test('what stands beside the train is met where the turn brings the guide camera to it', async ({ page }) => {
  const neighbours = [{ name: 'Focus motor', atDeg: 35, widthDeg: 40, fromAxisMm: 60 }];
  const name = `Beside ${randomUUID().slice(0, 8)}`;
  const document = { ...longTom, name, host: { ...longTom.host, neighbours } };
  const made = await page.request.post('/api/trains', { data: { saveId: randomUUID(), document } });
  const { id } = (await made.json()) as { id: string };
  await page.goto(`/trains/${id}/check`);
  // As it stands the stalk points up, and the motor is to the right of that.
  await expect(page.locator('[data-neighbour="Focus motor"] path')).toBeAttached();
  await expect(line(page, 'guide-clash')).toHaveCount(0);
  await page.getByRole('group', { name: 'What is looked at' }).getByRole('button', { name: 'framing' }).click();
  // The demo frames M31 with a turn of 67° clockwise: from 90° to 23°.
  await expect(page.locator('[data-turn]')).toContainText('67° clockwise');
  await expect(page.locator('[data-clash]')).toContainText('the guide camera meets Focus motor');
  await expect(page.locator('[data-sweep]')).toBeAttached();
});

test('the slots of a wheel are drawn and told, and one that stays empty is kept so', async ({ page }) => {
  const { id } = await toCheck(page);
  await page.getByRole('group', { name: 'What is looked at' }).getByRole('button', { name: 'slots' }).click();
  await expect(page.locator('[data-imbalance]')).toContainText('out of balance as by 10.0 g in one slot');
  await expect(page.locator('[data-carousel="wheel"] .slot')).toHaveCount(5);
  await page.getByRole('checkbox', { name: 'stays empty' }).check();
  await expect
    .poll(async () => (await stored(page, id)).document.elements.find((each) => each.id === 'wheel'))
    .toMatchObject({ holder: { keepEmpty: [5] } });
  await page.keyboard.press('k');
  await expect(page.locator('#rail [data-stop]').filter({ hasText: 'kg act here' })).toBeVisible();
  await expectAccessible(page, 'Check, slots and load');
});

test('a filter of the drawer goes into a slot; one that does not fit the holder is refused, with the reason', async ({
  page
}) => {
  await openCopy(page, 'Long Tom', 'check');
  await page.getByRole('group', { name: 'What is looked at' }).getByRole('button', { name: 'slots' }).click();
  const choice = page.getByRole('combobox', { name: 'Put a filter into slot 5' });
  await choice.selectOption('FIL-2');
  await expect(page.getByText('Infrared-pass 685 is 1.25in, and Harnwick five-slot wheel takes 50 mm.')).toBeVisible();
  await choice.selectOption('FIL-1');
  await expect(page.getByRole('button', { name: 'Remove Oxygen III 3 nm from slot 5' })).toBeVisible();
  // There is one of it: it stands there, and is not offered again.
  await page.getByRole('button', { name: 'Remove Blue from slot 4' }).click();
  await expect(page.getByRole('combobox', { name: 'Put a filter into slot 4' }).locator('option')).not.toContainText([
    'FIL-1'
  ]);
});
