import { afterNavigate, invalidateAll } from '$app/navigation';
import { whenThere } from '../reach.ts';
import { getContext, setContext } from 'svelte';
import { WAITING, keyOf, type ToPage, type ToWorker } from './rules.ts';

/** Whether a page can be shown without the server: it was visited in this browser. */
export async function isKept(url: URL): Promise<boolean> {
  if (!('serviceWorker' in navigator) || !navigator.serviceWorker.controller) return false;
  return (await caches.match(keyOf(url))) !== undefined;
}

/** Whether this page was begun without the server. */
export const beganKept = (): boolean => document.documentElement.dataset.shell !== undefined;

/** What is kept in this browser. */
export type KeptHere =
  /** `impossible`: the address is not a secure one. `preparing`: the program is being copied. */
  | { state: 'impossible' }
  | { state: 'preparing' }
  | {
      state: 'ready';
      trains: number;
      /** Pages beside those of trains. */
      pages: number;
      /** All that this address keeps in the browser; undefined where that is not told. */
      bytes: number | undefined;
    };

const MOST_WAIT_MS = 10_000;
/** What a worker has answered is not yet the end of its work for the browser. */
const SETTLE_MS = 300;

/**
 * Waits until a service worker has nothing to do: told to give way in the middle of a save, Chromium was seen to leave
 * it in its place for minutes.
 */
async function quiet(worker: ServiceWorker): Promise<void> {
  await new Promise<void>((done) => {
    const { port1, port2 } = new MessageChannel();
    port1.onmessage = () => done();
    worker.postMessage({ when: 'quiet' } satisfies ToWorker, [port2]);
    setTimeout(done, MOST_WAIT_MS);
  });
  await new Promise((done) => setTimeout(done, SETTLE_MS));
}

const OF_PAGES = /^(pages|answers)-/;

/** Looks what is kept in this browser. */
export async function keptHere(): Promise<KeptHere> {
  if (!('serviceWorker' in navigator) || !('caches' in window)) return { state: 'impossible' };
  if (!navigator.serviceWorker.controller) return { state: 'preparing' };
  const names = (await caches.keys()).filter((name) => name.startsWith('pages-'));
  const keys = (await Promise.all(names.map(async (name) => (await caches.open(name)).keys()))).flat();
  const trains = keys.filter(({ url }) => url.startsWith(`${location.origin}/trains/`)).length;
  const { usage } = (await navigator.storage?.estimate?.()) ?? {};
  return { state: 'ready', trains, pages: keys.length - trains, bytes: usage };
}

/** Deletes what was kept of pages; the program stays, and so does what was not sent yet. */
export async function forgetKept(): Promise<void> {
  for (const name of await caches.keys()) if (OF_PAGES.test(name)) await caches.delete(name);
}

/**
 * What works without the server: when what is shown was kept, and whether a newer version of the program waits. Where
 * there is no service worker (a page of plain HTTP that is not on loopback) nothing is kept, and nothing is said.
 */
export class Offline {
  /** ISO 8601, of the oldest that is shown; undefined where all of it came from the server. */
  keptAt = $state.raw<string>();
  hasNewer = $state.raw(false);
  #stopWaiting: (() => void) | undefined;
  #worker: ServiceWorkerRegistration | undefined;

  /** Begins to listen; in the browser only. @returns what ends it */
  start(): () => void {
    if (!('serviceWorker' in navigator)) return () => undefined;
    const workers = navigator.serviceWorker;
    const over = new AbortController();
    const { signal } = over;
    document.getElementById(WAITING)?.remove();
    const { shell } = document.documentElement.dataset;
    if (shell) this.#shownAsOf(shell);
    let isControlled = workers.controller !== null;
    workers.addEventListener('message', (event: MessageEvent<ToPage>) => this.#shownAsOf(event.data.kept), { signal });
    workers.addEventListener(
      'controllerchange',
      () => {
        // The first one only takes the page over; a newer one has other files than this page was begun with.
        if (isControlled) location.reload();
        isControlled = true;
      },
      { signal }
    );
    void workers.ready.then((worker) => {
      this.#worker = worker;
      const look = (): void => {
        this.hasNewer = worker.waiting !== null && workers.controller !== null;
      };
      look();
      worker.addEventListener(
        'updatefound',
        () => worker.installing?.addEventListener('statechange', look, { signal }),
        { signal }
      );
    });
    return () => {
      over.abort();
      this.#stopWaiting?.();
    };
  }

  /** Tells the service worker something, once there is one; in the browser only. */
  tell(message: ToWorker): void {
    if (!('serviceWorker' in navigator)) return;
    void navigator.serviceWorker.ready.then(({ active }) => active?.postMessage(message));
  }

  /** Goes on with the newer version. What is typed in a field is taken over first; all else is kept anyway. */
  async useNewer(): Promise<void> {
    if (document.activeElement instanceof HTMLElement) document.activeElement.blur();
    const { active } = this.#worker ?? {};
    if (active) await quiet(active);
    this.#worker?.waiting?.postMessage({ use: 'newest' } satisfies ToWorker);
  }

  #shownAsOf(kept: string): void {
    if (this.keptAt === undefined || kept < this.keptAt) this.keptAt = kept;
    this.#stopWaiting ??= whenThere(() => {
      this.#stopWaiting = undefined;
      this.keptAt = undefined;
      void invalidateAll();
    });
  }
}

const KEY = Symbol('offline');
export function provideOffline(): Offline {
  const offline = new Offline();
  afterNavigate(({ to }) => {
    if (to) offline.tell({ page: to.url.pathname + to.url.search });
  });
  return setContext(KEY, offline);
}
export const useOffline = (): Offline => getContext<Offline>(KEY);
