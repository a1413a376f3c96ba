import { backUpWhereDue, ownersWithBackupDue } from '$lib/server/backup/kept.ts';
import { closeDatabase, databaseRefusal } from '$lib/server/database.ts';
import { loadDemo, photographDemo } from '$lib/server/demo.ts';
import { forgetOldChanges } from '$lib/server/drawer.ts';
import { TooMuch } from '$lib/server/errands/index.ts';
import { Busy, Gone } from '$lib/server/gate.ts';
import { Jobs } from '$lib/server/jobs.ts';
import { errorFields, log } from '$lib/server/log.ts';
import { countRequest } from '$lib/server/metrics.ts';
import { endStreams, startListening } from '$lib/server/live.ts';
import { actingFor } from '$lib/server/acting.ts';
import { sharedTrainOf, trainOfRecord } from '$lib/server/owners/guests.ts';
import { knownOwners } from '$lib/server/owners/accounts.ts';
import { hasOwners } from '$lib/server/owner.ts';
import { isOpen, isWithin, whoAsks } from '$lib/server/owners/asking.ts';
import { forgetAttempts } from '$lib/server/owners/attempts.ts';
import { shownCookie } from '$lib/server/owners/entering.ts';
import { tidy } from '$lib/server/retention.ts';
import { Unreadable } from '$lib/server/revisions.ts';
import { readPreferences } from '$lib/ui/preferences.ts';
import { json, redirect, type Handle, type HandleServerError, type RequestEvent, type ServerInit } from '@sveltejs/kit';

export const init: ServerInit = async () => {
  if (process.env.LODESTONE_DEMO !== 'off') {
    const { trains, parts } = await loadDemo();
    if (trains + parts > 0) console.log(`Loaded the demo: ${trains} trains, ${parts} parts`);
    if (process.env.LODESTONE_DEMO_FRAMES !== 'off') void photograph();
  }
  if (process.env.LODESTONE_JOBS !== 'off') jobs.start();
  void startListening();
  process.on('sveltekit:shutdown', () => {
    void endStreams();
    // What a job began it ends with the database there, where it can.
    void jobs.stop().finally(closeDatabase);
  });
};

const isUuid = (text: string): boolean => /^[\da-f]{8}(-[\da-f]{4}){3}-[\da-f]{12}$/.test(text);

/** What is done for everybody without being asked for; a server may leave it to others. */
const jobs = new Jobs({
  backup: { everyS: 10 * 60, whom: ownersWithBackupDue, work: backUpWhereDue },
  tidy: {
    everyS: 6 * 3600,
    whom: async () => {
      await forgetAttempts();
      return knownOwners();
    },
    work: async (owner) => {
      await forgetOldChanges(owner);
      await tidy(owner);
    }
  }
});

/** Takes the demo's frames while the application already answers. */
async function photograph(): Promise<void> {
  try {
    await photographDemo();
  } catch (error) {
    console.error('The frames of the demo were not taken:', error);
  }
}

export const handle: Handle = async (asked) => {
  const began = performance.now();
  const response = await handled(asked);
  const { request, route } = asked.event;
  countRequest(request.method, route.id ?? 'none', response.status, (performance.now() - began) / 1000);
  return response;
};

/** Whoever may not pass: a page leads to where one signs in, everything else says so. */
function shutOut({ url, request, isDataRequest }: RequestEvent, isWrong: boolean): Response {
  const isPage =
    isDataRequest || (request.method === 'GET' && /\btext\/html\b/.test(request.headers.get('accept') ?? ''));
  if (isPage && !isWrong) redirect(303, `/sign-in?to=${encodeURIComponent(url.pathname + url.search)}`);
  const message = isWrong
    ? 'This token does not hold.'
    : 'Sign in first, or send a token as “Authorization: Bearer …”.';
  return json({ message }, { status: 401, headers: { 'www-authenticate': 'Bearer' } });
}

/** What a guest may change of a train that is shared to be edited: the train, not its owner's drawer, nor who else sees it. */
const BY_GUESTS = /^\/api\/trains\/\[id\]\/(revisions|frames|focuser|camera)(\/|$)/;
/** What of a guest's own request is about themselves. */
const OF_GUESTS = '/api/trains/[id]/guests/[guest]';

/** Another's train that is shared, where the request is about one. */
async function guestOf({ locals: { asking }, route, params }: RequestEvent) {
  if (!('owner' in asking)) return undefined;
  if (route.id === OF_GUESTS) return undefined;
  const isOfRecord = route.id?.startsWith('/api/records/[record]/') === true;
  if (!isOfRecord && !/^\/(api\/trains|trains|with)\/\[id\]/.test(route.id ?? '')) return undefined;
  const named = isOfRecord ? params.record : params.id;
  if (named === undefined || !isUuid(named)) return undefined;
  const train = isOfRecord ? await trainOfRecord(asking.owner, named) : named;
  return train === undefined ? undefined : sharedTrainOf(asking, train);
}

