// `npm run bench`: figures, each beside a reference where there is one. Nothing here passes or fails.
import { spawn, spawnSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { chmodSync, existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { gzipSync } from 'node:zlib';
import { runCompared } from './bench/compare.mjs';
import { measureFrames, measureInfinities, measureLargeFrame, measureSweep } from './bench/frames.mjs';
import { measureKeeping, measureTabs } from './bench/keeping.mjs';
import { measureOwners } from './bench/owners.mjs';
import { measureSteps } from './bench/steps.mjs';
import { measureWalk } from './bench/walk.mjs';
import { ensureBuild } from './setup/build.mjs';
import { freePort } from './setup/cluster.mjs';
import { CHROMIUM, checkNode, ensureDebian, ensureNpmPackages } from './setup/packages.mjs';
import { ROOT } from './setup/paths.mjs';

const FRAME_MS = 1000 / 60;
const EDITS = 100;
const JS_AIM_KB = 180;
const say = (line) => console.log(line);

const percentile = (numbers, share) =>
  [...numbers].sort((a, b) => a - b)[Math.min(numbers.length - 1, Math.floor(numbers.length * share))];

/** Runs `npm start`'s script until it answers. */
async function start(folder, port) {
  const began = performance.now();
  const child = spawn(process.execPath, [join(ROOT, 'scripts/start.mjs')], {
    cwd: ROOT,
    env: { ...process.env, LODESTONE_DATA: folder, PORT: String(port), DATABASE_URL: '' },
    stdio: 'ignore'
  });
  const url = `http://127.0.0.1:${port}`;
  for (;;) {
    try {
      if ((await fetch(`${url}/healthz`)).ok) break;
    } catch {
      if (child.exitCode !== null) throw new Error('npm start ended before it answered');
    }
    await new Promise((wait) => setTimeout(wait, 10));
  }
  return {
    url,
    tookMs: performance.now() - began,
    stop: () => new Promise((ended) => (child.once('exit', ended), child.kill('SIGTERM')))
  };
}

/** Length of time the main thread ran scripts in [from, to], μs of the trace, nested calls counted once. */
function scriptingMs(events, from, to) {
  const scripting = new Set([
    'EventDispatch',
    'FunctionCall',
    'RunMicrotasks',
    'TimerFire',
    'FireAnimationFrame',
    'EvaluateScript'
  ]);
  const spans = events
    .filter(({ name, ph, ts }) => ph === 'X' && scripting.has(name) && ts >= from && ts < to)
    .map(({ ts, dur = 0 }) => [ts, ts + dur])
    .sort((a, b) => a[0] - b[0]);
  let total = 0;
  let end = 0;
  for (const [left, right] of spans) {
    total += Math.max(0, right - Math.max(left, end));
    end = Math.max(end, right);
  }
  return total / 1000;
}

/**
 * Scripting until each of many actions is painted, ms.
 *
 * @param act what is done in the page, with its number
 */
async function measureActions(browser, page, act) {
  await browser.startTracing(page, { categories: ['devtools.timeline', 'blink.user_timing'] });
  for (let edit = 0; edit < EDITS; edit++) {
    await page.evaluate(act, edit);
    await page.evaluate(() => new Promise((painted) => requestAnimationFrame(() => setTimeout(painted))));
  }
  await page.evaluate(() => performance.mark('edit-end'));
  const { traceEvents } = JSON.parse((await browser.stopTracing()).toString());
  const marks = traceEvents.filter(({ name }) => /^edit-/.test(name)).sort((a, b) => a.ts - b.ts);
  const main = traceEvents.filter(({ pid, tid }) => pid === marks[0].pid && tid === marks[0].tid);
  return marks.slice(0, -1).map(({ ts }, index) => scriptingMs(main, ts - 200, marks[index + 1].ts - 200));
}

async function measureEdits(browser, page) {
  await page.locator('[id="rail-element-ring-3"]').click();
  await page.locator('[data-field="lengthMm"] input').focus();
  return measureActions(browser, page, (edit) => {
    const input = document.querySelector('[data-field="lengthMm"] input');
    performance.mark(`edit-${edit}`);
    input.value = `3.${10 + (edit % 80)}`;
    input.dispatchEvent(new InputEvent('input', { bubbles: true }));
  });
}

/** The point of the sensor that is looked at, moved along it on the Check stage of the same train. */
async function measurePoint(browser, page) {
  await page.goto(page.url().replace(/build$/, 'check'));
  await page.locator('#field-point').waitFor();
  return measureActions(browser, page, (edit) => {
    performance.mark(`edit-${edit}`);
    const key = edit % 40 < 20 ? 'ArrowDown' : 'ArrowUp';
    document.querySelector('#field-point').dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));
  });
}

