// Test frames: dropped, simulated, brought by a capture program; the star-shape map, its loupes, and two of them compared.
import { spawnSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import longTom from '../demo/long-tom.json' with { type: 'json' };
import { expect, expectAccessible, openCopy, simulated, test } from './lodestone.ts';
import type { Page } from '@playwright/test';

const folder = mkdtempSync(join(tmpdir(), 'lodestone-e2e-'));

const drifting = (): string => simulated('drift.fits', '--drift=14', '--drift-direction=35', '--seeing=10');

async function toTune(page: Page) {
  const copy = await openCopy(page, 'Long Tom', 'tune');
  return copy;
}
const choose = (page: Page, ...files: string[]) =>
  page.getByLabel('Test frames', { exact: true }).first().setInputFiles(files);
const headline = (page: Page) => page.locator('[data-headline]');

/** Drops files on whatever is there, as a file manager does. */
async function drop(page: Page, files: { name: string; base64: string }[]) {
  const data = await page.evaluateHandle((all) => {
    const transfer = new DataTransfer();
    for (const { name, base64 } of all) {
      const bytes = Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0));
      transfer.items.add(new File([bytes], name));
    }
    return transfer;
  }, files);
  await page.dispatchEvent('main', 'dragover', { dataTransfer: data });
  await page.dispatchEvent('main', 'drop', { dataTransfer: data });
}

test('a frame dropped on the Build page is read under Tune, and says what is wrong with it', async ({ page }) => {
  const { id } = await openCopy(page, 'Long Tom');
  await drop(page, [{ name: 'drift.fits', base64: readFileSync(drifting()).toString('base64') }]);
  await page.waitForURL(`**/trains/${id}/tune`);
  await expect(headline(page)).toHaveText('Tracking, not spacing');
  await expect(page.locator('[data-finding=tracking]').first()).toContainText(/in one direction, 3\d° from horizontal/);
  await expect(page.locator('[data-profile]')).toBeVisible();
  await expectAccessible(page, 'Tune with a frame');
});

test('a frame that was dropped is there after a reload, with what it said, until it is taken away', async ({
  page
}) => {
  await toTune(page);
  await choose(page, drifting());
  await expect(headline(page)).toHaveText('Tracking, not spacing');
  await expect(page.locator('[data-kept="1"]')).toBeVisible();
  await page.reload();
  await expect(page.locator('[data-frame="drift.fits"][data-state=read]')).toBeVisible();
  await expect(headline(page)).toHaveText('Tracking, not spacing');
  await page.getByRole('button', { name: 'Remove it' }).click();
  await expect(page.locator('[data-frame="drift.fits"]')).toHaveCount(0);
  await page.reload();
  await expect(page.locator('[data-frame="drift.fits"]')).toHaveCount(0);
});

test('the map: whiskers, zoom and loupes by keys; the night’s picture is red alone', async ({
  page,
  context,
  baseURL
}) => {
  await context.addCookies([{ name: 'lodestone-theme', value: 'night', url: baseURL! }]);
  await toTune(page);
  await choose(page, drifting());
  await expect(headline(page)).toBeVisible({ timeout: 60_000 });
  const whiskers = page.locator('[data-whiskers]').first();
  await expect(whiskers).toHaveAttribute('d', /^M/);
  await page.keyboard.press('w');
  await expect(page.locator('[data-whiskers]')).toHaveCount(0);
  await page.keyboard.press('w');

  const map = page.locator('#star-map');
  await map.focus();
  const whole = Number(await map.getAttribute('data-scale'));
  await page.keyboard.press('+');
  await page.keyboard.press('+');
  await expect.poll(async () => Number(await map.getAttribute('data-scale'))).toBeGreaterThan(1.8 * whole);
  await page.keyboard.press('0');
  await expect(map).toHaveAttribute('data-scale', whole.toFixed(4));

  await page.keyboard.press('l');
  const loupe = page.locator('[data-loupe="3"]');
  await expect(page.locator('[data-loupe]')).toHaveCount(5);
  const before = await loupe.boundingBox();
  await loupe.focus();
  await page.keyboard.press('ArrowRight');
  await expect.poll(async () => (await loupe.boundingBox())!.x).toBeGreaterThan(before!.x + 3);
  await page.keyboard.press('Delete');
  await expect(page.locator('[data-loupe]')).toHaveCount(4);
  await page.keyboard.press('a');
  await expect(page.locator('[data-loupe]')).toHaveCount(5);

  // What the canvas shows is there, and no green or blue is in it.
  const seen = () =>
    page
      .locator('canvas')
      .first()
      .evaluate((canvas: HTMLCanvasElement) => {
        const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
        let [red, other] = [0, 0];
        for (let at = 0; at < data.length; at += 4) {
          red = Math.max(red, data[at]!);
          other = Math.max(other, data[at + 1]!, data[at + 2]!);
        }
        return { red, other };
      });
  await expect.poll(async () => (await seen()).red).toBeGreaterThan(100);
  expect((await seen()).other).toBe(0);
});

