// The server round SvelteKit's handler: who may ask, security headers, log lines, a clean end. As root it binds its
// port, reads its keys, and goes on as a user who may nothing else.
import { spawnSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { chownSync, existsSync, mkdirSync, readFileSync, realpathSync } from 'node:fs';
import { createServer } from 'node:http';
import { createServer as createTlsServer } from 'node:https';
import { dirname, join, resolve } from 'node:path';
import { pathToFileURL } from 'node:url';
import { Door, addressOf, askerOf, checkAccess, namesOf, peerOf, schemeOf } from './access.mjs';
import { ROOT, SetupError, isRoot, makeFolder, portFrom } from './setup/paths.mjs';

/** No request is larger than this; routes set tighter limits of their own. */
const LARGEST_BODY_BYTES = 512 * 1024 * 1024;

/**
 * A connection stays open for so long without a request, ms: longer than a proxy keeps its own (nginx, “keepalive_timeout”:
 * 60 s), for whoever closes first may cut off a request that is just coming.
 */
const KEEP_ALIVE_MS = 75_000;
/** While it ends, one that has become idle is closed that soon, ms. */
const IDLE_LOOK_MS = 50;

/** How long open requests may take to finish once the server is told to stop. */
const GRACE_MS = 3000;

/** Longest time a line of the log waits for others, ms. */
const LOG_MS = 100;

const SECURITY_HEADERS = {
  'x-content-type-options': 'nosniff',
  'x-frame-options': 'DENY',
  'referrer-policy': 'same-origin',
  'cross-origin-opener-policy': 'same-origin',
  'cross-origin-resource-policy': 'same-origin',
  // Labels are read by the camera, on our own pages alone.
  'permissions-policy': 'camera=(self), geolocation=(), microphone=()'
};

/** Half a year: a browser that has been here by TLS comes by TLS. */
const HSTS_SECONDS = 182 * 24 * 3600;

/** For whatever is no page: pages bring their own, and scripts of workers need one that lets them load the others. */
const NOTHING_ALLOWED = "default-src 'none'; frame-ancestors 'none'";

/** What keeps pages for when the server is away asks the server for all of it. */
const SERVICE_WORKER = '/service-worker.js';
const SERVICE_WORKER_POLICY = "default-src 'none'; script-src 'self'; connect-src 'self'";

/** Whom the server becomes when it is started as root. */
const UNPRIVILEGED = 'nobody';

/** Whether a page of another site asks, be it without saying so in `Origin`; following a link is no asking. */
function isOfOtherSite({ method, headers }) {
  const site = headers['sec-fetch-site'];
  const isLink = headers['sec-fetch-mode'] === 'navigate' && (method === 'GET' || method === 'HEAD');
  return (site === 'cross-site' || site === 'same-site') && !isLink;
}

function isDecodable(url) {
  try {
    decodeURIComponent(new URL(url, 'http://here').pathname);
    return true;
  } catch {
    return false;
  }
}

/** Says that the process runs, and nothing of whether it can serve: that is what /healthz is for. */
const ALIVE = '/livez';
function alive(response) {
  response.writeHead(200, { 'content-type': 'application/json', 'cache-control': 'no-store' });
  response.end(JSON.stringify({ status: 'alive' }));
}

/** Addresses that are a secret: they stand in no log. */
const SECRET_ADDRESS = /^(\/shared\/)[^?]*/;

/** What a request is called in the log and in its answer: as a proxy that is trusted calls it, or by a name of its own. */
const REQUEST_ID = 'x-request-id';
function requestIdOf({ headers, socket }, proxies) {
  const given = headers[REQUEST_ID];
  return proxies.includes(peerOf(socket)) && /^[\w-]{1,64}$/.test(given ?? '') ? given : randomUUID();
}

/** Other programs of this machine go by its names too, without TLS. */
const isOwnMachine = (host = '') => /^(localhost|127\.[\d.]+|\[::1\])(:|$)/.test(host);

const hasBody = ({ headers }) => Number(headers['content-length'] ?? 0) > 0 || 'transfer-encoding' in headers;

function refuse(response, status, message) {
  response.writeHead(status, { 'content-type': 'application/json', connection: 'close' });
  response.end(JSON.stringify({ message }));
}

/** Ids of the unprivileged user, where it may read what the server runs from; else why not. */
function unprivileged(folders) {
  const idOf = (flag) => Number(spawnSync('id', [flag, UNPRIVILEGED], { encoding: 'utf8' }).stdout);
  const user = { uid: idOf('-u'), gid: idOf('-g') };
  if (!user.uid) return { why: `there is no user “${UNPRIVILEGED}”` };
  const may = (what, path) => spawnSync('test', [what, path], { ...user, cwd: '/' }).status === 0;
  const closed = folders.find((folder) => !may('-r', folder));
  if (closed) return { why: `“${UNPRIVILEGED}” may not read ${closed}` };
  // Errands are run by the same program.
  return may('-x', process.execPath) ? { user } : { why: `“${UNPRIVILEGED}” may not run ${process.execPath}` };
}

/** Folder for backups, which whoever the server becomes may write and nobody else may read. */
function makeBackupsFolder(folder, user, log) {
  if (!folder) return;
  try {
    makeFolder(dirname(folder));
    if (existsSync(folder)) return;
    mkdirSync(folder, { mode: 0o700 });
    if (user) chownSync(folder, user.uid, user.gid);
  } catch (error) {
    log(`No backups are kept: ${error.message}`);
    delete process.env.LODESTONE_BACKUPS;
  }
}

/** Gives up root for good. */
function dropPrivileges(folders, log) {
  const { user, why } = unprivileged(folders);
  makeBackupsFolder(process.env.LODESTONE_BACKUPS, user, log);
  if (!user) {
    log(
      `The web server goes on as root: ${why}. Put Lodestone where everybody may read it to have it run unprivileged.`
    );
    return;
  }
  process.setgroups([user.gid]);
  process.setgid(user.gid);
  process.setuid(user.uid);
}

/**
 * @param options.build folder of the adapter's build
 * @param options.host address to listen on; loopback unless asked otherwise
 * @param options.hosts further names it may be asked by, as `host:port`
 * @param options.token what everybody shows; needed beyond loopback
 * @param options.several whether everybody signs in, instead of showing the token
 * @param options.proxies addresses of proxies that are believed whom they ask for, and by which scheme
 * @param options.tls {key, cert} file names, for a phone on the local network
 */
export async function serve({
  build,
  port,
  host = '127.0.0.1',
  hosts = [],
  token,
  several = false,
  proxies = [],
  tls,
  log = console.log
}) {
  checkAccess({ host, hosts, token, several });
  const scheme = tls ? 'https' : 'http';
  process.env.PROTOCOL_HEADER = 'x-lodestone-scheme';
  process.env.HOST_HEADER = 'host';
  process.env.BODY_SIZE_LIMIT = String(LARGEST_BODY_BYTES);
  process.env.LODESTONE_ERRANDS = join(build, 'errands/runner.js');

  const json = process.env.LODESTONE_LOG === 'json';
  let known = new Set();
  let stopping = false;
  const isForeign = ({ method, headers }, scheme) => {
    if (!known.has((headers.host ?? '').toLowerCase())) {
      return `This server is not asked by the name “${headers.host ?? ''}”.`;
    }
    if (
      isOfOtherSite({ method, headers }) ||
      (headers.origin !== undefined && headers.origin !== `${scheme}://${headers.host}`)
    ) {
      return 'This server does not answer pages of other origins.';
    }
    return undefined;
  };

  const door = new Door({ token, proxies });
  let begun;
  /** Loaded once privileges are given up; whoever asks earlier waits for it. */
  const handler = new Promise((done) => (begun = done));

  // Lines are written together: each on its own would be a wait of every request.
  let lines = [];
  const flush = () => {
    if (lines.length > 0) log(lines.join('\n'));
    lines = [];
  };
  const note = (line) => {
    if (lines.push(line) === 1) setTimeout(flush, LOG_MS);
  };

  const answer = async (request, response) => {
    const began = performance.now();
    const id = requestIdOf(request, proxies);
    response.once('close', () => {
      const took = (performance.now() - began).toFixed(0);
      const { headersSent, writableFinished, statusCode } = response;
      const came = writableFinished ? statusCode : headersSent ? `${statusCode} cut off` : 'unanswered';
      const url = request.url.replace(SECRET_ADDRESS, '$1…');
      const at = new Date().toISOString();
      note(
        json
          ? JSON.stringify({ at, request: id, method: request.method, url, status: statusCode, came, ms: Number(took) })
          : `${at} ${request.method} ${url} ${came} ${took} ms`
      );
    });
    response.setHeader(REQUEST_ID, id);
    request.headers['x-lodestone-request'] = id;
    // A body nobody read would stand before the next request on this connection.
    response.once('finish', () => {
      if (!request.complete) request.removeAllListeners('data').removeAllListeners('readable').resume();
    });
    for (const [name, text] of Object.entries(SECURITY_HEADERS)) response.setHeader(name, text);
    if (!request.url.startsWith('/_app/')) {
      const policy = request.url.split('?', 1)[0] === SERVICE_WORKER ? SERVICE_WORKER_POLICY : NOTHING_ALLOWED;
      response.setHeader('content-security-policy', policy);
    }
    if (stopping) response.setHeader('connection', 'close');
    if (request.url === ALIVE) return alive(response);
    if (stopping && request.url === '/healthz') return refuse(response, 503, 'This server is ending.');
    const asked = schemeOf(request, { tls: tls !== undefined, proxies });
    // Said by this server alone, whatever the request brought under these names.
    request.headers['x-lodestone-scheme'] = asked;
    request.headers['x-lodestone-peer'] = askerOf(request, proxies);
    if (asked === 'https' && !isOwnMachine(request.headers.host))
      response.setHeader('strict-transport-security', `max-age=${HSTS_SECONDS}`);
    const foreign = isForeign(request, asked);
    if (foreign) return refuse(response, 403, foreign);
    if (!isDecodable(request.url)) return refuse(response, 400, 'This address cannot be decoded.');
    if (!(await door.passes(request, response))) return;
    // Without a type the framework would drop it.
    if (hasBody(request)) request.headers['content-type'] ??= 'application/octet-stream';
    (await handler)(request, response, () => refuse(response, 404, 'There is nothing here.'));
  };

  const server = tls
    ? createTlsServer({ key: readFileSync(tls.key), cert: readFileSync(tls.cert) }, answer)
    : createServer(answer);
  server.keepAliveTimeout = KEEP_ALIVE_MS;
  await new Promise((listening, failed) => {
    server.once('error', failed);
    server.listen(port, host, listening);
  });
  const { port: bound } = server.address();
  known = namesOf({ host, hosts, port: bound, scheme });
  if (isRoot())
    dropPrivileges(
      [join(build, 'handler.js'), process.env.LODESTONE_ERRANDS, join(ROOT, 'node_modules/pg/package.json')],
      log
    );
  else makeBackupsFolder(process.env.LODESTONE_BACKUPS, undefined, log);
  const { handler: loaded } = await import(pathToFileURL(join(build, 'handler.js')).href);
  begun(loaded);

  const stop = async () => {
    stopping = true;
    const closed = new Promise((done) => server.close(done));
    // Event streams and the connection pool end themselves on this.
    process.emit('sveltekit:shutdown', 'SIGTERM');
    const idle = setInterval(() => server.closeIdleConnections(), IDLE_LOOK_MS);
    const cut = setTimeout(() => server.closeAllConnections(), GRACE_MS);
    await closed;
    clearInterval(idle);
    clearTimeout(cut);
    flush();
  };
  return { url: `${scheme}://${addressOf(host)}:${bound}`, stop };
}

const listed = (text = '') =>
  text
    .split(',')
    .map((each) => each.trim())
    .filter(Boolean);

function severalFrom(text) {
  if (text && text !== 'several') {
    throw new SetupError(`LODESTONE_OWNERS is “${text}”: it is “several”, or not set.`);
  }
  return text === 'several';
}

/** Options as the environment gives them. */
export function serveOptions(env = process.env) {
  return {
    host: env.LODESTONE_HOST ?? '127.0.0.1',
    hosts: listed(env.LODESTONE_HOSTS),
    token: env.LODESTONE_TOKEN || undefined,
    several: severalFrom(env.LODESTONE_OWNERS),
    proxies: listed(env.LODESTONE_PROXIES),
    tls: env.LODESTONE_TLS_KEY ? { key: env.LODESTONE_TLS_KEY, cert: env.LODESTONE_TLS_CERT } : undefined
  };
}

/** Runs `stop` once, on the first of the signals that end a server. */
export function onEnd(stop) {
  let ending = false;
  const end = async () => {
    if (ending) return;
    ending = true;
    try {
      await stop();
      process.exit(0);
    } catch (error) {
      console.error(error instanceof Error ? error.message : error);
      process.exit(1);
    }
  };
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, end);
  return end;
}

