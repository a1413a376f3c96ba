// What was built is kept and compared; from one train to another; what comes along.
import { copyOf, expect, expectAccessible, openCopy, stored, test, expectAccessibleInAllThemes } from './lodestone.ts';
import { randomUUID } from 'node:crypto';
import { writeFileSync } from 'node:fs';
import type { Page } from '@playwright/test';

const finish = async (page: Page, id: string, note: string) => {
  await page.goto(`/trains/${id}/assemble`);
  const done = page.locator('[data-done]');
  await expect(done).toBeVisible();
  for (let each = 0; each < 11; each++) {
    const before = await page.getByRole('heading', { name: / of 11 done/ }).innerText();
    await done.click();
    await expect(page.getByRole('heading', { name: before, exact: true })).toHaveCount(0);
  }
  await page.getByLabel(/Note for the record/).fill(note);
  await page.getByRole('button', { name: 'Finish and keep a record' }).click();
  await expect(page.locator('[data-finished]')).toBeVisible();
};

test('a finished train is a record that no later change touches, with photos, and reopened a new one begins', async ({
  page
}) => {
  const { id } = await copyOf(page, 'Long Tom');
  await finish(page, id, 'Reducer number 0123.');
  await page.locator('[data-finished] a').click();
  const record = page.locator('[data-record="1"]');
  await expect(record).toContainText('Reducer number 0123.');
  await expect(record).toContainText('Within tolerance: 0.17 mm short');
  // A renamed program is no picture, and one of 40 MB is not sent at all.
  const chooser = record.locator('input[type=file]');
  await chooser.setInputFiles({
    name: 'photo.jpg',
    mimeType: 'image/jpeg',
    buffer: Buffer.from('MZ\x90\x00 a program')
  });
  await expect(page.getByText('This is not a picture that can be read')).toBeVisible();
  const huge = test.info().outputPath('huge.jpg');
  writeFileSync(huge, Buffer.alloc(40_000_000));
  await chooser.setInputFiles(huge);
  await expect(page.getByText('huge.jpg has 40 MB; a photo may have 20.')).toBeVisible();
  await chooser.setInputFiles({ name: 'real.png', mimeType: 'image/png', buffer: await page.screenshot() });
  await expect(record.getByRole('img', { name: 'Photo 1 of record 1' })).toBeVisible();
  const { records } = (await (await page.request.get(`/api/trains/${id}/records`)).json()) as {
    records: { id: string; document: { elements: { id: string; lengthMm?: number }[] } }[];
  };
  const pdf = await page.request.get(`/api/records/${records[0]!.id}/print`);
  expect(pdf.headers()['content-type']).toBe('application/pdf');
  expect((await pdf.body()).subarray(0, 5).toString()).toBe('%PDF-');

  // Taken apart and changed: the record stays, and stands beside what is there now.
  await page.goto(`/trains/${id}/assemble`);
  await page.getByRole('button', { name: 'Take it apart again' }).click();
  await expect(page.getByRole('heading', { name: '0 of 11 done' })).toBeVisible();
  await expect(page.locator('[data-save-state="saved"]')).toBeVisible();
  const { revision, document } = await stored(page, id);
  const elements = document.elements.map((element) =>
    element.id === 'wheel' ? { ...element, lengthMm: 20.9 } : element
  );
  const saved = await page.request.post(`/api/trains/${id}/revisions`, {
    data: { saveId: randomUUID(), basedOn: revision.number, document: { ...document, elements } }
  });
  expect(saved.ok()).toBe(true);
  await page.goto(`/trains/${id}/log`);
  await record.getByRole('link', { name: 'Compare with now' }).click();
  await expect(page.locator('[data-compared]')).toHaveCount(2);
  await expect(page.locator('[data-row="residual"]')).toContainText('0.17 mm short');
  await expect(page.locator('[data-row="residual"]')).toContainText('0.33 mm long');
  await expect(
    page.getByText('Harnwick five-slot wheel is another part, or has another setting: 20.40 mm was, 20.90 mm is.')
  ).toBeVisible();
  await expectAccessible(page, 'Compare');
});

test('marking a train as assembled that is not finished asks first', async ({ page }) => {
  await openCopy(page, 'Heron', 'log');
  await page.keyboard.press('y');
  const dialog = page.getByRole('dialog', { name: 'Mark it as assembled all the same?' });
  await expect(dialog).toContainText('is still empty');
  await dialog.getByRole('button', { name: 'Not yet' }).click();
  await expect(page.locator('[data-assembled="false"]')).toBeVisible();
  await expect(page.getByText('Nothing was finished yet.')).toBeVisible();
});

test('a variant is made before anything is bought, and the table says whether there is such a train', async ({
  page
}) => {
  const { name } = await openCopy(page, 'Long Tom', 'log');
  await page.getByRole('button', { name: 'Make a variant before buying' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByRole('button', { name: 'Make it, and compare' })).toBeDisabled();
  await dialog.getByRole('checkbox', { name: 'Osmere tip-tilt unit' }).check();
  await dialog.getByRole('button', { name: 'Make it, and compare' }).click();
  await expect(page.locator('[data-compared]')).toHaveCount(2);
  await expect(page.getByRole('heading', { name: `${name}, without Osmere tip-tilt unit`, exact: true })).toBeVisible();
  await expect(page.locator('[data-filling]')).toBeVisible({ timeout: 20_000 });
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'PDF' }).click();
  expect((await download).suggestedFilename()).toBe(`${name}, ${name}, without Osmere tip-tilt unit side by side.pdf`);
});

