// Every state of a train: on one line, looked at, named, restored; and what can be taken off a part.
import type { Page } from '@playwright/test';
import { randomUUID } from 'node:crypto';
import { readFileSync, writeFileSync } from 'node:fs';
import avocet from '../demo/avocet.json' with { type: 'json' };
import {
  copyOf,
  expect,
  expectAccessible,
  expectAccessibleInAllThemes,
  openCopy,
  openTrain,
  simulated,
  stored,
  stranger,
  test
} from './lodestone.ts';

const verdict = (page: Page) => page.locator('[data-verdict]');
const saved = (page: Page) => page.locator('[data-save-state="saved"]');

/** Somebody makes the wheel as long as that. */
async function wheelOf(page: Page, id: string, lengthMm: number) {
  const { revision, document } = await stored(page, id);
  const elements = document.elements.map((element) => (element.id === 'wheel' ? { ...element, lengthMm } : element));
  const reply = await page.request.post(`/api/trains/${id}/revisions`, {
    data: { saveId: randomUUID(), basedOn: revision.number, document: { ...document, elements } }
  });
  expect(reply.ok()).toBe(true);
}

test('a state is looked at on the rail, named and restored; undo goes on after a reload', async ({ page }) => {
  const { id } = await openCopy(page, 'Long Tom', 'log');
  await wheelOf(page, id, 21.4);
  await wheelOf(page, id, 25);
  await expect(page.locator('[data-timeline]')).toContainText('Harnwick five-slot wheel 20.40 mm to 25.00 mm');
  await expect(verdict(page)).toContainText('4.43 mm long');
  await page.getByRole('button', { name: /^Open the states of/ }).click();
  await expect(page.locator('[data-revision="2"]')).toContainText('20.40 mm to 21.40 mm');
  await page.locator('[data-revision="2"]').click();
  await expect(page.locator('[data-looked="2"]')).toBeVisible();
  await expect(verdict(page)).toContainText('0.83 mm long');
  // Only looked at: nothing was saved.
  expect((await stored(page, id)).revision.number).toBe(3);
  const name = page.locator('[data-looked] input');
  await name.fill('With the old wheel');
  await name.press('Enter');
  await expect(page.getByRole('button', { name: 'With the old wheel (2)' })).toBeVisible();
  await page.getByRole('slider', { name: 'State to look at' }).press('Home');
  await expect(page.locator('[data-looked="1"]')).toBeVisible();
  await expect(verdict(page)).toContainText('0.17 mm short');
  await page.getByRole('button', { name: 'Restore it' }).click();
  await expect(page.locator('[data-looked]')).toHaveCount(0);
  await expect(verdict(page)).toContainText('0.17 mm short');
  await expect(saved(page)).toBeVisible();
  await page.reload();
  await expect(page.getByRole('button', { name: 'With the old wheel (2)' })).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(verdict(page)).toContainText('4.43 mm long');
  await page.keyboard.press('Control+Shift+z');
  await expect(verdict(page)).toContainText('0.17 mm short');
});

test('a history that cannot be read says so, and is read again', async ({ page }) => {
  await page.route('**/history', (route) => route.abort());
  await openCopy(page, 'Heron', 'log');
  await expect(page.getByText('The history cannot be read just now')).toBeVisible();
  await page.unroute('**/history');
  await page.getByRole('region', { name: 'History' }).getByRole('button', { name: 'Try again' }).click();
  await expect(page.getByText('One state so far.')).toBeVisible();
});

test('a tilt plate comes off and goes back on, by the part and by the verdict', async ({ page }) => {
  await openTrain(page, avocet);
  await expect(verdict(page)).toContainText('Within tolerance');
  await page.locator('#rail-element-camera').click();
  await page.locator('#inspector').getByRole('button', { name: 'Take it off' }).click();
  await expect(verdict(page)).toContainText('4.98 mm short');
  await page.getByRole('button', { name: 'Put the tilt plate (5.00 mm) on Marlfield mono 18 × 13' }).click();
  await expect(verdict(page)).toContainText('Within tolerance');
  // A lens whose mount goes back on asks for its flange alone, and the face under it is covered again.
  await page.getByRole('option', { name: /^Host/ }).click();
  await page.locator('#inspector').getByRole('button', { name: 'Put it on' }).click();
  await expect(verdict(page)).toContainText('5.22 mm long');
  await expect(page.locator('#rail-joint-flange')).toHaveAttribute('aria-label', /bayonet/i);
  await page.keyboard.press('Control+z');
  await expect(verdict(page)).toContainText('Within tolerance');
});

