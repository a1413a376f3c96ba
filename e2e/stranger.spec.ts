// Somebody else's train is brought in: three of its parts are not in the drawer.
import { randomUUID } from 'node:crypto';
import heron from '../demo/heron.json' with { type: 'json' };
import { expect, expectAccessibleInAllThemes, ready, stored, test } from './lodestone.ts';

test('a stranger’s train comes in with one’s own parts for those that are not here', async ({ page }) => {
  const name = `Stranger ${randomUUID().slice(0, 8)}`;
  const theirs = { 'off-axis-guider': 'ZZ-1', 'filter-wheel': 'ZZ-2', camera: 'C-01' } as Record<string, string>;
  // The camera has a number that is another part here, and a length no camera of this drawer has.
  const elements = heron.elements.map((element) =>
    element.kind in theirs
      ? {
          ...element,
          partId: theirs[element.kind],
          ...(element.kind === 'camera' ? { lengthMm: 6.5, name: 'Theirs' } : {})
        }
      : element
  );
  await page.goto('/');
  await page.locator('html[data-alive]').waitFor({ state: 'attached' });
  await page.getByRole('button', { name: 'Import a document' }).click();
  const dialog = page.getByRole('dialog', { name: 'Import a train document' });
  await dialog.locator('input[type=file]').setInputFiles({
    name: 'stranger.json',
    mimeType: 'application/json',
    buffer: Buffer.from(JSON.stringify({ ...heron, name, elements }))
  });
  // Other tests may have changed parts of this drawer: three at least are not in it.
  await expect(dialog.locator('[data-strangers]')).toContainText('parts that are not in your drawer');
  const guider = dialog.getByLabel('In place of Fenlark off-axis guider');
  await expect(guider.locator('option').nth(1)).toContainText('off-axis guider');
  const camera = dialog.getByLabel('In place of Theirs');
  await expect(camera.locator('option:checked')).toHaveText('keep theirs, to be bought');
  await expect(dialog.locator('[data-substituted]')).toContainText('short');
  await expectAccessibleInAllThemes(page, 'a stranger’s train');
  const before = await dialog.locator('[data-substituted]').innerText();
  await camera.selectOption({ index: 1 });
  await expect(dialog.locator('[data-substituted]')).not.toHaveText(before);
  await camera.selectOption({ index: 0 });
  await dialog.getByRole('button', { name: 'Import with these parts' }).click();
  await ready(page);
  const id = page.url().split('/').at(-2)!;
  const { document } = await stored(page, id);
  const numbers = document.elements.map(({ partId }) => partId);
  expect(numbers).not.toContain('ZZ-1');
  expect(document.elements.at(-1)).toMatchObject({ name: 'Theirs' });
  expect(document.elements.at(-1)).not.toHaveProperty('partId');
});