test('two frames are compared with a slider, and each can be taken away', async ({ page }) => {
  await toTune(page);
  await choose(page, drifting(), simulated('quiet.fits', '--wants=0', '--seeing=10'));
  await expect(page.locator('[data-frame="drift.fits"][data-state=read]')).toBeVisible({ timeout: 60_000 });
  await expect(page.locator('[data-frame="quiet.fits"][data-state=read]')).toBeVisible({ timeout: 60_000 });
  await page.keyboard.press('c');
  const slider = page.getByRole('slider', { name: 'Left drift.fits, right quiet.fits' });
  await expect(slider).toBeVisible();
  await slider.focus();
  await page.keyboard.press('End');
  await expect(slider).toHaveAttribute('aria-valuenow', '100');
  await page.keyboard.press('ArrowLeft');
  await expect(slider).toHaveAttribute('aria-valuenow', '98');
  await page.getByRole('button', { name: 'Remove quiet.fits' }).click();
  await expect(slider).toHaveCount(0);
  await page.getByRole('button', { name: 'Remove drift.fits' }).click();
  await expect(page.getByRole('heading', { name: 'Test frames' })).toBeVisible();
});

test('reading shows progress, can be cancelled, and a file that is none says why; others go on', async ({ page }) => {
  await toTune(page);
  // Large enough to be caught at it: 60 million pixels of nothing but slopes.
  const header = [
    'SIMPLE  =                    T',
    'BITPIX  =                   16',
    'NAXIS   =                    2',
    'NAXIS1  =                 9600',
    'NAXIS2  =                 6400',
    'END'
  ].map((card) => card.padEnd(80));
  const large = join(folder, 'large.fits');
  writeFileSync(large, Buffer.concat([Buffer.from(header.join('').padEnd(2880)), Buffer.alloc(9600 * 6400 * 2, 17)]));
  await choose(page, large);
  const row = page.locator('[data-frame="large.fits"]');
  await expect(row).toHaveAttribute('data-state', 'reading');
  await expect(page.getByRole('progressbar').first()).toBeVisible();
  await page.getByRole('button', { name: 'Cancel large.fits' }).click();
  await expect(row).toHaveAttribute('data-state', 'cancelled');

  const note = join(folder, 'note.fits');
  writeFileSync(note, 'no frame at all');
  await choose(page, note, simulated('quiet.fits', '--seeing=10'));
  await expect(page.locator('[data-frame="note.fits"]')).toHaveAttribute('data-state', 'failed');
  await expect(page.locator('[data-frame="note.fits"]')).toContainText('no FITS, TIFF or PNG');
  await expect(page.locator('[data-frame="quiet.fits"]')).toHaveAttribute('data-state', 'read');
});

test('a capture program brings a frame by curl while the page is open; it is there after a reload, and can be deleted', async ({
  page,
  baseURL
}) => {
  const { id } = await toTune(page);
  await expect(page.getByRole('heading', { name: 'Test frames' })).toBeVisible();
  const file = drifting();
  const curl = (body: string, name: string) =>
    spawnSync(
      'curl',
      [
        ...['-s', '-w', '\n%{http_code}', '--data-binary', `@${body}`],
        ...['--url-query', `name=${name}`, `${baseURL}/api/trains/${id}/frames`]
      ],
      { encoding: 'utf8' }
    ).stdout;
  // Without a type, as some programs send it, a body is one all the same.
  const untyped = spawnSync('curl', [
    '-s',
    '-H',
    'Content-Type:',
    '--data-binary',
    '@package.json',
    `${baseURL}/api/trains/${id}/frames`
  ]);
  expect(untyped.stdout.toString()).toContain('no FITS');
  expect(curl(file, 'night #1 & 50%')).toMatch(/"number":1.*\n201$/s);
  await expect(headline(page)).toHaveText('Tracking, not spacing');
  await expect(page.locator('[data-frame="night #1 & 50%"]')).toHaveAttribute('data-state', 'read');
  // The same again changes nothing; what is no frame is refused with a reason.
  expect(curl(file, 'again')).toMatch(/\n200$/);
  expect(curl('package.json', 'no-frame')).toMatch(/no FITS.*\n415$/s);

  await page.reload();
  await expect(page.locator('[data-frame]')).toHaveCount(1);
  await expect(headline(page)).toHaveText('Tracking, not spacing');
  await expect(page.locator('canvas').first()).toBeVisible({ timeout: 30_000 });
  await page.getByRole('button', { name: 'Remove night #1 & 50%' }).click();
  await expect(page.locator('[data-frame]')).toHaveCount(0);
  await page.reload();
  await expect(page.getByRole('heading', { name: 'Test frames' })).toBeVisible();
});