test('the history is readable in every theme', async ({ page }) => {
  const { id } = await openCopy(page, 'Long Tom', 'log');
  await wheelOf(page, id, 21.4);
  await page.locator('[data-revision="2"]').waitFor();
  await page.getByRole('slider', { name: 'State to look at' }).press('Home');
  await expect(page.locator('[data-looked="1"]')).toBeVisible();
  await expectAccessibleInAllThemes(page, 'History');
});

test('a link shows the train to whoever has it, and nothing else; taken back it leads nowhere', async ({ page }) => {
  const { id, name } = await openCopy(page, 'Long Tom', 'check');
  await page.getByRole('button', { name: `More of ${name}` }).click();
  await page.getByRole('menuitem', { name: /^Share/ }).click();
  await page.getByRole('button', { name: 'Make a link' }).click();
  const address = await page.getByRole('textbox', { name: 'Link' }).inputValue();
  await expect(page.getByRole('img', { name: 'The link as a QR code' })).toBeVisible();
  const visitor = await stranger(page);
  await visitor.goto(address);
  await expect(visitor.getByRole('heading', { level: 1, name })).toBeVisible();
  await expect(visitor.locator('.verdict')).toContainText('Within tolerance: 0.17 mm short');
  expect(await visitor.locator('a, script, form, button').count()).toBe(0);
  // What was changed since is seen too; the page itself cannot be written to.
  await wheelOf(page, id, 21.4);
  await visitor.reload();
  await expect(visitor.locator('.verdict')).toContainText('0.83 mm long');
  expect((await visitor.request.post(address, { data: {} })).status()).toBeGreaterThanOrEqual(400);
  await page.getByRole('button', { name: 'Take it back' }).click();
  await expect(page.getByText('Links that hold')).toHaveCount(0);
  expect((await visitor.goto(address))?.status()).toBe(404);
});

test('the page of a train opens from the disk without a network, with the same numbers', async ({ page }) => {
  const { id } = await openCopy(page, 'Long Tom', 'build');
  const verdictThere = await verdict(page).innerText();
  const reply = await page.request.get(`/api/trains/${id}/page`);
  expect(reply.headers()['content-disposition']).toContain('attachment');
  const file = test.info().outputPath('train.html');
  writeFileSync(file, await reply.body());
  const visitor = await stranger(page);
  await visitor.context().setOffline(true);
  await visitor.goto(`file://${file}`);
  await expect(visitor.locator('.verdict')).toHaveText(verdictThere.trim());
  await expect(visitor.getByRole('img')).toBeVisible();
  await expect(visitor.locator('tr.sum').first()).toContainText('93.96 mm');
  await visitor.setViewportSize({ width: 390, height: 844 });
  expect(await visitor.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
});

test('a train is duplicated, archived and brought back from its own menu', async ({ page }) => {
  const { name } = await openCopy(page);
  await page.getByRole('button', { name: `More of ${name}` }).click();
  await page.getByRole('menuitem', { name: 'Duplicate the train' }).click();
  await expect(page.getByRole('heading', { level: 1, name: `${name} copy` })).toBeVisible();
  await page.getByRole('button', { name: `More of ${name} copy` }).click();
  await page.keyboard.press('End');
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/$/);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('heading', { level: 1, name: `${name} copy` })).toBeVisible();
});

test('a night is written down by phone without a network, and is kept once there is one', async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  const { id } = await openCopy(page, 'Long Tom', 'log');
  await page.context().setOffline(true);
  await page.getByRole('button', { name: 'Write down tonight' }).click();
  await page.getByRole('textbox', { name: 'Guiding RMS, ″' }).fill('0,72');
  await page.getByRole('textbox', { name: 'Luminance' }).fill('2.5');
  await page.getByRole('textbox', { name: 'What was wrong' }).fill('Dew at four');
  await page.getByRole('button', { name: 'Keep the night' }).click();
  const nights = page.locator('[data-nights]');
  await expect(nights).toContainText('Luminance 2.5 h · guiding 0.72 ″');
  await expect(nights).toContainText('Dew at four');
  await page.context().setOffline(false);
  await expect(saved(page)).toBeVisible();
  const kept = (await stored(page, id)).document as { nights?: Record<string, { guideRmsArcsec: number }> };
  expect(Object.values(kept.nights ?? {}).map(({ guideRmsArcsec }) => guideRmsArcsec)).toEqual([0.72]);
  await page.reload();
  await expect(nights).toContainText('Dew at four');
  await page.getByRole('button', { name: /^Remove the night of/ }).click();
  await expect(nights).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await expect(nights).toContainText('Dew at four');
});