/** Parts made up for the bench, as documents; by its number each is another. */
const benchPart = (number) => ({
  partId: `BENCH-${number}`,
  kind: 'spacer',
  name: `Ring ${number}`,
  lengthMm: 1 + (number % 400) / 10,
  sky: { thread: ['M42x0.75', 'M48x0.75', 'M54x0.75', 'M63x1'][number % 4], gender: 'female', lengthMm: 5 },
  camera: { thread: ['M42x0.75', 'M48x0.75', 'M54x0.75', 'M63x1'][number % 4], gender: 'male', lengthMm: 4 },
  location: `Tin ${1 + (number % 9)} / Bag ${1 + (number % 13)}`
});

/** Time from a keystroke in a field until what follows from it is painted, ms, median of several. */
async function keystroke(page, selector, texts) {
  const took = [];
  for (const text of texts) {
    took.push(
      await page.evaluate(
        ([where, typed]) =>
          new Promise((painted) => {
            const input = document.querySelector(where);
            const began = performance.now();
            input.value = typed;
            input.dispatchEvent(new InputEvent('input', { bubbles: true }));
            requestAnimationFrame(() => setTimeout(() => painted(performance.now() - began)));
          }),
        [selector, text]
      )
    );
  }
  return percentile(took, 0.5);
}

/** Keys in the line that makes parts, as one types one, and as one calls a usual part by its name; ms of scripting each. */
async function measureQuickLine(browser, page) {
  await page.keyboard.press('n');
  await page.locator('[data-quick-line] input').waitFor();
  return measureActions(browser, page, (edit) => {
    const line = 'm48 f–m 10, 7.5, 16.5 ×2, wheel 20, t-ring dslr 44 reducer 0.63';
    const input = document.querySelector('[data-quick-line] input');
    performance.mark(`edit-${edit}`);
    input.value = line.slice(edit < line.length ? 0 : 36, 1 + (edit % line.length));
    input.dispatchEvent(new InputEvent('input', { bubbles: true }));
  });
}

/** Longest time between two frames of the Build page while the finder searches, ms. */
async function longestFrame(page) {
  await page.locator('#rail').focus();
  await page.keyboard.press('f');
  await page.locator('#offer-0').waitFor();
  const longest = page.evaluate(
    () =>
      new Promise((done) => {
        const ends = performance.now() + 1500;
        let [last, worst] = [performance.now(), 0];
        const step = (now) => {
          worst = Math.max(worst, now - last);
          last = now;
          if (now > ends) done(worst);
          else requestAnimationFrame(step);
        };
        requestAnimationFrame(step);
      })
  );
  await page.getByLabel('Most pieces').selectOption('8');
  const worst = await longest;
  await page.keyboard.press('Escape');
  await page.reload();
  await page.locator('#fitting-0').waitFor();
  return worst;
}