const DEFAULT_PORT = 4180;
/** Up to 4189: browsers refuse to speak to 4190, which belongs to another protocol. */
const PORTS_TRIED = 10;

/** A server that was killed may hold its port for a moment longer. */
const PORT_WAIT_MS = 6000;

async function serveOnFreePort(options) {
  const asked = portFrom(process.env.PORT);
  const last = asked ?? DEFAULT_PORT + PORTS_TRIED - 1;
  const patience = Date.now() + PORT_WAIT_MS;
  for (let port = asked ?? DEFAULT_PORT; ;) {
    try {
      return await serve({ ...options, port });
    } catch (error) {
      if (error.code === 'EACCES') throw new SetupError(`Port ${port} may not be opened. Set PORT to another one.`);
      if (error.code !== 'EADDRINUSE') throw error;
      if (port < last) port++;
      else if (asked !== undefined && Date.now() < patience) await new Promise((over) => setTimeout(over, 200));
      else throw new SetupError(`Port ${port} is taken. Set PORT to a free one.`);
    }
  }
}

// Run on its own, or by the start command: serves a finished build on a database that is there and up to date.
if (process.argv[1] && pathToFileURL(realpathSync(process.argv[1])).href === import.meta.url) {
  try {
    const { url, stop } = await serveOnFreePort({
      ...serveOptions(),
      build: resolve(ROOT, process.env.LODESTONE_BUILD ?? 'build')
    });
    console.log(`Serving on ${url}`);
    const end = onEnd(stop);
    // Whoever started it is gone: so is the reason to run.
    process.on('disconnect', () => void end());
    process.send?.({ url });
  } catch (error) {
    const message = error instanceof SetupError ? error.message : (error.stack ?? String(error));
    if (process.send) process.send({ failure: message }, () => process.exit(1));
    else {
      console.error(message);
      process.exit(1);
    }
  }
}