/** A simulated frame whose file says when, and through what, it was taken. */
function taken(moment: string, filter: string): Buffer {
  const bytes = readFileSync(simulated('taken.fits'));
  const put = (over: string, card: string): void => {
    const at = bytes.indexOf(over.padEnd(8));
    expect(at).toBeGreaterThan(0);
    bytes.write(card.padEnd(80), at, 'latin1');
  };
  put('TELESCOP', `DATE-OBS= '${moment}'`);
  put('INSTRUME', `FILTER  = '${filter}'`);
  return bytes;
}

test('a season adds up the nights of all trains, and what a change did to them', async ({ page }) => {
  const day = (days: number): string => new Date(Date.now() + days * 86_400_000).toISOString().slice(0, 10);
  const { id, name } = await copyOf(page, 'Long Tom');
  await wheelOf(page, id, 21);
  const { revision, document } = await stored(page, id);
  const nights = Object.fromEntries(
    [
      [-4, 0.92],
      [-3, 0.9],
      [1, 0.7],
      [2, 0.71]
    ].map(([on, guideRmsArcsec], at) => [`n-${at}`, { on: day(on!), guideRmsArcsec, hours: { Luminance: 1.5 } }])
  );
  const reply = await page.request.post(`/api/trains/${id}/revisions`, {
    data: { saveId: randomUUID(), basedOn: revision.number, document: { ...document, nights } }
  });
  expect(reply.ok(), await reply.text()).toBe(true);

  await page.goto('/');
  await page.getByRole('link', { name: 'Season' }).click();
  const line = page.locator(`[data-train="${name}"]`);
  await expect(line).toContainText('Luminance 6 h');
  await expect(page.locator('[data-effects]')).toContainText(`${name}, `);
  await expect(page.locator('[data-effects]')).toContainText('Guiding 0.91 to 0.70 ″, −0.21');
  await expectAccessibleInAllThemes(page, 'season');
  await page.getByLabel('From the evening of').fill(day(0));
  await expect(line).toContainText('Luminance 3 h');
  await page.getByLabel('to that of').fill(day(0));
  await expect(line).toHaveCount(0);
  await page.getByRole('button', { name: 'All nights' }).click();
  await expect(line).toContainText('Luminance 6 h');
});

test('a sitting says on which device it was, as its owner calls that', async ({ page }) => {
  await page.goto('/settings');
  const device = page.getByLabel('This device in the history of trains');
  await expect(device).toHaveValue('Computer');
  await device.fill('  Roll-off shed ');
  await device.press('Enter');
  await expect(device).toHaveValue('Roll-off shed');
  await openCopy(page, 'Long Tom', 'log');
  await page.getByRole('button', { name: 'Flats were taken today' }).click();
  await expect(page.locator('[data-timeline]')).toContainText('revisions 1 to 2, Roll-off shed');
});

test('frames that arrived fill in the night they were taken in', async ({ page }) => {
  const { id } = await openCopy(page, 'Long Tom', 'log');
  const sent = await page.request.post(`/api/trains/${id}/frames?name=one`, {
    data: taken('2026-11-20T22:10:00', 'Lum'),
    headers: { 'content-type': 'application/octet-stream' }
  });
  expect(sent.ok(), await sent.text()).toBe(true);
  const nights = page.getByRole('region', { name: 'Nights' });
  await nights.getByRole('button', { name: 'Write down tonight' }).click();
  await expect(nights.locator('[data-arrived]')).toContainText('1 frame of 20 Nov 2026: Luminance 0.02 h, HFR');
  await nights.getByRole('button', { name: 'Take that over' }).click();
  await expect(nights.getByLabel('Evening of')).toHaveValue('2026-11-20');
  await nights.getByRole('button', { name: 'Keep the night' }).click();
  await expect(page.locator('[data-nights]')).toContainText('Luminance');
  await nights.getByRole('button', { name: 'Write down tonight' }).click();
  await expect(nights.getByLabel('Balance')).toBeVisible();
  await expect(nights.locator('[data-arrived]')).toHaveCount(0);
});

