/** The end of the address at which the data of a page is asked for. */
export const DATA_SUFFIX = '/__data.json';

/** The page that stands in for every page while the server is away: it takes its data from what was kept. */
export const SHELL = '/shell';

/** Says when what answers was kept, ISO 8601. */
export const KEPT_HEADER = 'x-lodestone-kept';

/** What the page and its service worker tell each other. */
export type ToPage = { kept: string };
export type ToWorker = { theme: string } | { page: string } | { use: 'newest' } | { when: 'quiet' };

/** Pages that are not of the application, or of the moment alone. */
const NO_PAGE =
  /^\/(api|shared|with|shell|healthz|livez|metrics|sign-in|join|account|_app)(\/|$)|\.(json|js|svg|png|webmanifest)$/;

/** Whether an address is a page of the application, which works without the server once it was visited. */
export const isPage = ({ pathname }: Pick<URL, 'pathname'>): boolean => !NO_PAGE.test(pathname);

/** Where the data of pages is kept that ask the server for nothing of their own. */
export const BARE = `/guide${DATA_SUFFIX}`;
const BARE_PAGES = /^\/(guide|measure|reach|drawer(\/[^/]+)?)$/;

/** Asks for what is round a page alone, where the page itself could not be had: there something is said all the same. */
export const isOfFrame = ({ searchParams }: Pick<URL, 'searchParams'>): boolean =>
  searchParams.get('x-sveltekit-invalidated')?.length === 1;

/**
 * Where the data of a page is kept: every stage of a train has the same, and so have pages without any of their own.
 *
 * @param url of the page, or of its data
 */
export function keyOf({ pathname, search }: Pick<URL, 'pathname' | 'search'>): string {
  const page = pathname.endsWith(DATA_SUFFIX) ? pathname.slice(0, -DATA_SUFFIX.length) : pathname;
  const train = /^\/trains\/[^/]+/.exec(page)?.[0];
  if (train !== undefined) return `${train}/build${DATA_SUFFIX}`;
  if (BARE_PAGES.test(page)) return BARE;
  const asked = new URLSearchParams(search);
  for (const key of [...asked.keys()]) if (key.startsWith('x-sveltekit-')) asked.delete(key);
  const rest = asked.toString();
  return `${page === '/' ? '' : page}${DATA_SUFFIX}${rest === '' ? '' : `?${rest}`}`;
}

/** Answers of the server that are worth keeping: what a page reads, nothing that is large, of the moment, or a stream. */
const WORTH_KEEPING = [
  /^\/api\/drawer$/,
  /^\/api\/drawer\/parts\/[^/]+\/photo$/,
  /^\/api\/records\/[^/]+\/photos\/\d+$/,
  /^\/api\/trains$/,
  /^\/api\/trains\/[^/]+$/,
  /^\/api\/trains\/[^/]+\/(assembly|frames|history|history\/states|links|records)$/,
  /^\/api\/trains\/[^/]+\/revisions\/\d+$/
];
export const isWorthKeeping = ({ pathname }: Pick<URL, 'pathname'>): boolean =>
  WORTH_KEEPING.some((each) => each.test(pathname));

/** Id of the train that an address changes; undefined where it is none, or takes what its page has none of, as frames. */
export const trainChangedAt = ({ pathname }: Pick<URL, 'pathname'>): string | undefined =>
  /^\/api\/trains\/([^/]+)(\/revisions)?$/.exec(pathname)?.[1];

/** Whether an address changes the drawer. */
export const isOfDrawer = ({ pathname }: Pick<URL, 'pathname'>): boolean => pathname.startsWith('/api/drawer/');

/** What a page is read from beside its own data: it is kept when the page is visited. */
export function answersOf({ pathname }: Pick<URL, 'pathname'>): string[] {
  const id = /^\/trains\/([^/]+)/.exec(pathname)?.[1];
  if (id === undefined) return ['/api/drawer'];
  return [
    '/api/drawer',
    ...['', '/assembly', '/records', '/frames', '/history'].map((each) => `/api/trains/${id}${each}`)
  ];
}

/** What is seen of it until the program runs: on a phone that is a while. */
export const WAITING = 'waiting';

/**
 * The page that stands in for others, as it is shown: with the theme that is chosen now, for it was kept with the one of
 * then, and marked with the moment its data was kept.
 *
 * @param keptAt ISO 8601; empty where nothing was
 */
export function asShell(html: string, theme: string | undefined, keptAt: string): string {
  const themed = theme !== undefined && /^[a-z]+$/.test(theme) ? `data-theme="${theme}"` : undefined;
  const at = /^[\d.:TZ-]*$/.test(keptAt) ? keptAt : '';
  return html
    .replace(/data-theme="[a-z]*"/, (was) => `${themed ?? was} data-shell="${at}"`)
    .replace(/<body[^>]*>/, `$&<p id="${WAITING}">Opening without the server …</p>`);
}
