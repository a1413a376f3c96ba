// Where published figures come from: said, with a scan, beside the number it is asked of.
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { tmpdir } from 'node:os';
import { expect, expectAccessible, openCopy, ready, stored, test } from './lodestone.ts';

const LEAFLET = '%PDF-1.7\n1 0 obj << /OpenAction << /S /JavaScript /JS (app.alert(1)) >> >>\n%%EOF';

test('a figure has its source and the leaflet it was read from; “why?” names both, and the leaflet is saved, not run', async ({
  page
}) => {
  const { id } = await openCopy(page, 'Long Tom');
  await page.locator('[id^="rail-element-"][aria-label*="Fenlark large off-axis guider"]').click();
  const inspector = page.locator('#inspector');
  await inspector.locator('summary', { hasText: 'Sources' }).click();
  await inspector.getByRole('button', { name: 'Add a source' }).click();
  await inspector.getByLabel('Stated by, source 1').fill('the seller');
  await inspector.getByLabel('Where, source 1').fill('leaflet, page 3');
  await inspector.getByLabel('Read on, source 1').fill('last May');
  await page.keyboard.press('Tab');
  await expect(inspector.getByRole('alert')).toContainText('day');
  await inspector.getByLabel('Read on, source 1').fill('2026-05-02');
  await page.keyboard.press('Tab');
  await expect(inspector.getByRole('alert')).toHaveCount(0);

  const refused = join(tmpdir(), 'page.html');
  writeFileSync(refused, '<html><script>alert(1)</script></html>');
  await inspector.getByLabel('Scan or drawing, source 1').setInputFiles(refused);
  await expect(page.getByText('This is neither a PDF nor a picture')).toBeVisible();
  const leaflet = join(tmpdir(), 'leaflet.pdf');
  writeFileSync(leaflet, LEAFLET);
  await inspector.getByLabel('Scan or drawing, source 1').setInputFiles(leaflet);
  await expect(inspector.getByRole('link', { name: 'leaflet.pdf' })).toBeVisible();
  await expectAccessible(page, 'Sources of a part');
  await expect
    .poll(async () => (await stored(page, id)).document.elements.find(({ name }) => name.startsWith('Fenlark large')))
    .toMatchObject({
      sources: [{ of: 'length', by: 'the seller', where: 'leaflet, page 3', on: '2026-05-02', scanName: 'leaflet.pdf' }]
    });

  await page.reload();
  await ready(page);
  await page.locator('.asks-why', { hasText: /^\d/ }).first().focus();
  await page.getByRole('region', { name: 'Verdict' }).locator('.asks-why').nth(1).click();
  const why = page.locator('#why');
  await expect(why.locator('[data-published]')).toContainText('the seller, leaflet, page 3, read 2 May 2026');
  const saving = page.waitForEvent('download');
  await why.getByRole('link', { name: 'leaflet.pdf' }).click();
  const saved = await saving;
  expect(readFileSync(await saved.path(), 'utf8')).toBe(LEAFLET);
});

test('the three planes of a back focus are chosen in a picture, by pointer and keys; what a leaflet leaves open is asked', async ({
  page
}) => {
  const { id } = await openCopy(page, 'Heron');
  await page.locator('[id^="rail-element-"][aria-label*="reducer-flattener"]').click();
  const planes = page.getByRole('radiogroup', { name: 'Measured from' });
  // 58.3 from the shoulder; the male thread is 4.5 long; how deep the glass lies is not stated.
  await expect(planes.getByRole('radio', { name: 'the shoulder, 58.30 mm' })).toBeChecked();
  await expect(planes.getByRole('radio', { name: 'the thread tip, 53.80 mm' })).toBeAttached();
  await expect(planes.getByRole('radio', { name: 'the last lens surface', exact: true })).toBeAttached();
  await planes.locator('[data-datum="thread-tip"] .reach').click();
  const datum = async () => {
    const reducer = (await stored(page, id)).document.elements.find(({ name }) => name.startsWith('Osmere'));
    return (reducer as { corrector?: { datum?: string } } | undefined)?.corrector?.datum;
  };
  await expect.poll(datum).toBe('thread-tip');
  await expect(planes.getByRole('radio', { name: 'the shoulder, 62.80 mm' })).toBeAttached();
  await planes.locator('[data-datum="thread-tip"]').focus();
  await page.keyboard.press('ArrowUp');
  await expect(planes.getByRole('radio', { name: /^the shoulder/ })).toBeChecked();
  await expect(planes.getByRole('radio', { name: /^the shoulder/ })).toBeFocused();
  await expect.poll(datum).toBeUndefined();
  await page.getByText('Only “edge”').click();
  await expect(page.getByText('Is the back focus of 58.30 mm of Osmere 0.79× reducer-flattener')).toBeVisible();
  await expectAccessible(page, 'The three planes');
});