test('from one train to another: what is opened, what stays assembled, where what is fetched lies', async ({
  page
}) => {
  const from = await copyOf(page, 'Long Tom');
  const to = await copyOf(page, 'Long Tom');
  const { revision, document } = await stored(page, to.id);
  const elements = document.elements.filter(({ id }) => id !== 'ao');
  await page.request.post(`/api/trains/${to.id}/revisions`, {
    data: { saveId: randomUUID(), basedOn: revision.number, document: { ...document, elements } }
  });
  await page.goto(`/changeover?from=${from.id}&to=${to.id}`);
  // The tip-tilt unit comes out: two joints, and everything behind it stays as it is.
  await expect(page.locator('[data-joints]')).toHaveAttribute('data-joints', '2');
  const picture = page.locator('[data-change-picture]');
  await expect(picture.locator('[data-band="together"]')).toHaveCount(1);
  await expect(picture.locator('circle.open')).toHaveCount(2);
  await expect(picture).toHaveAccessibleName(/1 group stays assembled, 2 joints to open, 1 part leaves, 0 come/);
  await expect(
    page.getByText(/Ring 5.9.*Fenlark large off-axis guider.*Harnwick five-slot wheel/).first()
  ).toBeVisible();
  await page
    .getByRole('checkbox', { name: /Osmere tip-tilt unit/ })
    .first()
    .check();
  await expectAccessible(page, 'Change over');
});

test('a change-over and a packing list begin with the trains as pictures', async ({ page }) => {
  await page.goto('/changeover');
  await page.locator('[data-card="Long Tom"]').click();
  await expect(page.getByText('Long Tom is set up. Choose the next train.')).toBeVisible();
  await page.locator('[data-card="Dormouse"]').click();
  await expect(page.locator('[data-joints]')).toBeVisible();
  await expect(page.locator('[data-change-picture]')).toBeVisible();
  await page.goto('/pack');
  await expectAccessible(page, 'Packing, nothing chosen');
  await page.locator('[data-card="Long Tom"]').click();
  await expect(page.locator('[data-pack="Long Tom"]')).toBeVisible();
});

test('what comes along is ticked off, kept with the train, and again when leaving', async ({ page }) => {
  const { id, name } = await copyOf(page, 'Long Tom');
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(`/pack?of=${id}`);
  const list = page.locator(`[data-pack="${name}"]`);
  await list
    .getByRole('checkbox', { name: /Harnwick mono/ })
    .first()
    .check();
  await list.getByLabel(`Something else for ${name}`).fill('Red torch');
  await list.getByRole('button', { name: 'Add', exact: true }).click();
  await list.getByRole('checkbox', { name: 'Red torch' }).check();
  await expect(list.locator('[data-save-state="saved"]')).toBeVisible();
  await page.reload();
  await expect(list.getByRole('checkbox', { name: 'Red torch' })).toBeChecked();
  // Tin by tin it is the same list, and the address keeps the order.
  await page.getByRole('button', { name: 'by place' }).click();
  const shelf = page.locator('[data-place="Shelf"]');
  await expect(shelf.getByRole('checkbox', { name: /Harnwick mono/ })).toBeChecked();
  await expect(page.locator('[data-place=""]').getByRole('checkbox', { name: 'Red torch' })).toBeChecked();
  await expectAccessible(page, 'Packing by place');
  await page.reload();
  await expect(shelf).toBeVisible();
  await page.getByRole('button', { name: 'by train' }).click();
  await page.getByRole('button', { name: 'Coming home' }).click();
  await expect(list.getByRole('checkbox', { name: 'Red torch' })).not.toBeChecked();
  const overflow = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
  expect(overflow).toBeLessThanOrEqual(0);
  await expectAccessible(page, 'Packing');
});

test('flats are valid until what lies behind the filters is opened', async ({ page }) => {
  const { id } = await openCopy(page, 'Long Tom', 'assemble');
  for (let each = 0; each < 4; each++) await page.locator('[data-done]').click();
  await page.goto(`/trains/${id}/log`);
  await page.getByRole('button', { name: 'Flats were taken today' }).click();
  await expect(page.locator('[data-flats="valid"]')).toBeVisible();
  await page.goto(`/trains/${id}/assemble`);
  await page.locator('[data-steps] button').nth(3).click();
  await page.locator('[data-done]').click();
  await page.goto(`/trains/${id}/log`);
  await expect(page.locator('[data-flats="ended"]')).toContainText('opened');
});

test('the log is readable in every theme', async ({ page }) => {
  await openCopy(page, 'Long Tom', 'log');
  await expect(page.getByText('Nothing was finished yet.')).toBeVisible();
  await expectAccessibleInAllThemes(page, 'Log');
});

test('the rail is a strip on the log, opened by a key, and leads to the part under Build', async ({ page }) => {
  await openCopy(page, 'Long Tom', 'log');
  await expect(page.locator('[data-rail-strip]')).toBeVisible();
  await page.keyboard.press('Shift+G');
  await expect(page.locator('[data-rail-strip]')).toHaveCount(0);
  await page.locator('[id^="rail-element-"][aria-label*="Harnwick mono"]').click();
  await expectAccessible(page, 'Log with the rail open');
  await page.getByRole('link', { name: /^Harnwick mono.* under Build$/ }).click();
  await expect(page.locator('#inspector').getByRole('heading', { name: 'Harnwick mono' })).toBeVisible();
});
