/// <reference no-default-lib="true"/>
/// <reference lib="esnext" />
/// <reference lib="webworker" />
/// <reference types="@sveltejs/kit" />
import { build, files, version } from '$service-worker';
import { CacheExpiration } from 'workbox-expiration';
import { cleanupOutdatedCaches, matchPrecache, precacheAndRoute } from 'workbox-precaching';
import {
  BARE,
  KEPT_HEADER,
  SHELL,
  answersOf,
  asShell,
  isOfFrame,
  isOfDrawer,
  isPage,
  isWorthKeeping,
  keyOf,
  trainChangedAt,
  DATA_SUFFIX,
  type ToPage,
  type ToWorker
} from './lib/ui/offline/rules.ts';

/**
 * Lodestone without a network: the program is kept as a whole; pages by their data, every stage of a train by that of
 * the train; and what pages ask of the server. The network is asked first, always, and what was kept says when.
 */
declare const self: ServiceWorkerGlobalScope;

/** Data of one version may mean nothing to another. */
const PAGES = `pages-${version}`;
const ANSWERS = `answers-${version}`;
const STATE = 'state';
const MOST_PAGES = 200;
const MOST_ANSWERS = 500;
const LARGEST_ANSWER_BYTES = 5_000_000;

/** Waits before the kept answer is shown in place of one that does not come, ms. */
const PATIENCE_MS = 8000;
/** What was saved is fetched once nothing more is saved for a moment, ms. */
const REST_MS = 800;

/** How much is being answered and kept just now, and when it was last more than nothing, ms since the epoch. */
let going = 0;
let lastGoing = 0;
async function counted<T>(work: Promise<T>): Promise<T> {
  going++;
  try {
    return await work;
  } finally {
    going--;
    lastGoing = Date.now();
  }
}
/** Goes on with something after the event is answered. */
const goOn = (event: ExtendableEvent, work: Promise<unknown>): void => event.waitUntil(counted(work));

/** Answers once nothing was done for a moment; whatever a page saves now has begun by then. */
async function whenQuiet(answer: MessagePort | undefined): Promise<void> {
  while (going > 0 || Date.now() - lastGoing < REST_MS) await new Promise((again) => setTimeout(again, REST_MS / 8));
  answer?.postMessage('quiet');
}

/** Where whoever is shut out is led. */
const SIGN_IN = '/sign-in';

const PICTURES = /\.png$/;
const hashed = (url: string): boolean => url.startsWith('/_app/immutable/');
precacheAndRoute([
  ...[...build, ...files]
    .filter((url) => !PICTURES.test(url))
    .map((url) => ({ url, revision: hashed(url) ? null : version })),
  { url: SHELL, revision: version }
]);
cleanupOutdatedCaches();

const expirations = {
  [PAGES]: new CacheExpiration(PAGES, { maxEntries: MOST_PAGES }),
  [ANSWERS]: new CacheExpiration(ANSWERS, { maxEntries: MOST_ANSWERS })
};

/** Keeps an answer, with the moment it came. */
async function keep(name: typeof PAGES | typeof ANSWERS, key: string, response: Response): Promise<void> {
  const body = await response.arrayBuffer();
  if (body.byteLength > LARGEST_ANSWER_BYTES) return;
  const headers = new Headers(response.headers);
  headers.set(KEPT_HEADER, new Date().toISOString());
  try {
    const cache = await caches.open(name);
    await cache.put(key, new Response(body, { status: response.status, headers }));
    await expirations[name]?.updateTimestamp(new URL(key, location.origin).href);
    await expirations[name]?.expireEntries();
  } catch (error) {
    // Its storage is full: pages are worth more than answers, and what is stale is worth nothing.
    if (!(error instanceof DOMException) || error.name !== 'QuotaExceededError') throw error;
    await caches.delete(ANSWERS);
  }
}

/** What was kept under a key, by this version. */
const kept = async (name: string, key: string): Promise<Response | undefined> => (await caches.open(name)).match(key);

async function tell(message: ToPage): Promise<void> {
  for (const client of await self.clients.matchAll({ type: 'window' })) client.postMessage(message);
}

/** Lets go what the server does not have any more, or does not show here any more. @param status it answered with */
async function letGo(name: string, key: string, status: number | undefined): Promise<void> {
  if (status === 404 || status === 410) await (await caches.open(name)).delete(key);
  // Whoever is shut out of the server is shut out of what was kept of it. What was not sent stays in its own place.
  if (status === 401) await Promise.all([PAGES, ANSWERS].map((each) => caches.delete(each)));
}