test('a train that was deleted for good comes back from a backup, after a look at what that does', async ({ page }) => {
  const { id, name } = await openCopy(page, 'Long Tom', 'log');
  await page.goto('/settings');
  const making = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Make a backup' }).click();
  const file = test.info().outputPath('backup.zip');
  await (await making).saveAs(file);
  await page.request.patch(`/api/trains/${id}`, { data: { state: 'deleted' } });
  expect((await page.request.delete(`/api/trains/${id}`)).ok()).toBe(true);
  const chooser = page.locator('input[type=file]');
  await chooser.setInputFiles({ name: 'x.zip', mimeType: 'application/zip', buffer: Buffer.from('no archive') });
  await expect(page.getByRole('alert')).toContainText('This is no backup');
  await chooser.setInputFiles(file);
  await expect(page.locator('[data-restore="tried"]')).toContainText(`1 train to add: ${name}`);
  expect((await page.request.get(`/api/trains/${id}`)).status()).toBe(404);
  await page.getByRole('button', { name: 'Restore it' }).click();
  await expect(page.locator('[data-restore="done"]')).toContainText('was restored');
  await page.goto(`/trains/${id}/log`);
  await expect(page.getByRole('heading', { level: 1, name })).toBeVisible();
});

test('backups are made on a schedule and kept on the server; one of them is looked at, deleted, and the schedule ended', async ({
  page
}) => {
  await page.goto('/settings');
  const every = page.getByRole('combobox', { name: 'How often a backup is made by itself' });
  await every.selectOption('every week');
  await page.getByRole('combobox', { name: 'How many backups are kept' }).selectOption('3');
  await page.getByRole('button', { name: 'Make one there now' }).click();
  const kept = page.locator('[data-kept] li');
  await expect(kept).toHaveCount(1);
  await expectAccessible(page, 'Settings with a backup that is kept');
  await page.reload();
  await expect(every).toHaveValue('7');
  await expect(kept).toHaveCount(1);
  await kept.getByRole('button', { name: /^Restore/ }).click();
  await expect(page.locator('[data-restore="tried"]')).toContainText('No train to add');
  await expect(page.getByRole('button', { name: 'Restore it' })).toBeDisabled();
  const saving = page.waitForEvent('download');
  await kept.getByRole('link', { name: /^Download/ }).click();
  expect((await saving).suggestedFilename()).toMatch(/^lodestone-.*\.zip$/);
  await kept.getByRole('button', { name: /^Delete/ }).click();
  await expect(kept).toHaveCount(0);
  await every.selectOption('never');
  await expect(every).toHaveValue('');
});

test('the palette finds trains, parts and words of the guide beside commands', async ({ page }) => {
  const { name } = await openCopy(page, 'Long Tom', 'check');
  await page.goto('/');
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox', { name: 'Command' }).fill(name);
  await page.getByRole('option', { name: new RegExp(name) }).click();
  await expect(page.getByRole('heading', { level: 1, name })).toBeVisible();
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox', { name: 'Command' }).fill('R-03');
  await page.getByRole('option', { name: /R-03/ }).click();
  await expect(page).toHaveURL(/\/drawer\/R-03/);
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox', { name: 'Command' }).fill('back focus');
  await expect(page.getByRole('option', { name: /Guide\s*Back focus/ })).toBeVisible();
});

test('the drawer shows which lengths its rings make, and what would fill the rest', async ({ page }) => {
  await page.goto('/drawer');
  await page.getByRole('link', { name: 'Lengths' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'What the rings make' })).toBeVisible();
  await expect(page.locator('[data-reach]')).toContainText('lengths can be made');
  /** How many cannot be made: a worker counts them, a moment after they were asked for. */
  const missing = async () => Number(await page.locator('[data-reach]').getAttribute('data-reach'));
  const usual = await missing();
  await page.getByLabel('within ±, mm').fill('0');
  await expect.poll(missing).toBeGreaterThan(usual);
  const before = await missing();
  await page.getByLabel('within ±, mm').fill('0.3');
  await expect.poll(missing).toBeLessThan(before);
  await page.getByLabel('to, mm').fill('1e9');
  await expect(page.getByRole('alert')).toContainText('200');
  await page.getByLabel('to, mm').fill('80');
  await expect(page.locator('[data-purchase="1"]')).toBeVisible();
  await expectAccessibleInAllThemes(page, 'What the rings make');
});
