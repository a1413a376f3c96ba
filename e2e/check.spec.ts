// Light and guiding, as far as a check tells them: what is missing, what is typed, what it comes to.
import { expect, openCopy, test } from './lodestone.ts';

test('the guider says what it has to know, and with it whether its camera comes to focus', async ({ page }) => {
  await openCopy(page);
  const findings = async (words: RegExp | string) => {
    await page.getByRole('button', { name: /to know|to mend/ }).click();
    await expect(page.locator('#problems')).toContainText(words);
  };
  await findings('give the flange distance of the guide camera');
  await page
    .locator('#problems')
    .getByRole('button', { name: /^not known Whether the guide/ })
    .click();
  const inspector = page.locator('#inspector');
  await expect(inspector.getByRole('heading', { name: 'Fenlark off-axis guider' })).toBeVisible();
  await inspector.getByText('Guide prism', { exact: true }).click();
  const flange = inspector.getByRole('textbox', { name: 'Guide camera, flange to sensor' });
  await flange.fill('12.5');
  await flange.blur();
  await findings(/does not come to focus: its shoulder has to stand \d+\.\d\d mm from the axis/);
  await flange.fill('25');
  await flange.blur();
  // The list stays open, and follows.
  await expect(page.locator('#problems')).not.toContainText('guide camera');
});

test('filters too small for the sensor are told with the size that would do', async ({ page }) => {
  await openCopy(page, 'Long Tom');
  await page.getByRole('button', { name: /to know/ }).click();
  await expect(page.locator('#problems')).toContainText(/The darkest corner of the sensor gets \d+ % of the light/);
  await page
    .locator('#problems')
    .getByRole('button', { name: /darkest corner/ })
    .click();
  await expect(page.locator('#inspector').getByRole('heading', { name: 'Harnwick five-slot wheel' })).toBeVisible();
});
