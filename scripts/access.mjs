// Who may ask, and by which names. On loopback alone everybody on this machine may; beyond it, or behind a proxy, all
// show the token the server was started with: scripts in a header, pages by a cookie they got for typing it once. Where
// several people use the server (LODESTONE_OWNERS=several) everybody signs in, which is the application's business.
import { createHash, createHmac, timingSafeEqual } from 'node:crypto';
import { hostname, networkInterfaces } from 'node:os';
import { SetupError } from './setup/paths.mjs';

const LEAST_TOKEN = 16;
const COOKIE = 'lodestone-pass';
const COOKIE_SECONDS = 180 * 24 * 3600;
const SIGN_IN = '/sign-in';
/** A link to one train: its secret is checked by the application. */
const SHARED = /^\/shared\/[\w-]{43}$/;
const MAX_FORM_BYTES = 4096;

/** Wrong tokens of one address, and of all together, in one minute. */
const MINUTE_MS = 60_000;
const WRONG_OF_ONE = 10;
const WRONG_OF_ALL = 100;
const MOST_ADDRESSES = 10_000;

const isLoopbackHost = (host) => host === 'localhost' || host === '::1' || /^127\./.test(host);
const isEverywhere = (host) => host === '0.0.0.0' || host === '::';
const bracketed = (address) => (address.includes(':') ? `[${address}]` : address);

const ownAddresses = () =>
  Object.values(networkInterfaces())
    .flat()
    .filter(({ internal, address }) => !internal && !address.startsWith('fe80:'))
    .map(({ address }) => address);

/** An address at which a browser reaches a server that listens there. */
export function addressOf(host) {
  if (!isEverywhere(host)) return bracketed(host);
  return bracketed(ownAddresses().find((address) => !address.includes(':')) ?? '127.0.0.1');
}

/** Names a server is asked by, as `Host` has them: its own, and those it was given. */
export function namesOf({ host, hosts, port, scheme }) {
  const own = ['127.0.0.1', 'localhost', '[::1]'];
  if (isEverywhere(host)) own.push(...ownAddresses().map(bracketed), hostname(), `${hostname()}.local`);
  else if (!isLoopbackHost(host)) own.push(bracketed(host));
  const usual = port === (scheme === 'https' ? 443 : 80);
  const names = own.flatMap((name) => (usual ? [name, `${name}:${port}`] : [`${name}:${port}`]));
  return new Set([...names, ...hosts].map((name) => name.toLowerCase()));
}

/** @throws SetupError where the server would be open to whoever reaches it */
export function checkAccess({ host, hosts, token, several }) {
  if (several && token !== undefined) {
    throw new SetupError(
      'LODESTONE_OWNERS is “several”, so that everybody signs in, and LODESTONE_TOKEN is one token for all: leave one of them out.'
    );
  }
  if (several) return;
  if (token !== undefined && token.length < LEAST_TOKEN) {
    throw new SetupError(`LODESTONE_TOKEN has ${token.length} characters; it needs at least ${LEAST_TOKEN}.`);
  }
  if (token !== undefined || (isLoopbackHost(host) && hosts.length === 0)) return;
  const why = isLoopbackHost(host)
    ? `LODESTONE_HOSTS names ${hosts.join(', ')}`
    : `LODESTONE_HOST is ${host}, which others on the network can reach`;
  throw new SetupError(
    `${why}, and there is no token: anybody could read and change everything. Start it with\n` +
      '  LODESTONE_TOKEN="$(openssl rand -hex 16)"\nand keep the token: each browser asks for it once.'
  );
}

const digest = (text) => createHash('sha256').update(text).digest();
const isSame = (one, two) => timingSafeEqual(digest(one), digest(two));

function cookieOf(header = '') {
  for (const pair of header.split(';')) {
    const at = pair.indexOf('=');
    if (pair.slice(0, at).trim() === COOKIE) return pair.slice(at + 1).trim();
  }
  return undefined;
}

const STYLE =
  'body{font:16px/1.5 system-ui,sans-serif;max-width:26rem;margin:12vh auto;padding:0 1rem;background:#14171c;color:#ece7df}' +
  'h1{font-size:1.25rem}input{box-sizing:border-box;width:100%;font:inherit;padding:.5rem;margin:.25rem 0 1rem;background:#1d2127;color:inherit;border:1px solid #6b7280;border-radius:.3rem}' +
  'button{font:inherit;padding:.5rem 1rem;background:#d98f52;color:#14171c;border:0;border-radius:.3rem}.wrong{color:#f0a868}';
const FORM_POLICY = `default-src 'none'; style-src 'sha256-${createHash('sha256').update(STYLE).digest('base64')}'; form-action 'self'; frame-ancestors 'none'; base-uri 'none'`;

