// `npm run pictures`: takes every picture of docs/screenshots anew, from the demo in a database of its own.
// With words, only those: `npm run pictures -- check night`.
import { spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { freePort } from './setup/cluster.mjs';
import { CHROMIUM, ensureDebian, ensureNpmPackages } from './setup/packages.mjs';
import { ROOT } from './setup/paths.mjs';

const say = (line) => console.log(line);
const OUT = join(ROOT, 'docs/screenshots');
const LAPTOP = { width: 1280, height: 800 };
const PHONE = { width: 390, height: 844 };
/** What moves, comes to rest. */
const REST_MS = 1200;
const WAIT_MS = 120_000;

/** Walks the simulated focuser until it stands at the best position. */
async function toFocus(page) {
  const simulate = page.locator('[data-simulate]');
  // A run that is there already stands at its end.
  const isOver = async () => /lock it/.test(await page.locator('[data-instruction]').innerText());
  for (let tick = 0; tick < 3 && !(await isOver()); tick++) await page.locator('[data-tick]').click();
  const state = () =>
    page
      .locator('[data-focus-curve] circle, [data-instruction]')
      .evaluateAll((all) => all.map((each) => each.outerHTML).join());
  for (let frame = 0; frame < 25 && (await simulate.count()) > 0; frame++) {
    const before = await state();
    await simulate.click();
    for (let wait = 0; wait < 200 && (await state()) === before; wait++) await page.waitForTimeout(50);
  }
}

const panel = (page, words) => page.getByRole('button', { name: words, exact: true }).last().click();
const list = (page, name) => page.locator(`[data-list=${name}]`).click();

/** Nights as somebody would write them down, before and after the day the pictures are taken. */
const dayAfter = (days) => new Date(Date.now() + days * 86_400_000).toISOString().slice(0, 10);
const NIGHTS = Object.fromEntries(
  [
    [-6, 0.92, 'Dew on the guide prism from three o’clock'],
    [-5, 0.88],
    [-3, 0.95],
    [0, 0.71],
    [1, 0.68]
  ].map(([days, guideRmsArcsec, wrong], index) => [
    `n-${index + 1}`,
    {
      on: dayAfter(days),
      guideRmsArcsec,
      hfrPx: 2.1 + index / 20,
      temperatureC: -index,
      hours: { Luminance: 1.5 + index / 2, Red: 1 },
      ...(wrong ? { wrong } : {})
    }
  ])
);

/** Every picture: its page, and what is done on it first. The order counts: some leave something behind. */
const PICTURES = [
  { name: 'trains', path: '/' },
  {
    name: 'build',
    train: 'Long Tom',
    path: 'build',
    act: (page) =>
      page
        .locator('[id^="rail-element-"][aria-label*="reducer"]')
        .first()
        .click({ position: { x: 4, y: 4 } })
  },
  {
    name: 'why',
    train: 'Heron',
    path: 'build',
    act: (page) =>
      page
        .locator('.asks-why')
        .filter({ hasText: /^5[89]\.\d+$/ })
        .first()
        .click()
  },
  {
    name: 'finder',
    train: 'Heron',
    path: 'build',
    act: async (page) => {
      await page.keyboard.press('f');
      await page.getByRole('listbox', { name: 'Stacks' }).getByRole('option').first().waitFor();
    }
  },
  {
    name: 'new',
    path: '/new',
    theme: 'daylight',
    act: async (page) => {
      await page.getByRole('combobox', { name: 'Telescope or lens' }).fill('newton 150 f/5');
      await page.keyboard.press('Enter');
      await page.getByRole('combobox', { name: /Reducer/ }).fill('55');
      await page.keyboard.press('Enter');
      const camera = page.getByRole('combobox', { name: 'Camera', exact: true });
      await camera.fill('dslr 44.5');
      await page.keyboard.press('Enter');
      await camera.press('ArrowDown');
    }
  },
  {
    name: 'made',
    train: 'Avocet',
    path: 'build',
    act: async (page) => {
      await page.locator('#rail').focus();
      await page.keyboard.press('ArrowRight');
      await page.keyboard.press('ArrowRight');
      await page.keyboard.press('Shift+M');
      await page.getByLabel('Sky face: screw size').selectOption('M2');
      await page.getByLabel('Sky face: screws go').selectOption('countersunk');
      await page.getByRole('button', { name: 'Add a variant' }).click();
      await page.locator('[data-variant=B]').getByLabel('Marlfield bolted wheel').check();
    }
  },
  { name: 'drawer', path: '/drawer' },
  {
    name: 'reach',
    path: '/reach',
    theme: 'daylight',
    act: (page) => page.locator('[data-reach]').waitFor()
  },
  {
    name: 'share',
    theme: 'daylight',
    isStill: true,
    path: async ({ url, ids }) => {
      const made = await fetch(`${url}/api/trains/${ids.get('Heron')}/links`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: '{}'
      });
      return new URL((await made.json()).path, url).pathname;
    }
  },
  {
    name: 'measure',
    path: '/drawer',
    act: async (page) => {
      await page.evaluate(() => sessionStorage.setItem('lodestone.measure', JSON.stringify(['R-03', 'R-04', 'R-05'])));
      await page.goto('/measure');
      await page.locator('html[data-alive]').waitFor({ state: 'attached' });
      await page.locator('#reading').fill('78.6');
      await page.keyboard.press('Enter');
    }
  },
  { name: 'check', train: 'Long Tom', path: 'check' },
  {
    name: 'framing',
    train: 'Long Tom',
    path: 'check',
    theme: 'daylight',
    act: (page) => panel(page, 'framing')
  },
  {
    name: 'assemble',
    train: 'Long Tom',
    path: 'assemble',
    theme: 'night',
    size: PHONE,
    act: async (page) => {
      for (let step = 0; step < 4; step++) await page.locator('[data-done]').first().click();
    }
  },
  {
    name: 'first-light',
    train: 'Long Tom',
    path: 'first-light',
    act: async (page) => {
      await toFocus(page);
      await page.evaluate(() => scrollTo(0, 0));
    }
  },
  {
    name: 'stars',
    train: 'Long Tom',
    path: 'tune',
    act: async (page) => {
      await page.getByRole('region', { name: 'Frames' }).getByText('Long Tom, first night').click();
      await page.locator('#star-map').waitFor({ timeout: WAIT_MS });
      await page.waitForTimeout(2500);
      await list(page, 'experiments');
    }
  },
  {
    name: 'tilt',
    train: 'Long Tom',
    path: 'tune',
    act: async (page) => {
      await list(page, 'frames');
      await page.getByLabel('Night of the simulated camera').selectOption('tilt');
      await list(page, 'sweep');
      await page.locator('[data-simulate-sweep]').click();
      await page.locator('[data-sweep-read="9"]').waitFor({ timeout: WAIT_MS });
      await page.getByLabel('Screws of the plate').selectOption('3');
      await page.locator('[data-turn="1"]').waitFor();
      await page.locator('[data-turn="1"]').scrollIntoViewIfNeeded();
    }
  },
  {
    name: 'trainer',
    train: 'Long Tom',
    path: 'tune',
    act: async (page) => {
      await list(page, 'frames');
      await page.locator('[data-train]').click();
      await page.locator('[data-trainer=asking]').waitFor({ timeout: WAIT_MS });
      await page.keyboard.press('1');
      await page.keyboard.press('n');
      await page.locator('[data-trainer=told]').waitFor();
    }
  },
  {
    name: 'compare',
    path: async ({ url, ids }) => {
      const record = randomUUID();
      // What was done for the pictures before this one made revisions.
      const { revision } = await (await fetch(`${url}/api/trains/${ids.get('Long Tom')}`)).json();
      await fetch(`${url}/api/trains/${ids.get('Long Tom')}/assembly`, {
        method: 'PUT',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ revision: revision.number, record: { id: record, note: '' } })
      });
      return `/compare?of=record:${record}&of=train:${ids.get('Heron')}`;
    },
    act: (page) => page.locator('[data-filling=true]').waitFor({ timeout: WAIT_MS })
  },
  {
    name: 'log',
    theme: 'daylight',
    path: async ({ url, ids }) => {
      const id = ids.get('Long Tom');
      let { revision, document } = await (await fetch(`${url}/api/trains/${id}`)).json();
      const save = async (changed) => {
        const response = await fetch(`${url}/api/trains/${id}/revisions`, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify({ saveId: randomUUID(), basedOn: revision.number, document: changed })
        });
        ({ revision, document } = await response.json());
      };
      for (const lengthMm of [20.9, 21.3, 20.7, 20.4]) {
        const elements = document.elements.map((each) => (each.id === 'wheel' ? { ...each, lengthMm } : each));
        await save({ ...document, elements });
      }
      await save({ ...document, nights: NIGHTS });
      return `/trains/${id}/log`;
    },
    act: async (page) => {
      await page.getByRole('slider', { name: 'State to look at' }).press('ArrowLeft');
      await page.locator('[data-looked]').waitFor();
      await page.evaluate(() => scrollTo(0, 0));
    }
  }
];

