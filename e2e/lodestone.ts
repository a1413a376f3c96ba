import AxeBuilder from '@axe-core/playwright';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { expect, test as base, type Page } from '@playwright/test';
import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import heron from '../demo/heron.json' with { type: 'json' };
import longTom from '../demo/long-tom.json' with { type: 'json' };
import { freePort, makeDatabase } from '../scripts/setup/cluster.mjs';
import { migrate } from '../scripts/setup/migrate.mjs';
import { KeptPage, patient } from './kept.ts';
import type { Stage } from '../src/lib/stages.ts';

const root = dirname(dirname(fileURLToPath(import.meta.url)));

const fromEnvironment = (name: string): string => {
  const found = process.env[name];
  if (!found) throw new Error(`${name} is not set: run the browser tests with “npm test -- browser”`);
  return found;
};

/** A running application with a database of its own, that a test may kill and start again. */
export class Lodestone {
  log = '';
  #process: ChildProcess | undefined;
  readonly #backups: string;

  private constructor(
    readonly port: number,
    readonly database: string,
    private readonly settings: Readonly<Record<string, string>> = {}
  ) {
    this.#backups = join(tmpdir(), `lodestone-backups-${port}-${database}`);
  }

  /** Takes away what it kept outside its database. */
  clear(): void {
    rmSync(this.#backups, { recursive: true, force: true });
  }

  /** @param settings of its environment, beside what every one needs */
  static async make(settings: Readonly<Record<string, string>> = {}): Promise<Lodestone> {
    const database = `e2e_${randomUUID().replaceAll('-', '')}`;
    await makeDatabase(fromEnvironment('LODESTONE_TEST_ADMIN_URL'), database);
    const lodestone = new Lodestone(await freePort(), database, settings);
    await migrate(lodestone.ownerUrl);
    await lodestone.start();
    return lodestone;
  }

  /** A second server on the database of this one. */
  async beside(): Promise<Lodestone> {
    const other = new Lodestone(await freePort(), this.database);
    await other.start();
    return other;
  }

  get url(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  get ownerUrl(): string {
    return fromEnvironment('LODESTONE_TEST_OWNER_URL').replace(/DATABASE$/, this.database);
  }

  /** Of the administrator, who alone sees the rows of all owners. */
  get adminUrl(): string {
    return fromEnvironment('LODESTONE_TEST_ADMIN_URL').replace(/postgres$/, this.database);
  }

  async start(): Promise<void> {
    const serving = spawn(process.execPath, ['scripts/serve.mjs'], {
      cwd: root,
      env: {
        ...process.env,
        ...this.settings,
        PORT: String(this.port),
        // Frames would be taken beside whatever is tested.
        LODESTONE_DEMO_FRAMES: 'off',
        LODESTONE_BACKUPS: this.#backups,
        DATABASE_URL: fromEnvironment('LODESTONE_TEST_APP_URL').replace(/DATABASE$/, this.database)
      }
    });
    this.#process = serving;
    await new Promise<void>((ready, failed) => {
      const listen = (chunk: Buffer): void => {
        this.log += chunk.toString();
        if (this.log.includes('Serving on')) ready();
      };
      serving.stdout.on('data', listen);
      serving.stderr.on('data', listen);
      serving.once('exit', () => failed(new Error(`The server did not start:\n${this.log}`)));
    });
  }

  /** Ends the server; `SIGKILL` is what a crash looks like. */
  async stop(signal: 'SIGTERM' | 'SIGKILL' = 'SIGTERM'): Promise<number | null> {
    const stopping = this.#process;
    if (!stopping || stopping.exitCode !== null) return stopping?.exitCode ?? null;
    this.log = '';
    return new Promise((ended) => {
      stopping.removeAllListeners('exit');
      stopping.once('exit', ended);
      stopping.kill(signal);
    });
  }
}

/** Another browser altogether: the phone beside the laptop. */
export async function otherBrowser(page: Page): Promise<Page> {
  const context = await page
    .context()
    .browser()!
    .newContext({ baseURL: new URL(page.url()).origin });
  return patient(await context.newPage());
}

/** A browser that is shown pages which are none of the application's own. */
export async function stranger(page: Page): Promise<Page> {
  const context = await page.context().browser()!.newContext();
  return context.newPage();
}

interface OfTest {
  faults: string[];
  anew: boolean;
}

interface OfWorker {
  lodestone: Lodestone;
  apart: string;
  kept: { page?: KeptPage };
}

export const test = base.extend<OfTest, OfWorker>({
  /** For tests that leave something in the browser which cannot be taken back: a browser of their own. */
  anew: [false, { option: true }],
  /** Tests that name another application than the others get one of their own: nobody puts parts into its drawer. */
  apart: ['', { scope: 'worker', option: true }],
  lodestone: [
    async ({ apart: _apart }, use) => {
      const lodestone = await Lodestone.make();
      await use(lodestone);
      await lodestone.stop();
      lodestone.clear();
    },
    { scope: 'worker' }
  ],
  kept: [async ({ apart: _apart }, use) => use({}), { scope: 'worker' }],
  context: async ({ browser, anew, hasTouch, viewport, kept, lodestone }, use) => {
    const takesOver = !anew && !hasTouch;
    const found = takesOver ? (kept.page ??= await KeptPage.open(browser)) : undefined;
    const context = found?.context ?? (await browser.newContext());
    const newPage = context.newPage.bind(context);
    context.newPage = async () => patient(await newPage());
    await use(context);
    context.newPage = newPage;
    if (found) await found.clear(lodestone.url, viewport);
    else await context.close();
  },
  page: async ({ context }, use) => use(context.pages()[0] ?? (await context.newPage())),
  baseURL: async ({ lodestone }, use) => use(lodestone.url),
  /** Whatever a page throws, or its security policy forbids, fails the test it happens in. */
  faults: [
    async ({ page }, use) => {
      const faults: string[] = [];
      page.on('pageerror', (error) => faults.push(error.message));
      page.on('console', (message) => {
        if (/Content Security Policy|hydration|Uncaught/i.test(message.text())) faults.push(message.text());
      });
      await use(faults);
      if (faults.length > 0) throw new Error(`The page complained:\n${faults.join('\n')}`);
    },
    { auto: true }
  ]
});

export { expect };

/** The theme that is looked at with every rule; the others differ from it in colours alone. */
const FULLY_JUDGED = 'dusk';

/** Fails on any finding of axe that is serious or worse. */
export async function expectAccessible(page: Page, where: string): Promise<void> {
  const theme = await page.locator('html').getAttribute('data-theme');
  // Without frames there is nothing to gather, which would take a page of its own each time.
  const axe = new AxeBuilder({ page }).setLegacyMode().options({ resultTypes: ['violations'] });
  const { violations } = await (theme === FULLY_JUDGED ? axe : axe.withRules(['color-contrast'])).analyze();
  const serious = violations
    .filter(({ impact }) => impact === 'serious' || impact === 'critical')
    .map(({ id, nodes }) => `${where}: ${id}: ${nodes.map(({ html }) => html.slice(0, 160)).join(' | ')}`);
  expect(serious).toEqual([]);
  // A name that two elements have leads to the wrong one (HTML, §3.2.6).
  const ids = await page.evaluate(() => [...document.querySelectorAll('[id]')].map(({ id }) => id));
  expect(ids.filter((id, at) => ids.indexOf(id) !== at)).toEqual([]);
}

/** Does the same in each theme, on the page as it is. */
export async function inAllThemes(page: Page, judge: (theme: string) => Promise<void>): Promise<void> {
  const before = await page.locator('html').getAttribute('data-theme');
  const wear = (theme: string): Promise<void> =>
    page.evaluate((chosen) => {
      document.documentElement.dataset.theme = chosen;
      // Colours that are on their way are no theme’s; what turns for ever has no end to be taken to.
      for (const animation of document.getAnimations()) {
        if (animation.effect?.getComputedTiming().endTime !== Infinity) animation.finish();
      }
    }, theme);
  for (const theme of [FULLY_JUDGED, 'daylight', 'night']) {
    await wear(theme);
    await judge(theme);
  }
  await wear(before ?? FULLY_JUDGED);
}

export const expectAccessibleInAllThemes = (page: Page, where: string): Promise<void> =>
  inAllThemes(page, (theme) => expectAccessible(page, `${where}, ${theme}`));

/** Makes a fresh train of a document. No page is opened. */
async function trainOf(page: Page, document: { name: string }): Promise<{ id: string; name: string }> {
  const name = `${document.name} ${randomUUID().slice(0, 8)}`;
  const response = await page.request.post('/api/trains', {
    data: { saveId: randomUUID(), document: { ...document, name } }
  });
  const { id } = (await response.json()) as { id: string };
  return { id, name };
}

/** Makes a fresh train of a document, and opens Build. @returns its id */
export async function openTrain(page: Page, document: { name: string }): Promise<string> {
  const { id } = await trainOf(page, document);
  await page.goto(`/trains/${id}/build`);
  await ready(page);
  return id;
}

const DEMO = { Heron: heron, 'Long Tom': longTom } as const;

/** Makes a fresh train from a demo document, so that tests do not meet. No page is opened. */
export const copyOf = (page: Page, demo: keyof typeof DEMO = 'Heron'): Promise<{ id: string; name: string }> =>
  trainOf(page, DEMO[demo]);

/** Makes a fresh train from a demo document, and opens a stage of it. */
export async function openCopy(
  page: Page,
  demo: keyof typeof DEMO = 'Heron',
  stage: Stage['id'] = 'build'
): Promise<{ id: string; name: string }> {
  const copy = await copyOf(page, demo);
  await page.goto(`/trains/${copy.id}/${stage}`);
  await ready(page);
  return copy;
}

/** Waits until the page answers to keys: the rail measures itself when it does. */
export async function ready(page: Page): Promise<void> {
  await page.locator('[data-save-state="saved"]').waitFor();
  await page.waitForFunction(() => document.querySelector('#rail')?.getAttribute('width') !== '960');
}

/** The newest stored revision of a train. */
export async function stored(page: Page, id: string) {
  const response = await page.request.get(`/api/trains/${id}`, { maxRetries: 3 });
  return (await response.json()) as {
    revision: { number: number };
    document: { name: string; elements: { id: string; name: string; lengthMm?: number; partId?: string }[] };
  };
}

/** A frame of the simulated camera at Long Tom, as a file. */
export function simulated(name: string, ...options: string[]): string {
  const file = join(mkdtempSync(join(tmpdir(), 'lodestone-e2e-')), name);
  const { status, stderr } = spawnSync(
    process.execPath,
    ['scripts/lodestone.mjs', 'simulate', 'demo/long-tom.json', '--out', file, '--binning', '4', ...options],
    { encoding: 'utf8' }
  );
  if (status !== 0) throw new Error(stderr);
  return file;
}
