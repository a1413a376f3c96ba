// What takes room, how much frames may take, and deleted trains that go for good.
import { expect, expectAccessible, copyOf, test } from './lodestone.ts';

test.use({ apart: 'settings' });

test('a deleted train is listed, brought back, deleted again, and then permanently', async ({ page }) => {
  const { id, name } = await copyOf(page);
  const other = await copyOf(page, 'Long Tom');
  for (const each of [id, other.id]) {
    expect((await page.request.patch(`/api/trains/${each}`, { data: { state: 'deleted' } })).ok()).toBe(true);
  }
  expect((await page.request.delete(`/api/trains/${id}`)).ok()).toBe(true);
  expect((await page.request.delete(`/api/trains/${id}`)).status()).toBe(404);

  await page.goto('/settings');
  await expectAccessible(page, 'settings');
  await expect(page.locator('[data-room=deleted]')).toContainText('1 train');
  await page.getByRole('link', { name: 'Show 1 deleted train' }).click();
  const line = page.locator('main li').filter({ hasText: other.name });
  await expect(line).toContainText('1 revision');
  await expect(page.getByText(name)).toHaveCount(0);
  await line.getByRole('button', { name: `Bring back ${other.name}` }).click();
  await expect(line).toHaveCount(0);
  await page.getByRole('group', { name: 'Which trains to show' }).getByRole('button', { name: 'In use' }).click();
  await page.getByRole('button', { name: `Delete ${other.name}` }).click();
  await page.getByRole('group', { name: 'Which trains to show' }).getByRole('button', { name: 'Deleted' }).click();

  await line.getByRole('button', { name: `Delete ${other.name} permanently` }).click();
  const question = page.getByRole('dialog');
  await expect(question).toContainText('1 revision will be deleted. This cannot be undone.');
  await expectAccessible(page, 'the question before a train is deleted permanently');
  await question.getByRole('button', { name: 'Keep' }).click();
  await expect(line).toBeVisible();
  await line.getByRole('button', { name: `Delete ${other.name} permanently` }).click();
  await question.getByRole('button', { name: 'Delete permanently' }).click();
  await expect(page.getByText(`${other.name} deleted permanently.`)).toBeVisible();
  await expect(page.getByText('Nothing was deleted.')).toBeVisible();
  expect((await page.request.get(`/api/trains/${other.id}`)).status()).toBe(404);
});

test('room for frames is set by hand; less than is taken is asked about; nonsense is refused', async ({ page }) => {
  const { id } = await copyOf(page, 'Long Tom');
  const take = async (seed: number) => {
    const taken = await page.request.post(`/api/trains/${id}/camera`, { data: { seed, binning: 8 } });
    expect(taken.ok(), await taken.text()).toBe(true);
    const frame = await page.request.post(`/api/trains/${id}/frames?name=seed-${seed}.fits`, {
      data: await taken.body(),
      headers: { 'content-type': 'application/fits' }
    });
    expect(frame.ok(), await frame.text()).toBe(true);
  };
  for (const seed of [1, 2]) await take(seed);
  await page.goto('/settings');
  const pixels = page.locator('[data-room=pixels]');
  await expect(pixels).toContainText('2 frames');
  const limit = page.getByRole('textbox', { name: 'At most' });
  await expect(limit).toHaveValue('8');
  await limit.fill('a lot');
  await limit.press('Enter');
  await expect(page.getByRole('alert')).toContainText('“a lot” is not a size');
  await limit.fill('2,5');
  await limit.press('Enter');
  await expect(page.getByText('Test frames may take 2.50 GB.')).toBeVisible();
  await expect(page.getByRole('alert')).toHaveCount(0);
  await limit.fill('0');
  await limit.press('Enter');
  const question = page.getByRole('dialog');
  await question.getByRole('button', { name: 'Keep them' }).click();
  await expect(limit).toHaveValue('2.5');
  await expect(pixels).toContainText('2 frames');
  await limit.fill('0');
  await limit.press('Enter');
  await question.getByRole('button', { name: 'Delete pixels' }).click();
  await expect(pixels).toContainText('1 frame');
  await page.reload();
  await expect(limit).toHaveValue('0');
  for (const frameLimit of [-1, 1.5, 1e16, '8', null]) {
    expect((await page.request.put('/api/room', { data: { frameLimit } })).status()).toBe(400);
  }
});