const handled: Handle = async ({ event, resolve }) => {
  const { method, headers } = event.request;
  const { pathname } = event.url;
  const asking = await whoAsks(headers.get('authorization'), hasOwners() ? shownCookie(event) : undefined);
  event.locals.asking = asking;
  if ('owner' in asking) event.locals.owner = asking.owner;
  else if (!isOpen(pathname)) return shutOut(event, asking.kind === 'wrong');
  // Nobody’s rows are nobody’s.
  else event.locals.owner = '';
  if (asking.kind === 'token' && !isWithin(asking.scope, method, pathname)) {
    return json({ message: `This token may not do that: it is for “${asking.scope}” alone.` }, { status: 403 });
  }
  const shared = hasOwners() ? await guestOf(event) : undefined;
  if (shared) {
    const actor = event.locals.owner;
    event.locals.owner = shared.owner;
    event.locals.sharedBy = { name: shared.by, may: shared.may };
    const isReading = method === 'GET' || method === 'HEAD';
    if (!isReading && !(shared.may === 'edit' && BY_GUESTS.test(event.route.id ?? ''))) {
      const may = shared.may === 'edit' ? 'change the train itself, nothing beside it' : 'look at it';
      return json({ message: `This train is ${shared.by}’s: you may ${may}.` }, { status: 403 });
    }
    // Stages are for whoever may change something.
    if (shared.may === 'read' && event.route.id?.startsWith('/trains/')) redirect(303, `/with/${event.params.id}`);
    return actingFor({ actor, owner: shared.owner }, () => served({ event, resolve }));
  }
  return served({ event, resolve });
};

const served: Handle = async ({ event, resolve }) => {
  event.locals.preferences = readPreferences((name) => event.cookies.get(name));
  // Only a page has a theme; and only a person wants one that says there is nothing here.
  if (event.url.pathname.startsWith('/api/') || event.url.pathname === '/api') {
    if (event.route.id === null) return json({ message: 'There is nothing at this address.' }, { status: 404 });
    return answered(event, await resolve(event));
  }
  const { theme } = event.locals.preferences;
  const response = await resolve(event, {
    transformPageChunk: ({ html }) => html.replace('%lodestone.theme%', theme)
  });
  return answered(event, response);
};

/** What is busy now, or starting again, is so for a moment. */
const RETRY_AFTER_S = '2';

/** What somebody asked for is theirs: nothing between here and their browser keeps it, and the browser asks again. */
const KEPT_NOWHERE = 'private, no-cache';

/** The response with the status that an error really has: the framework calls every unexpected one a 500. */
function answered({ locals: { refusal } }: RequestEvent, response: Response): Response {
  const headers = new Headers(response.headers);
  if (!headers.has('cache-control')) headers.set('cache-control', KEPT_NOWHERE);
  if (refusal === 503) headers.set('retry-after', RETRY_AFTER_S);
  return new Response(response.body, { status: refusal ?? response.status, headers });
}

const isDiskFull = (error: unknown): boolean =>
  error instanceof Error && 'code' in error && (error.code === 'ENOSPC' || error.code === 'EDQUOT');

/** An error that a person can do something about: with what status, and in which words. */
function told(error: unknown): { status: number; message: string } | undefined {
  if (error instanceof Busy) return { status: 503, message: error.message };
  if (error instanceof Gone) return { status: 499, message: error.message };
  if (error instanceof TooMuch) return { status: 422, message: error.message };
  if (isDiskFull(error)) {
    return { status: 503, message: 'The disk of the server is full. Nothing was changed; make room, then try again.' };
  }
  if (error instanceof Unreadable) return { status: 422, message: `${error.message}. It can still be exported.` };
  return databaseRefusal(error);
}

const ofRequest = ({ request, url, route }: RequestEvent): string =>
  // The address of a link is its secret.
  `${request.method} ${route.id?.startsWith('/shared/') ? '/shared/…' : url.pathname}`;

/** What the server calls this request in its log, and in the answer. */
const idOf = ({ request }: RequestEvent): { request: string } => ({
  request: request.headers.get('x-lodestone-request') ?? 'none'
});

export const handleError: HandleServerError = ({ error, event, status, message }) => {
  const refusal = told(error);
  if (refusal) {
    const words = error instanceof Error ? error.message : String(error);
    event.locals.refusal = refusal.status;
    // Whoever left is told nothing, and their leaving is no event.
    if (error instanceof Gone) return { message: refusal.message };
    log('warning', `${ofRequest(event)}: ${refusal.status}, ${words}`, idOf(event));
    return { message: refusal.message };
  }
  if (status === 404) return { message: 'There is nothing at this address.' };
  if (status < 500) return { message };
  log('error', ofRequest(event), { ...idOf(event), ...errorFields(error) });
  return { message: 'The server failed. Nothing was changed; its log has the cause.' };
};