/** Starts the application with the demo and its frames. @returns its address, ids by name, and what ends it */
async function startDemo() {
  const folder = mkdtempSync(join(tmpdir(), 'lodestone-pictures-'));
  chmodSync(folder, 0o711);
  const url = `http://127.0.0.1:${await freePort()}`;
  const { DATABASE_URL: _url, LODESTONE_MIGRATE_URL: _owner, LODESTONE_TOKEN: _token, ...env } = process.env;
  const starting = spawn(process.execPath, [join(ROOT, 'scripts/start.mjs')], {
    env: { ...env, LODESTONE_DATA: folder, PORT: new URL(url).port },
    stdio: ['ignore', 'ignore', 'inherit']
  });
  const stop = async () => {
    const ended = new Promise((done) => starting.once('exit', done));
    starting.kill('SIGTERM');
    if (starting.exitCode === null) await ended;
    rmSync(folder, { recursive: true, force: true });
  };
  const answer = (path) => fetch(url + path).then((response) => response.json());
  for (let ids; ;) {
    await new Promise((over) => setTimeout(over, 500));
    if (starting.exitCode !== null) throw new Error('The application did not start.');
    ids ??= await answer('/api/trains').then(
      (trains) => new Map(trains.map(({ id, document }) => [document.name, id])),
      () => undefined
    );
    if (ids && (await answer(`/api/trains/${ids.get('Long Tom')}/frames`)).length === 3) return { url, ids, stop };
  }
}