/** What the data of a page is, as far as it is looked at here. */
interface PageData {
  type?: string;
  location?: string;
  nodes?: ({ type?: string; status?: number } | null)[];
}

/** Fetches the data of a page, all of it, and keeps it. A page that leads elsewhere, or fails, is not kept. */
async function keepPage(key: string): Promise<void> {
  try {
    const response = await fetch(key, { cache: 'no-store' });
    if (!response.ok) return await letGo(PAGES, key, response.status);
    const { type, location, nodes = [] } = (await response.clone().json()) as PageData;
    const failed = nodes.find((node) => node?.type === 'error');
    if (type === 'redirect' && location?.startsWith(SIGN_IN)) return await letGo(PAGES, key, 401);
    if (failed) await letGo(PAGES, key, failed.status);
    else if (type === 'data') await keep(PAGES, key, response);
  } catch {
    // The network is away, or this is no page with data: there is nothing to keep.
  }
}

/** Keeps pages and answers once nothing more is asked of them for a moment. */
const resting = new Map<string, ReturnType<typeof setTimeout>>();
function keepSoon(key: string, work: (key: string) => Promise<void>): Promise<void> {
  clearTimeout(resting.get(key));
  return new Promise((done) => {
    resting.set(
      key,
      setTimeout(() => {
        resting.delete(key);
        void work(key).finally(done);
      }, REST_MS)
    );
    // Whoever waits for one that was put off waits for the last.
    setTimeout(done, 10 * REST_MS);
  });
}

async function keepAnswer(key: string): Promise<void> {
  try {
    const response = await fetch(key, { cache: 'no-store' });
    await (response.ok ? keep(ANSWERS, key, response) : letGo(ANSWERS, key, response.status));
  } catch {
    // Away: what was kept before stays.
  }
}

/** A response from the network, as long as somebody would wait for it; where something was kept, no longer. */
async function fromNetwork(request: Request, hasKept: boolean): Promise<Response> {
  const patience = hasKept ? AbortSignal.timeout(PATIENCE_MS) : undefined;
  return fetch(request, patience ? { signal: patience } : {});
}

/** A proxy before a server that is away answers too. */
const isAway = ({ status }: Response): boolean => status === 502 || status === 503 || status === 504;

async function answerFrom(response: Response): Promise<Response> {
  await tell({ kept: response.headers.get(KEPT_HEADER) ?? new Date(0).toISOString() });
  return response;
}

/** @param data of the page it stands in for */
async function shell(data: Response | undefined): Promise<Response | undefined> {
  const page = await matchPrecache(SHELL);
  if (!page) return undefined;
  const theme = await (await kept(STATE, '/theme'))?.text();
  return new Response(asShell(await page.text(), theme, data?.headers.get(KEPT_HEADER) ?? ''), {
    headers: page.headers
  });
}

async function navigated(event: FetchEvent, url: URL): Promise<Response> {
  const key = keyOf(url);
  const known = await kept(PAGES, key);
  try {
    const response = await fromNetwork(event.request, known !== undefined);
    if (!response.ok) goOn(event, letGo(PAGES, key, response.status));
    else if (!response.redirected) goOn(event, keepSoon(key, keepPage));
    if (!isAway(response) || !known) return response;
  } catch (error) {
    // Without its data the page says itself that it was never opened here.
    const page = await shell(known);
    if (page) return page;
    throw error;
  }
  return (await shell(known)) ?? Response.error();
}

const NEVER_OPENED = { message: 'The server is away, and this page was not opened in this browser yet.' };

/** What is round every page, without the page. */
async function frameAlone(): Promise<Response | undefined> {
  const bare = await kept(PAGES, BARE);
  if (!bare) return undefined;
  const { nodes } = (await bare.json()) as { nodes: unknown[] };
  return new Response(`${JSON.stringify({ type: 'data', nodes: nodes.slice(0, 1) })}\n`, { headers: bare.headers });
}

async function dataOf(event: FetchEvent, url: URL): Promise<Response> {
  const key = keyOf(url);
  const known = await kept(PAGES, key);
  try {
    const response = await fromNetwork(event.request, known !== undefined);
    if (response.ok) goOn(event, keepSoon(key, keepPage));
    if (!isAway(response) || !known) return response;
  } catch {
    if (!known)
      return (isOfFrame(url) ? await frameAlone() : undefined) ?? Response.json(NEVER_OPENED, { status: 503 });
  }
  return answerFrom(known);
}

