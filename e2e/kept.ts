import type { Browser, BrowserContext, Page } from '@playwright/test';

/** An address of the application that runs none of its program; another origin’s would end the browser’s process. */
const NO_PAGE = '/healthz';

/** A page that counts as there once it answers: what the server sends is only a picture of it. */
export function patient(page: Page): Page {
  const alive = (): Promise<void> => page.locator('html[data-alive]').waitFor({ state: 'attached' });
  const goto = page.goto.bind(page);
  const reload = page.reload.bind(page);
  page.goto = async (url, options) => {
    // Alive is later than loaded: that is not waited for as well.
    const response = await goto(url, { waitUntil: 'commit', ...options });
    if (!url.endsWith(NO_PAGE)) await alive();
    return response;
  };
  page.reload = async (...words) => {
    const response = await reload(...words);
    await alive();
    return response;
  };
  return page;
}

/** What an origin keeps in a browser, as the DevTools protocol names it. */
const EVERYTHING = 'all';

/**
 * A page that tests of one worker take over from each other: the browser still has the application's program, and a
 * page is there in a third of the time. What it keeps, forbids or pretends is taken back after each test.
 */
export class KeptPage {
  private constructor(
    readonly context: BrowserContext,
    private page: Page
  ) {}

  static async open(browser: Browser): Promise<KeptPage> {
    const context = await browser.newContext();
    return new KeptPage(context, patient(await context.newPage()));
  }

  /** Makes it a page nobody has used. @param origin whose stored things go */
  async clear(origin: string, viewport: { width: number; height: number } | null): Promise<void> {
    const { context } = this;
    // A test may have closed it.
    if (this.page.isClosed()) this.page = patient(await context.newPage());
    const { page } = this;
    for (const other of context.pages()) if (other !== page) await other.close();
    for (const each of [page, context]) {
      each.removeAllListeners();
      await each.unrouteAll({ behavior: 'ignoreErrors' });
    }
    await context.setOffline(false);
    await page.goto(`${origin}${NO_PAGE}`);
    await page.evaluate(() => sessionStorage.clear());
    await context.clearCookies();
    const session = await context.newCDPSession(page);
    await session.send('Storage.clearDataForOrigin', { origin, storageTypes: EVERYTHING });
    await session.detach();
    await page.emulateMedia({ media: null, forcedColors: null, colorScheme: null, reducedMotion: null });
    if (viewport) await page.setViewportSize(viewport);
  }
}
