// Finding the spacing a unit wants: a focus sweep and its tilt plate, the next try from the drawer, the trainer.
import { randomUUID } from 'node:crypto';
import longTom from '../demo/long-tom.json' with { type: 'json' };
import { expect, expectAccessible, openCopy, test } from './lodestone.ts';
import type { Page } from '@playwright/test';

/** Long Tom with only some of its experiments. */
async function tuneWith(page: Page, experiments: readonly unknown[], name: string): Promise<string> {
  const made = await page.request.post('/api/trains', {
    data: { saveId: randomUUID(), document: { ...longTom, name, tuning: { experiments } } }
  });
  const { id } = (await made.json()) as { id: string };
  await page.goto(`/trains/${id}/tune`);
  await page.locator('[data-list=experiments]').click();
  return id;
}
interface Kept {
  document: {
    elements: { partId?: string }[];
    tuning?: { experiments?: { sweep?: { astigmatismUm: number; tiltUm: number[] } }[]; plate?: { screws: number } };
  };
}
const kept = async (page: Page, id: string): Promise<Kept['document']> =>
  ((await (await page.request.get(`/api/trains/${id}`)).json()) as Kept).document;

test('a focus sweep gives the focal surface and what to turn the plate’s screws by; it counts as an experiment, and says which frames it lacks', async ({
  page
}) => {
  const { id } = await openCopy(page, 'Long Tom', 'tune');
  await page.locator('[data-list=frames]').click();
  await page.getByLabel('Night of the simulated camera').selectOption('tilt');
  await page.locator('[data-list=sweep]').click();
  await expect(page.getByText('Frames at five or more focuser positions')).toBeVisible();
  await page.locator('[data-simulate-sweep]').click();
  await expect(page.getByLabel('Frames read')).toBeVisible();
  await expect(page.locator('[data-sweep-read="9"]')).toBeVisible({ timeout: 100_000 });
  // The simulated night tilts the sensor by 80 μm over the half diagonal; a step of its focuser was not said.
  const across = Number(await page.locator('[data-tilt]').getAttribute('data-tilt'));
  expect(across).toBeGreaterThan(80);
  expect(across).toBeLessThan(200);
  await expect(page.getByText(/by how fast the stars grow \(assumed/)).toBeVisible();
  await expect(page.locator('[data-tilt-face]')).toBeVisible();
  await expect(page.locator('[data-focal-surface]')).toBeVisible();

  // Said, it is taken as said: everything in proportion.
  const step = page.getByLabel('What one step moves the sensor by, µm');
  await step.fill('8');
  await expect(page.locator('[data-otherwise]')).toContainText('Stars grow as if a step moved the sensor by');
  await expect
    .poll(async () => Number(await page.locator('[data-tilt]').getAttribute('data-tilt')) / across)
    .toBeGreaterThan(1.5);
  await expect(page.getByText(/by how fast the stars grow/)).toHaveCount(0);

  await page.getByLabel('Screws of the plate').selectOption('3');
  await expect(page.locator('[data-turn]')).toHaveCount(3);
  await expect(page.locator('[data-screw]')).toHaveCount(3);
  // One of them may have nothing to do: what is told of all three depends on the kind of plate.
  const ways = async () => (await page.locator('[data-turn]').allTextContents()).join(' ');
  const way = await ways();
  await page.getByLabel('Kind of plate').selectOption('push-pull');
  await expect.poll(ways).not.toBe(way);
  await expectAccessible(page, 'a sweep with its tilt plate');

  await page.locator('[data-keep-sweep]').click();
  await expect.poll(async () => (await kept(page, id)).tuning?.experiments?.at(-1)?.sweep?.tiltUm?.length).toBe(2);
  expect((await kept(page, id)).tuning?.plate?.screws).toBe(3);
  await page.locator('[data-list=experiments]').click();
  await expect(page.getByRole('list', { name: 'Experiments' }).getByRole('listitem').last()).toContainText('a sweep:');

  // Without those before the focus it says which way to go; a position can be said by hand.
  await page.locator('[data-list=sweep]').click();
  const members = page.getByRole('list', { name: 'Frames of the sweep' }).getByRole('listitem');
  for (let left = 0; left < 4; left++) await members.first().getByRole('button').click();
  await expect(page.locator('[data-sweep-message]')).toContainText('no minimum');
  // One more goes: too few to read.
  await members.first().getByRole('button').click();
  await expect(page.getByText('4 of 5 positions are known')).toBeVisible();
  await page.getByRole('button', { name: 'Start again' }).click();
  await page.locator('[data-take-list]').click();
  await expect(page.locator('[data-sweep-read="9"]')).toBeVisible();
  await members.first().getByRole('textbox').fill('');
  await expect(page.locator('[data-sweep-read="8"]')).toBeVisible();

  // The tilt is there after a reload, without the frames.
  await page.reload();
  await page.locator('[data-list=sweep]').click();
  await expect(page.locator('[data-turn]')).toHaveCount(3);
});

test('one entry: both schools are offered; the drawer builds the next try, it stands on the rail in one step, and comes off again', async ({
  page
}) => {
  const id = await tuneWith(page, [], 'First entry');
  const before = (await kept(page, id)).elements.length;
  await page.getByLabel('By eye').selectOption('outward');
  await page.locator('[data-add-eye]').click();
  await expect(page.locator('[data-schools]')).toContainText('taught both ways');
  await page.getByRole('button', { name: /radial: too short/ }).click();
  const found = page.locator('[data-found-try]');
  await expect(found).toContainText(/1 joint to open/);
  await expectAccessible(page, 'the next try');
  await page.emulateMedia({ media: 'print' });
  await expect(page.getByRole('heading', { name: /First entry: the next try/ })).toBeVisible();
  await expect(page.getByText('Open, in this order')).toBeVisible();
  await expect(page.getByRole('list', { name: 'Experiments' })).toBeHidden();
  await page.emulateMedia({ media: 'screen' });

  await page.locator('[data-put-on-rail]').click();
  await expect(found).toContainText('On the rail');
  await expect.poll(async () => (await kept(page, id)).elements.length).toBeGreaterThan(before);
  await expect(page.getByText(/Now at 87\.\d\d mm\. Enter/)).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.getByText(/Now at 86\.\d\d mm\. Enter/)).toBeVisible();
  await expect.poll(async () => (await kept(page, id)).elements.length).toBe(before);
});