/** Two FITS files in one: the second as an extension of the first. */
function together(one: string, other: string): string {
  const extension = readFileSync(other);
  extension.write("XTENSION= 'IMAGE   '".padEnd(80), 0, 'latin1');
  const file = join(folder, 'both.fits');
  writeFileSync(file, Buffer.concat([readFileSync(one), extension]));
  return file;
}

test('of a file with two pictures the one that is meant is asked for, and shown again after a reload', async ({
  page
}) => {
  await toTune(page);
  await choose(page, together(simulated('quiet.fits'), drifting()));
  await expect(page.locator('[data-frame-state=failed]')).toContainText(
    'It holds 2 pictures of the same size: 1, 2. State'
  );
  await expectAccessible(page, 'Tune with a file of two pictures');
  // The page is left before what was read of the frame is kept: what was asked is not asked again.
  await page.evaluate(() => {
    const create = FileSystemFileHandle.prototype.createWritable;
    FileSystemFileHandle.prototype.createWritable = function (...words) {
      return this.name === 'summary.json' ? new Promise(() => undefined) : create.apply(this, words);
    };
  });
  await page.getByRole('group', { name: 'Which picture is meant' }).getByRole('button', { name: 'Picture 2' }).click();
  await expect(headline(page)).toHaveText('Tracking, not spacing');
  await page.reload();
  await expect(headline(page)).toHaveText('Tracking, not spacing');
  await expect(page.locator('canvas').first()).toBeVisible();
});

test('the simulated camera takes what it is asked for, on a phone too', async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await toTune(page);
  await page.getByLabel('Night of the simulated camera').selectOption('focus');
  await page.locator('[data-simulate]').click();
  await expect(headline(page)).toHaveText('Out of focus');
  expect(await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth)).toBeLessThanOrEqual(0);
});

test('spacings that were tried: by eye and by a frame, on the chart, kept with the train, accepted, undone', async ({
  page
}) => {
  // Long Tom brings three of its own; its corrector does not know yet what they say.
  const elements = longTom.elements.map((element) =>
    'corrector' in element ? { ...element, corrector: { ...element.corrector, tunedMm: 85.2 } } : element
  );
  const made = await page.request.post('/api/trains', {
    data: { saveId: randomUUID(), document: { ...longTom, name: 'To be tuned', elements } }
  });
  const { id } = (await made.json()) as { id: string };
  await page.goto(`/trains/${id}/tune`);
  await expect(page.locator('[data-experiment]')).toHaveCount(3);
  await expect(page.locator('[data-tuned]')).toHaveText(/^Best at 86\.37 mm \(85\.67 to 86\.83\)$/);
  type Kept = { elements: { corrector?: { tunedMm?: number } }[]; tuning?: { experiments: unknown[] } };
  const kept = async () => (await (await page.request.get(`/api/trains/${id}`)).json()) as { document: Kept };
  const tuned = async () => (await kept()).document.elements.find(({ corrector }) => corrector)?.corrector?.tunedMm;
  const accept = page.getByRole('button', { name: 'Keep 86.37 mm as the tuned back focus' });
  await accept.click();
  await expect(accept).toHaveCount(0);
  await expect.poll(tuned).toBe(86.37);
  await page.keyboard.press('Control+z');
  await expect(accept).toBeVisible();
  await expect.poll(tuned).toBe(85.2);
  const added = page.getByRole('list', { name: 'Experiments' }).getByRole('listitem');

  await page.getByLabel('By eye').selectOption('circling');
  await page.getByLabel('How strongly').selectOption('clearly');
  await page.getByLabel('Against the last one').selectOption('worse');
  await page.locator('[data-add-eye]').click();
  await expect(added.last()).toContainText('by eye: tangential, clearly');

  await page.locator('[data-list=frames]').click();
  await choose(page, simulated('far.fits', '--wants=-1.4', '--seeing=9'));
  await expect(page.locator('[data-frame="far.fits"]')).toHaveAttribute('data-state', 'read');
  await page.keyboard.press('e');
  await expect(added).toHaveCount(5);
  await expect(added.last()).toContainText('far.fits');
  await expectAccessible(page, 'experiments');

  await expect.poll(async () => (await kept()).document.tuning?.experiments.length).toBe(5);

  await page.keyboard.press('Control+z');
  await expect(added).toHaveCount(4);
  await page.getByRole('button', { name: 'Remove experiment 1' }).click();
  await expect(added).toHaveCount(3);
});

test('an open train says why nothing can be kept for its spacing', async ({ page }) => {
  await openCopy(page, 'Heron', 'tune');
  await page.locator('[data-list=experiments]').click();
  await expect(page.getByText('is not known while places are open')).toBeVisible();
});