/** The drawer's steps in the browser with a hundred parts, then with ten thousand. */
async function measureDrawer(browser, page, url) {
  say('\nDrawer in the browser, median:                         100 parts    10 000 parts');
  const rows = { search: [], quick: [], fits: [], preview: [], stored: [] };
  const csv = (from, to) =>
    [
      'partId,kind,name,lengthMm,sky,camera,location',
      ...Array.from({ length: to - from }, (_, at) => {
        const { partId, kind, name, lengthMm, sky, camera, location } = benchPart(from + at);
        return [partId, kind, name, lengthMm, `${sky.thread} female 5`, `${camera.thread} male 4`, location].join(',');
      })
    ].join('\n');
  const { parts: demo } = await (await page.request.get(`${url}/api/drawer`)).json();
  let made = 0;
  let frames = 0;
  for (const size of [100, 10_000]) {
    const wanted = size - demo.length;
    await page.goto(`${url}/drawer`);
    await page.locator('#part-list').waitFor();
    await page.keyboard.press('i');
    const began = performance.now();
    await page
      .locator('dialog input[type=file]')
      .setInputFiles({ name: 'bench.csv', mimeType: 'text/csv', buffer: Buffer.from(csv(made, wanted)) });
    await page.getByText(/^\d+ new, 0 changed/).waitFor();
    rows.preview.push(performance.now() - began);
    const sent = performance.now();
    await Promise.all([
      page.waitForResponse((response) => response.url().endsWith('/api/drawer/changes')),
      page.getByRole('button', { name: /^Import [\d ,]+ parts/ }).click()
    ]);
    rows.stored.push(performance.now() - sent);
    made = wanted;
    await page.goto(`${url}/drawer`);
    await page.waitForFunction(
      (count) => Number(document.querySelector('#part-list')?.dataset.count) >= count,
      size - 5
    );
    rows.search.push(
      await keystroke(page, 'input[type=search]', [
        'm',
        'm4',
        'm48',
        'm48 f',
        'm48 f 1',
        'm48 f 16',
        'm48 f 16.5',
        'tin 2',
        ''
      ])
    );
    rows.quick.push(percentile(await measureQuickLine(browser, page), 0.95));
    const heron = (await (await page.request.get(`${url}/api/trains`)).json()).find(
      ({ document }) => document.name === 'Heron'
    );
    await page.goto(`${url}/trains/${heron.id}/build`);
    await page.locator('#fitting-0').waitFor();
    if (size === 100) frames = await longestFrame(page);
    rows.fits.push(await keystroke(page, '#from-drawer', ['r', '', 'm63', '', 'tin', '', 'ring', '']));
  }
  const line = (words, [small, large]) =>
    say(`  ${words.padEnd(44)} ${small.toFixed(0).padStart(8)} ms ${large.toFixed(0).padStart(9)} ms`);
  line('a keystroke in the search, to the painted list', rows.search);
  line('a key in the quick line, scripting, 95 % (aim 16)', rows.quick);
  line('“what fits here?”, keystroke to painted list', rows.fits);
  line('a CSV file, chosen to previewed', rows.preview);
  line('the same, brought in and stored', rows.stored);
  say('\nThe page while the finder searches (8 pieces, 100 parts):');
  say(`  ${'longest time between two frames'.padEnd(44)} ${frames.toFixed(1).padStart(10)} ms`);
}

if (process.argv[2] === 'compare') {
  const [file, ...parts] = process.argv.slice(3);
  if (file === undefined || !existsSync(file)) {
    console.error(
      'Name what an earlier run printed: npm run bench > before.txt, then npm run bench -- compare before.txt'
    );
    process.exit(2);
  }
  process.exit(await runCompared(fileURLToPath(import.meta.url), file, parts));
}

checkNode();
await Promise.all([ensureDebian(['postgres', 'chromium'], say), ensureNpmPackages(say)]);
const executablePath = CHROMIUM;
await ensureBuild('build', say);

const folder = mkdtempSync(join(tmpdir(), 'lodestone-bench-'));
chmodSync(folder, 0o711);

/** With a word, only that part: `npm run bench -- keeping`. */
const [only] = process.argv.slice(2);
const wants = (part) => only === undefined || only === part;

if (wants('core')) {
  // Bundled as the application is: the loader that runs TypeScript directly slows inner functions down.
  const { build } = await import('esbuild');
  for (const name of ['check', 'drawer', 'find', 'built']) {
    // In the tree, so that packages that are not bundled are found.
    const bundled = join(ROOT, 'node_modules', `.bench-${name}.mjs`);
    await build({
      entryPoints: [join(ROOT, `core/bench/${name}.ts`)],
      bundle: true,
      platform: 'node',
      mainFields: ['module', 'main'],
      format: 'esm',
      outfile: bundled,
      external: ['highs'],
      logLevel: 'error',
      tsconfigRaw: '{}'
    });
    spawnSync(process.execPath, [bundled], { stdio: 'inherit' });
    rmSync(bundled);
  }
}

if (wants('owners')) await measureOwners(say);

if (wants('frames')) {
  await measureFrames(folder, say);
  measureInfinities(folder, say);
}
if (wants('sweep')) measureSweep(folder, say);