await Promise.all([ensureDebian(['postgres', 'fonts', 'chromium'], say), ensureNpmPackages(say)]);
const { chromium } = await import('@playwright/test');
const wanted = process.argv.slice(2);
const demo = await startDemo();
const browser = await chromium.launch({ executablePath: CHROMIUM, args: ['--no-sandbox', '--disable-gpu'] });
try {
  for (const { name, path, train, act, theme = 'dusk', size = LAPTOP, isStill = false } of PICTURES) {
    if (wanted.length > 0 && !wanted.includes(name)) continue;
    const context = await browser.newContext({
      viewport: size,
      baseURL: demo.url,
      locale: 'en-GB',
      serviceWorkers: 'block'
    });
    await context.addCookies([{ name: 'lodestone-theme', value: theme, url: demo.url }]);
    const page = await context.newPage();
    page.setDefaultTimeout(20_000);
    const at = typeof path === 'function' ? await path(demo) : train ? `/trains/${demo.ids.get(train)}/${path}` : path;
    await page.goto(at);
    // A page without a program has nothing that comes alive.
    if (!isStill) await page.locator('html[data-alive]').waitFor({ state: 'attached' });
    await page.waitForTimeout(REST_MS);
    try {
      await act?.(page);
    } catch (error) {
      throw new Error(`${name}: ${error.message}`, { cause: error });
    }
    await page.waitForTimeout(REST_MS);
    await page.screenshot({ path: join(OUT, `${name}.png`) });
    say(`${name}.png`);
    await context.close();
  }
} finally {
  await browser.close();
  await demo.stop();
}