test('a frame of another camera does not go into the series', async ({ page }) => {
  await tuneWith(
    page,
    [{ spacingMm: 85, radial: { value: 0.1, standard: 0.01 }, camera: 'Another camera', binning: 1 }],
    'Two cameras'
  );
  await page.locator('[data-list=frames]').click();
  await page.locator('[data-simulate]').click();
  await expect(page.locator('[data-frame][data-state=read]')).toBeVisible({ timeout: 60_000 });
  await page.keyboard.press('e');
  await expect(page.getByText('“Another camera”')).toBeVisible();
  await expect(page.getByRole('list', { name: 'Experiments' }).getByRole('listitem')).toHaveCount(1);
});

test('the trainer: a round by keys, why it is so, the score that stays, and out again', async ({ page }) => {
  await openCopy(page, 'Long Tom', 'tune');
  await page.locator('[data-list=frames]').click();
  await page.locator('[data-train]').click();
  await expect(page.locator('[data-trainer=asking]')).toBeVisible({ timeout: 60_000 });
  // What the stars say is not given away.
  await expect(page.locator('[data-whiskers=outward]')).toHaveCount(0);
  await page.keyboard.press('2');
  await expect(page.locator('[data-note]')).toContainText('the corners were stretched');
  await expect(page.locator('[data-say]')).toBeDisabled();
  await page.keyboard.press('1');
  await expectAccessible(page, 'a round of the trainer');
  await page.keyboard.press('n');
  await expect(page.locator('[data-trainer=told]')).toBeVisible();
  await expect(page.locator('[data-told]')).not.toBeEmpty();
  await expect(page.locator('[data-score]')).toHaveAttribute('data-score', /^[01]\/1$/);
  await page.keyboard.press('n');
  await expect(page.locator('[data-trainer=asking]')).toBeVisible({ timeout: 60_000 });
  await expect(page.locator('[data-score]')).toHaveAttribute('data-score', /^[01]\/1$/);
  await page.getByRole('button', { name: 'Leave the trainer' }).click();
  await expect(page.locator('[data-trainer]')).toHaveCount(0);
  await page.reload();
  await page.locator('[data-list=frames]').click();
  await page.locator('[data-train]').click();
  await expect(page.locator('[data-score]')).toHaveAttribute('data-score', /^[01]\/1$/);
});