const port = await freePort();
if (wants('keeping')) {
  const running = await start(folder, port);
  await measureKeeping(running.url, folder, say);
  await running.stop();
}
if (!wants('page') && !wants('large')) {
  rmSync(folder, { recursive: true, force: true });
  process.exit();
}

const { chromium } = await import('@playwright/test');
const browser = await chromium.launch({
  executablePath,
  args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking']
});
if (only === 'large') {
  const running = await start(folder, port);
  await measureLargeFrame(browser, running.url, folder, say);
  await running.stop();
  await browser.close();
  rmSync(folder, { recursive: true, force: true });
  process.exit();
}
try {
  const cold = await start(folder, port);
  await cold.stop();
  const warm = [];
  for (let round = 0; round < 3; round++) {
    const again = await start(folder, port);
    warm.push(again.tookMs);
    await again.stop();
  }
  say('\nStart, built and set up (best of 3):');
  say(
    `  ${'npm start’s script to the first answer'.padEnd(44)} ${Math.min(...warm)
      .toFixed(0)
      .padStart(10)} ms`
  );
  say(`  ${'the same with a new database'.padEnd(44)} ${cold.tookMs.toFixed(0).padStart(10)} ms`);

  const running = await start(folder, port);
  const document = JSON.parse(
    spawnSync(
      process.execPath,
      [
        '--import',
        'tsx',
        '-e',
        "import('./core/bench/train20.ts').then((m) => console.log(JSON.stringify(m.trainOfTwenty())))"
      ],
      { cwd: ROOT, encoding: 'utf8' }
    ).stdout
  );
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const created = await page.request.post(`${running.url}/api/trains`, { data: { saveId: randomUUID(), document } });
  const { id } = await created.json();
  const scripts = new Set();
  page.on('response', (response) => {
    const { pathname } = new URL(response.url());
    if (pathname.endsWith('.js')) scripts.add(pathname);
  });
  await page.goto(`${running.url}/trains/${id}/build`);
  await page.locator('#rail').waitFor();
  await page.waitForTimeout(1000);
  const early = new Set(scripts);
  await page.waitForTimeout(3000);
  const isWorker = (path) => path.includes('/workers/');
  const zippedKb = (paths) =>
    paths.reduce(
      (sum, path) => sum + gzipSync(readFileSync(join(ROOT, 'build/client', path)), { level: 9 }).length,
      0
    ) / 1024;
  const ofPage = [...early].filter((path) => !isWorker(path));
  say('\nJavaScript of the Build page, gzipped:');
  say(
    `  ${`${ofPage.length} files`.padEnd(44)} ${zippedKb(ofPage).toFixed(1).padStart(10)} KiB  aim: at most ${JS_AIM_KB}`
  );
  const ofStages = zippedKb([...scripts].filter((path) => !isWorker(path) && !early.has(path)));
  say(`  ${'the finder’s list, loaded when the page is still'.padEnd(48)} ${ofStages.toFixed(1).padStart(6)} KiB`);
  const ofWorkers = zippedKb([...scripts].filter(isWorker));
  say(`  ${'worker, loaded when the page is still'.padEnd(44)} ${ofWorkers.toFixed(1).padStart(10)} KiB`);

  await measureWalk(browser, running.url, say);
  await measureSteps(browser, running.url, say);
  await measureLargeFrame(browser, running.url, folder, say);
  const edits = await measureEdits(browser, page);
  const told = (words, took) => {
    say(`\n${words}, scripting until it is painted (${took.length} times):`);
    say(`  ${'median'.padEnd(44)} ${percentile(took, 0.5).toFixed(1).padStart(10)} ms`);
    say(
      `  ${'95th percentile'.padEnd(44)} ${percentile(took, 0.95).toFixed(1).padStart(10)} ms  one frame at 60 Hz is ${FRAME_MS.toFixed(1)}`
    );
  };
  told('An edit of a 20-element train', edits);
  told('The field point moved, light on rail, face and profile', await measurePoint(browser, page));
  await measureDrawer(browser, page, running.url);
  await page.close();
  await measureTabs(browser, running.url, say);
  await running.stop();
} finally {
  await browser.close();
  rmSync(folder, { recursive: true, force: true });
}
