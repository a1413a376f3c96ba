// Without the server: what was visited opens, what is changed is kept and sent later, and a newer version waits.
import type { Page } from '@playwright/test';
import { copyOf, expect, expectAccessible, stored, test } from './lodestone.ts';

// The browser that tests share has no service worker.
test.use({ serviceWorkers: 'allow', anew: true });

const alive = (page: Page) => page.locator('html[data-alive]').waitFor({ state: 'attached' });
const kept = (page: Page, path: string) =>
  expect
    .poll(() => page.evaluate(async (key) => (await caches.match(key)) !== undefined, path), {
      message: `${path} is kept`
    })
    .toBe(true);
const mark = (page: Page) => page.locator('[data-offline]');

/** A train is opened, and what is needed without the server has come. */
async function opened(page: Page): Promise<{ id: string; name: string }> {
  const train = await copyOf(page, 'Long Tom');
  await page.goto(`/trains/${train.id}/log`);
  await alive(page);
  await expect.poll(() => page.evaluate(() => navigator.serviceWorker.controller !== null)).toBe(true);
  await kept(page, `/trains/${train.id}/build/__data.json`);
  await kept(page, `/api/trains/${train.id}/history`);
  return train;
}

test('a train that was opened works without the server, reload included, and what is changed is sent later', async ({
  page
}) => {
  const { id } = await opened(page);
  const flats = page.getByRole('button', { name: 'Flats were taken today' });
  await flats.click();
  await expect.poll(async () => (await stored(page, id)).revision.number).toBe(2);

  await page.context().setOffline(true);
  await page.reload();
  await alive(page);
  // What was saved last is there, and when it was kept is said.
  await expect(mark(page)).toContainText('shown as of');
  await expect(page.locator('[data-flats=valid]')).toBeVisible();
  await page.getByRole('button', { name: 'Write down tonight' }).click();
  await page.getByRole('textbox', { name: 'Guiding RMS, ″' }).fill('0.66');
  await page.getByRole('button', { name: 'Keep the night' }).click();
  await expect(page.locator('[data-save-state=offline]')).toBeVisible();
  await expectAccessible(page, 'the log without the server');

  // Reloaded once more, on another stage, and back: nothing is lost.
  await page.goto(`/trains/${id}/check`);
  await alive(page);
  await page.goto(`/trains/${id}/log`);
  await alive(page);
  await expect(page.locator('[data-nights]')).toContainText('guiding 0.66 ″');

  await page.context().setOffline(false);
  await expect(page.locator('[data-save-state=saved]')).toBeVisible();
  await expect(mark(page)).toHaveCount(0);
  const document = (await stored(page, id)).document as {
    nights?: Record<string, { guideRmsArcsec: number }>;
    flats?: object;
  };
  expect(Object.values(document.nights ?? {}).map(({ guideRmsArcsec }) => guideRmsArcsec)).toEqual([0.66]);
  expect(document.flats).toBeDefined();
});

test('pages open from one another without the server; one that was never opened says so', async ({ page }) => {
  const { id, name } = await opened(page);
  await page.goto('/');
  await alive(page);
  await kept(page, '/__data.json');
  await page.context().setOffline(true);
  await page.getByRole('link', { name, exact: true }).click();
  await expect(page).toHaveURL(new RegExp(`/trains/${id}/build`));
  await expect(page.locator('[data-verdict]')).toContainText('short');
  await page.goto('/drawer');
  await expect(page.getByRole('main')).toContainText(/(\d+) of \1 *saved/);
  await page.goto('/settings');
  await expect(page.getByText('This page was not opened before')).toBeVisible();
  await page.context().setOffline(false);
  // It opens by itself once the server is back.
  await expect(page.getByRole('heading', { name: 'Settings' })).toBeVisible();
});

test('of a train that was deleted nothing is kept', async ({ page }) => {
  const { id } = await opened(page);
  expect((await page.request.patch(`/api/trains/${id}`, { data: { state: 'deleted' } })).ok()).toBe(true);
  await page.goto(`/trains/${id}/check`);
  await expect(page.getByText('This train was deleted.')).toBeVisible();
  const key = `/trains/${id}/build/__data.json`;
  await expect.poll(() => page.evaluate(async (path) => (await caches.match(path)) !== undefined, key)).toBe(false);
});

test('settings say what is kept in this browser, and delete it', async ({ page }) => {
  const { id } = await opened(page);
  await page.goto('/settings');
  const state = page.getByRole('region', { name: 'Without the server' });
  await expect(state).toContainText(/^.*1 train and \d+ pages? kept/s);
  await expectAccessible(page, 'settings with what is kept');
  await state.getByRole('button', { name: 'Delete kept pages' }).click();
  await expect(page.getByText('Kept pages deleted.')).toBeVisible();
  const stays = await page.evaluate(async (key) => (await caches.match(key)) !== undefined, `/api/trains/${id}`);
  expect(stays).toBe(false);
  // The program itself stays.
  expect(await page.evaluate(async () => (await caches.match('/shell', { ignoreSearch: true })) !== undefined)).toBe(
    true
  );
});

test('a newer version waits until somebody uses it, and takes over what was typed', async ({ page }) => {
  const { id } = await opened(page);
  await page.evaluate(async () => {
    const old = await caches.open('pages-1');
    await old.put('/guide/__data.json', new Response('of an older version'));
    await navigator.serviceWorker.register('/service-worker.js?newer');
  });
  const notice = page.getByRole('button', { name: 'Use it' });
  await expect(notice).toBeVisible();
  await page.evaluate(() => Object.assign(window, { isOld: true }));
  await page.getByRole('button', { name: 'Flats were taken today' }).click();
  await notice.click();
  await page.waitForFunction(() => !('isOld' in window));
  await alive(page);
  await expect(page.locator('[data-flats=valid]')).toBeVisible();
  await expect.poll(async () => (await stored(page, id)).revision.number).toBe(2);
  // What an older version kept is kept anew, by what the server says now.
  await expect.poll(() => page.evaluate(() => caches.has('pages-1'))).toBe(false);
  const guide = await page.evaluate(async () => (await caches.match('/guide/__data.json'))?.text());
  expect(guide).toContain('"type":"data"');
});

test('a browser whose storage is full goes on working with the server, and loses nothing', async ({ page, faults }) => {
  const { id } = await opened(page);
  const session = await page.context().newCDPSession(page);
  await session.send('Storage.overrideQuotaForOrigin', { origin: new URL(page.url()).origin, quotaSize: 1 });
  await page.getByRole('button', { name: 'Flats were taken today' }).click();
  await expect(page.locator('[data-save-state=saved]')).toBeVisible();
  await expect.poll(async () => (await stored(page, id)).revision.number).toBe(2);
  // Pages that were never kept open from the server, and the train is as it was saved.
  await page.goto('/season');
  await alive(page);
  await page.goto(`/trains/${id}/log`);
  await alive(page);
  await expect(page.locator('[data-flats=valid]')).toBeVisible();
  expect(faults).toEqual([]);
});
