// Parts to have made: faces, flange, screws, variants, and the drawing of them.
import avocet from '../demo/avocet.json' with { type: 'json' };
import dormouse from '../demo/dormouse.json' with { type: 'json' };
import { expect, expectAccessibleInAllThemes, openTrain, test } from './lodestone.ts';

test.use({ acceptDownloads: true });

test('a bayonet adapter is made to measure: its flange is asked for, and it goes into the train', async ({ page }) => {
  await openTrain(page, dormouse);
  await page.locator('#rail').focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Shift+M');
  const dialog = page.getByRole('dialog', { name: /^Made to measure/ });
  await expect(dialog.getByText(/A lathe makes no bayonet: a flange/)).toBeVisible();
  await dialog.getByLabel('Sky face: flange thickness').fill('3,2');
  await dialog.getByLabel('Sky face: screws of the flange').fill('3');
  await dialog.getByLabel('Sky face: screw circle of the flange').fill('56');
  await dialog.getByLabel('Sky face: screw size').selectOption('M2');
  await expect(dialog.getByText(/11\.91 mm long, 8\.71 mm of it turned/)).toBeVisible();
  await expect(dialog.getByRole('img', { name: /Bayonet adapter 8\.71/ })).toContainText('3 × M2, 4 deep, on Ø56');

  for (const kind of ['PDF', 'SVG', 'DXF', 'STL']) {
    const download = page.waitForEvent('download');
    await dialog.getByRole('button', { name: kind, exact: true }).click();
    expect((await download).suggestedFilename()).toMatch(
      new RegExp(`^Bayonet adapter 8\\.71 for Dormouse .*\\.${kind.toLowerCase()}$`)
    );
  }
  await expectAccessibleInAllThemes(page, 'made to measure');

  // What was typed is there again.
  await page.keyboard.press('Escape');
  await expect(dialog).toHaveCount(0);
  await page.keyboard.press('Shift+M');
  await expect(dialog.getByLabel('Sky face: flange thickness')).toHaveValue('3.2');
  await dialog.getByRole('button', { name: 'Put it into the train' }).click();
  await expect(page.locator('[data-verdict]').first()).toContainText('Within tolerance');
  await page.locator('[data-save-state="saved"]').waitFor();
  await page.keyboard.press('Control+Z');
  await expect(page.locator('[data-verdict]').first()).toContainText('0.22 mm long');
});

test('variants stand side by side on one sheet', async ({ page }) => {
  await openTrain(page, avocet);
  await page.locator('#rail').focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Shift+M');
  const dialog = page.getByRole('dialog', { name: /^Made to measure/ });
  await dialog.getByRole('button', { name: 'Add a variant' }).click();
  await dialog.locator('[data-variant=B]').getByLabel('Marlfield bolted wheel').check();
  const sheet = dialog.getByRole('img', { name: /^Drawing: Adapter for Avocet/ });
  for (const words of ['11.38', '31.70', 'without Marlfield bolted']) await expect(sheet).toContainText(words);
  const download = page.waitForEvent('download');
  await dialog.getByRole('button', { name: 'PDF', exact: true }).click();
  expect((await download).suggestedFilename()).toMatch(/^Adapter for Avocet .*\.pdf$/);
  // Screws that no driver reaches are refused, with the circle on which one does.
  await dialog.getByLabel('Sky face: screw size').selectOption('M6');
  await dialog.getByLabel('Sky face: screws go').selectOption('through');
  await expect(
    dialog.locator('[data-variant=A]').getByText(/It cannot be made: the screws of its sky face/)
  ).toBeVisible();
  await expect(dialog.locator('[data-variant=A]').getByRole('button', { name: 'Put A into the train' })).toBeDisabled();
});
