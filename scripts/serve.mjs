// The server round SvelteKit's handler: who may ask, security headers, log lines, a clean end.
import { readFileSync } from 'node:fs';
import { createServer } from 'node:http';
import { createServer as createTlsServer } from 'node:https';
import { join, resolve } from 'node:path';
import { pathToFileURL } from 'node:url';
import { ROOT } from './setup/paths.mjs';

/** No request is larger than this; routes set tighter limits of their own. */
const LARGEST_BODY_BYTES = 32 * 1024 * 1024;

/** How long open requests may take to finish once the server is told to stop. */
const GRACE_MS = 3000;

const SECURITY_HEADERS = {
  'x-content-type-options': 'nosniff',
  'x-frame-options': 'DENY',
  'referrer-policy': 'same-origin',
  'cross-origin-opener-policy': 'same-origin',
  'cross-origin-resource-policy': 'same-origin',
  'permissions-policy': 'camera=(), geolocation=(), microphone=()'
};

function refuse(response, status, message) {
  response.writeHead(status, { 'content-type': 'application/json', connection: 'close' });
  response.end(JSON.stringify({ message }));
}

/**
 * @param options.build folder of the adapter's build
 * @param options.host address to listen on; loopback unless asked otherwise
 * @param options.hosts further names it may be asked by, as `host:port`
 * @param options.tls {key, cert} file names, for a phone on the local network
 */
export async function serve({ build, port, host = '127.0.0.1', hosts = [], tls, log = console.log }) {
  const scheme = tls ? 'https' : 'http';
  process.env.PROTOCOL_HEADER = 'x-lodestone-scheme';
  process.env.HOST_HEADER = 'host';
  process.env.BODY_SIZE_LIMIT = String(LARGEST_BODY_BYTES);
  const { handler } = await import(pathToFileURL(join(build, 'handler.js')).href);

  let known = new Set();
  const isForeign = ({ headers }) => {
    if (!known.has(headers.host ?? '')) return `This server is not asked by the name “${headers.host ?? ''}”.`;
    if (headers.origin !== undefined && headers.origin !== `${scheme}://${headers.host}`) {
      return 'This server does not answer pages of other origins.';
    }
    return undefined;
  };

  const answer = (request, response) => {
    const began = performance.now();
    response.once('close', () => {
      const took = (performance.now() - began).toFixed(0);
      log(`${new Date().toISOString()} ${request.method} ${request.url} ${response.statusCode} ${took} ms`);
    });
    for (const [name, text] of Object.entries(SECURITY_HEADERS)) response.setHeader(name, text);
    const foreign = isForeign(request);
    if (foreign) return refuse(response, 403, foreign);
    request.headers['x-lodestone-scheme'] = scheme;
    handler(request, response, () => refuse(response, 404, 'There is nothing here.'));
  };

  const server = tls
    ? createTlsServer({ key: readFileSync(tls.key), cert: readFileSync(tls.cert) }, answer)
    : createServer(answer);
  await new Promise((listening, failed) => {
    server.once('error', failed);
    server.listen(port, host, listening);
  });
  const { port: bound } = server.address();
  known = new Set([...['127.0.0.1', 'localhost', '[::1]'].map((name) => `${name}:${bound}`), ...hosts]);

  const stop = async () => {
    const closed = new Promise((done) => server.close(done));
    // Event streams and the connection pool end themselves on this.
    process.emit('sveltekit:shutdown', 'SIGTERM');
    server.closeIdleConnections();
    const cut = setTimeout(() => server.closeAllConnections(), GRACE_MS);
    await closed;
    clearTimeout(cut);
  };
  return { url: `${scheme}://${host}:${bound}`, stop };
}

/** Options as the environment gives them. */
export function serveOptions(env = process.env) {
  return {
    host: env.LODESTONE_HOST ?? '127.0.0.1',
    hosts: (env.LODESTONE_HOSTS ?? '').split(',').filter(Boolean),
    tls: env.LODESTONE_TLS_KEY ? { key: env.LODESTONE_TLS_KEY, cert: env.LODESTONE_TLS_CERT } : undefined
  };
}

/** Runs `stop` once, on the first of the signals that end a server. */
export function onEnd(stop) {
  let ending = false;
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) {
    process.on(signal, async () => {
      if (ending) return;
      ending = true;
      try {
        await stop();
        process.exit(0);
      } catch (error) {
        console.error(error instanceof Error ? error.message : error);
        process.exit(1);
      }
    });
  }
}

// Run on its own: serves a finished build on a database that is already there.
if (process.argv[1] && pathToFileURL(process.argv[1]).href === import.meta.url) {
  const { url, stop } = await serve({
    ...serveOptions(),
    build: resolve(ROOT, process.env.LODESTONE_BUILD ?? 'build'),
    port: Number(process.env.PORT ?? 4180)
  });
  console.log(`Serving on ${url}`);
  onEnd(stop);
}