async function answered(event: FetchEvent, url: URL): Promise<Response> {
  const key = url.pathname + url.search;
  const known = await kept(ANSWERS, key);
  try {
    const response = await fromNetwork(event.request, known !== undefined);
    if (response.ok) goOn(event, keep(ANSWERS, key, response.clone()));
    if (!isAway(response) || !known) return response;
  } catch (error) {
    if (!known) throw error;
  }
  return answerFrom(known);
}

/** A picture whose name has its hash is the same for ever. */
async function pictured(event: FetchEvent, url: URL): Promise<Response> {
  const known = await kept(ANSWERS, url.pathname);
  if (known) return known;
  const response = await fetch(event.request);
  if (response.ok) goOn(event, keep(ANSWERS, url.pathname, response.clone()));
  return response;
}

/** What somebody changes here is kept as it is then. */
async function changed(event: FetchEvent, url: URL): Promise<Response> {
  const response = await fetch(event.request);
  if (!response.ok) return response;
  const id = trainChangedAt(url);
  if (id !== undefined) {
    // The train as it is now: a page that is opened without a network begins with it.
    if (url.pathname.endsWith('/revisions')) goOn(event, keep(ANSWERS, `/api/trains/${id}`, response.clone()));
    goOn(event, keepSoon(keyOf(new URL(`/trains/${id}`, url)), keepPage));
  }
  if (isOfDrawer(url)) goOn(event, keepSoon('/api/drawer', keepAnswer));
  return response;
}

/** What answers a request; undefined where that is left to the browser. */
function answerTo(request: Request, url: URL): ((event: FetchEvent, url: URL) => Promise<Response>) | undefined {
  if (request.method !== 'GET') return trainChangedAt(url) !== undefined || isOfDrawer(url) ? changed : undefined;
  if (request.mode === 'navigate') return isPage(url) ? navigated : undefined;
  if (url.pathname.endsWith(DATA_SUFFIX)) return dataOf;
  if (isWorthKeeping(url)) return answered;
  return hashed(url.pathname) && PICTURES.test(url.pathname) ? pictured : undefined;
}

self.addEventListener('fetch', (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (url.origin !== location.origin) return;
  if (request.method === 'HEAD') return;
  const answer = answerTo(request, url);
  if (answer) event.respondWith(counted(answer(event, url)));
});

/** Kept anew no more often than that, ms: whoever looks at a page asks for what is in it anyway. */
const FRESH_MS = 60_000;

/** A page that somebody has come to, be it without asking the server: it is kept, with what it is read from. */
async function visited(url: URL): Promise<void> {
  if (!isPage(url)) return;
  const isFresh = async (name: string, key: string): Promise<boolean> => {
    const age = Date.now() - Date.parse((await kept(name, key))?.headers.get(KEPT_HEADER) ?? '');
    // A clock that was put back makes nothing fresh.
    return age >= 0 && age < FRESH_MS;
  };
  const key = keyOf(url);
  if (!(await isFresh(PAGES, key))) await keepSoon(key, keepPage);
  if (!(await kept(PAGES, BARE))) await keepPage(BARE);
  for (const answer of answersOf(url)) if (!(await isFresh(ANSWERS, answer))) await keepAnswer(answer);
}

/**
 * Pages that an older version kept are fetched anew: this one understands its own. It is begun by the first page that
 * is there; while a worker is being activated every page waits for it.
 */
async function renew(): Promise<void> {
  for (const name of await caches.keys()) {
    if (name === PAGES || name === ANSWERS || !/^(pages|answers)-/.test(name)) continue;
    const isPages = name.startsWith('pages-');
    const old = await (await caches.open(name)).keys();
    for (const { url } of old) {
      const { pathname, search } = new URL(url);
      await (isPages ? keepPage : keepAnswer)(pathname + search);
    }
    await caches.delete(name);
  }
}

let renewing: Promise<void> | undefined;

self.addEventListener('activate', (event) => {
  event.waitUntil(self.clients.claim());
});

self.addEventListener('message', (event) => {
  const message = event.data as ToWorker;
  if ('use' in message) event.waitUntil(self.skipWaiting());
  else if ('when' in message) event.waitUntil(whenQuiet(event.ports[0]));
  else if ('page' in message) {
    goOn(event, visited(new URL(message.page, location.origin)));
    goOn(event, (renewing ??= renew()));
  } else event.waitUntil(caches.open(STATE).then((state) => state.put('/theme', new Response(message.theme))));
});
