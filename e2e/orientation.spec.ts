// What tells how a camera stands: frames of one setup together, which row is the top, a card before the sensor.
import { randomUUID } from 'node:crypto';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { writeFits, type Frame } from '../core/src/frame/index.ts';
import longTom from '../demo/long-tom.json' with { type: 'json' };
import { expect, expectAccessible, openCopy, simulated, test } from './lodestone.ts';
import type { Page } from '@playwright/test';

const folder = mkdtempSync(join(tmpdir(), 'lodestone-e2e-'));
const choose = (page: Page, ...files: string[]) =>
  page.getByLabel('Test frames', { exact: true }).first().setInputFiles(files);

/** A frame whose file does not say which way its rows run. */
function silent(): string {
  const bytes = readFileSync(simulated('silent.fits', '--drift=14', '--drift-direction=35', '--seeing=10'));
  const at = bytes.indexOf('ROWORDER');
  expect(at).toBeGreaterThan(0);
  bytes.write('OTHERKEY', at, 'ascii');
  const file = join(folder, 'silent.fits');
  writeFileSync(file, bytes);
  return file;
}

/** An even sky with a card's edge before its sensor, at an angle of the picture. */
function coveredAt(deg: number): string {
  const [widthPx, heightPx] = [900, 640];
  const half = Math.hypot(widthPx, heightPx) / 2;
  const pixels = Uint16Array.from({ length: widthPx * heightPx }, (_, at) => {
    const [x, y] = [(at % widthPx) - widthPx / 2, Math.floor(at / widthPx) - heightPx / 2];
    const out = (x * Math.cos((deg * Math.PI) / 180) + y * Math.sin((deg * Math.PI) / 180)) / half;
    return 500 + (out > 0.35 ? 120 : 900) + ((at * 7919) % 41);
  });
  const frame: Frame = {
    ...{ widthPx, heightPx, planes: [pixels], scale: 1, zero: 0, blank: undefined, mosaic: undefined },
    ...{ bottomUp: true, keywords: new Map() }
  };
  const file = join(folder, `card${deg}.fits`);
  writeFileSync(file, writeFits(frame, { bitpix: 16 }));
  return file;
}

test('frames of one setup are kept together, tell how far they differ by themselves, and go with one undo', async ({
  page
}) => {
  await openCopy(page, 'Long Tom', 'tune');
  const before = await page.getByRole('list', { name: 'Experiments' }).getByRole('listitem').count();
  await choose(page, ...[1, 2, 3, 4].map((seed) => simulated(`same-${seed}.fits`, `--seed=${seed}`, '--seeing=10')));
  await expect(page.locator('[data-state=read]')).toHaveCount(4);
  await page.locator('[data-list=experiments]').click();
  await page.getByText('Several frames of this setup').click();
  const boxes = page.getByRole('list', { name: 'Frames of this setup' }).getByRole('checkbox');
  await expect(boxes).toHaveCount(4);
  for (const box of await boxes.all()) await expect(box).toBeChecked();
  await expectAccessible(page, 'frames of one setup');
  await page.getByRole('button', { name: 'Keep these 4 frames' }).click();
  const experiments = page.getByRole('list', { name: 'Experiments' }).getByRole('listitem');
  await expect(experiments).toHaveCount(before + 4);
  await expect(page.locator('[data-scatter]')).toContainText(/4 frames taken without a change differ by ±0\.\d+/);
  // What was kept is not offered again.
  await expect(page.getByText('Several frames of this setup')).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await expect(experiments).toHaveCount(before);
});

test('which row is the top is asked once a camera, and frames are read anew', async ({ page }) => {
  await openCopy(page, 'Long Tom', 'tune');
  await choose(page, silent());
  const drift = page.locator('[data-finding=tracking]').first();
  await expect(drift).toContainText(/3\d° from horizontal/);
  const asked = page.locator('[data-row-order]');
  await expect(asked).toHaveAttribute('data-row-order', 'assumed');
  await asked.getByRole('combobox').selectOption('top-down');
  await expect(drift).toContainText(/−3\d° from horizontal/);
  await expect(asked).toHaveAttribute('data-row-order', 'top-down');
  await expect(asked).toContainText('Kept with');
  await page.reload();
  await expect(drift).toContainText(/−3\d° from horizontal/);
  // A file that says it is not asked about.
  await choose(page, simulated('said.fits', '--drift=14', '--drift-direction=35', '--seeing=10'));
  await expect(drift).toContainText(/3\d° from horizontal/);
  await expect(asked).toHaveCount(0);
});

test('a card held at two screws tells where they are in the picture', async ({ page }) => {
  const sweep = { astigmatismUm: 4, standardUm: 2, curvatureUm: 10, tiltUm: [60, 20], tiltStandardUm: 4 };
  const made = await page.request.post('/api/trains', {
    data: {
      saveId: randomUUID(),
      document: { ...longTom, name: 'Covered', tuning: { experiments: [{ spacingMm: 86.4, sweep }] } }
    }
  });
  const { id } = (await made.json()) as { id: string };
  await page.goto(`/trains/${id}/tune`);
  await page.locator('[data-list=sweep]').click();
  await page.getByLabel('Screws of the plate').selectOption('3');
  const covered = page.locator('[data-covered]');
  await expect(covered).toContainText('hold a card into the light just before the sensor at screw 1');
  await choose(page, coveredAt(40));
  await page.getByRole('button', { name: /covered at screw 1/ }).click();
  await expect(covered).toContainText('now hold it at screw 2');
  expect(Number(await page.getByLabel('first one at').inputValue())).toBeGreaterThan(25);
  // Clockwise in the picture: it is mirrored.
  await choose(page, coveredAt(-80));
  await page.getByRole('button', { name: /covered at screw 2/ }).click();
  await expect(page.getByLabel('picture is mirrored')).toBeChecked();
  await expect(page.getByText('Where the screws are is confirmed.')).toBeVisible();
  await expect(covered).toHaveCount(0);
  expect(Math.abs(Number(await page.getByLabel('first one at').inputValue()) - 140)).toBeLessThan(15);
});