const escaped = (text) =>
  text.replace(/[&<>"]/g, (mark) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[mark]);

const form = (to, wrong) => `<!doctype html><html lang="en"><head><meta charset="utf-8">
<meta name="viewport" content="width=device-width"><title>Lodestone</title><style>${STYLE}</style></head>
<body><main><h1>Lodestone asks for its token</h1>
<p>It is what the server was started with, in LODESTONE_TOKEN. This browser keeps it.</p>
${wrong ? `<p class="wrong" role="alert">${escaped(wrong)}</p>` : ''}
<form method="post" action="${SIGN_IN}"><input type="hidden" name="to" value="${escaped(to)}">
<label>Token<input name="token" type="password" autocomplete="current-password" required autofocus></label>
<button>Go on</button></form></main></body></html>`;

/** Where to go on: a path of this server, nothing else. */
const pathFrom = (text) => (/^\/(?![/\\])/.test(text ?? '') && !text.startsWith(SIGN_IN) ? text : '/');

/** Counts wrong tokens by address. */
class Patience {
  #since = Date.now();
  #all = 0;
  #wrong = new Map();

  #renew() {
    if (Date.now() - this.#since < MINUTE_MS) return;
    this.#since = Date.now();
    this.#all = 0;
    this.#wrong.clear();
  }

  /** Seconds after which somebody may try again; 0 at once. */
  waitOf(address) {
    this.#renew();
    const mine = this.#wrong.get(address) ?? 0;
    // Whoever was never wrong is not kept out by those who are.
    const isOver = mine >= WRONG_OF_ONE || (mine > 0 && this.#all >= WRONG_OF_ALL);
    return isOver ? Math.max(1, Math.ceil((MINUTE_MS - (Date.now() - this.#since)) / 1000)) : 0;
  }

  wrong(address) {
    this.#renew();
    this.#all++;
    if (this.#wrong.size < MOST_ADDRESSES || this.#wrong.has(address)) {
      this.#wrong.set(address, (this.#wrong.get(address) ?? 0) + 1);
    }
  }
}

async function readForm(request) {
  let size = 0;
  const chunks = [];
  for await (const chunk of request) {
    size += chunk.length;
    if (size > MAX_FORM_BYTES) return new URLSearchParams();
    chunks.push(chunk);
  }
  return new URLSearchParams(Buffer.concat(chunks).toString('utf8'));
}

/** Who is at the other end of a connection: the asker, or a proxy. */
export const peerOf = ({ remoteAddress }) => (remoteAddress ?? '').replace(/^::ffff:/, '');

/** Who asks: the peer; of a proxy that is trusted, whom it names. */
export function askerOf({ socket, headers }, proxies) {
  const peer = peerOf(socket);
  if (!proxies.includes(peer)) return peer;
  const named = String(headers['x-forwarded-for'] ?? '')
    .split(',')
    .map((each) => each.trim())
    .filter(Boolean);
  return named.findLast((each) => !proxies.includes(each)) ?? peer;
}

/** The scheme a browser asked by: a proxy that is trusted takes TLS off, and says so. */
export const schemeOf = ({ socket, headers }, { tls, proxies }) =>
  tls || (proxies.includes(peerOf(socket)) && headers['x-forwarded-proto'] === 'https') ? 'https' : 'http';

/** Passes those who show the token; the others are told how to, and not too often. */
export class Door {
  #token;
  #pass;
  #proxies;
  #patience = new Patience();

  /** @param proxies addresses whose X-Forwarded-For is believed */
  constructor({ token, proxies }) {
    this.#token = token;
    this.#pass = token && createHmac('sha256', token).update('lodestone page').digest('base64url');
    this.#proxies = proxies;
  }

  /** Answers whoever may not pass. @returns whether the request goes on */
  async passes(request, response) {
    if (this.#token === undefined) return true;
    const { pathname } = new URL(request.url, 'http://here');
    if (pathname === SIGN_IN && request.method === 'POST') {
      await this.#signIn(request, response);
      return false;
    }
    // Whoever has a link has no token: what it leads to, and nothing else, is shown to all.
    if (SHARED.test(pathname) && (request.method === 'GET' || request.method === 'HEAD')) return true;
    const { authorization, cookie } = request.headers;
    const address = askerOf(request, this.#proxies);
    const shown = /^Bearer (.+)$/i.exec(authorization ?? '')?.[1];
    if (shown !== undefined) {
      const wait = this.#patience.waitOf(address);
      if (wait > 0) return this.#late(response, wait);
      if (isSame(shown.trim(), this.#token)) return true;
      this.#patience.wrong(address);
      return this.#refuse(request, response, 'That is not the token of this server.');
    }
    if (isSame(cookieOf(cookie) ?? '', this.#pass)) return true;
    return this.#refuse(request, response);
  }

  #late(response, wait) {
    response.writeHead(429, { 'content-type': 'application/json', 'retry-after': String(wait), connection: 'close' });
    response.end(JSON.stringify({ message: `Too many wrong tokens; wait ${wait} s.` }));
    return false;
  }

  #refuse(request, response, wrong) {
    const isPage = request.method === 'GET' && /\btext\/html\b/.test(request.headers.accept ?? '');
    if (isPage) this.#ask(response, 401, pathFrom(request.url), wrong);
    else {
      response.writeHead(401, {
        'content-type': 'application/json',
        'www-authenticate': 'Bearer',
        connection: 'close'
      });
      const how = 'This server asks for its token: send it as “Authorization: Bearer …”.';
      response.end(request.method === 'HEAD' ? undefined : JSON.stringify({ message: wrong ?? how }));
    }
    return false;
  }

  #ask(response, status, to, wrong) {
    response.writeHead(status, {
      'content-type': 'text/html; charset=utf-8',
      'content-security-policy': FORM_POLICY,
      'cache-control': 'no-store'
    });
    response.end(form(to, wrong));
  }

  async #signIn(request, response) {
    const address = askerOf(request, this.#proxies);
    const wait = this.#patience.waitOf(address);
    if (wait > 0) return this.#late(response, wait);
    const given = await readForm(request);
    const to = pathFrom(given.get('to'));
    if (!isSame((given.get('token') ?? '').trim(), this.#token)) {
      this.#patience.wrong(address);
      return this.#ask(response, 401, to, 'That is not the token of this server.');
    }
    const secure = request.headers['x-lodestone-scheme'] === 'https' ? '; Secure' : '';
    response.writeHead(303, {
      location: to,
      'set-cookie': `${COOKIE}=${this.#pass}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${COOKIE_SECONDS}${secure}`,
      'cache-control': 'no-store'
    });
    response.end();
  }
}
