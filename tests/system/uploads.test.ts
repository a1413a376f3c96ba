// Frames as strangers send them: bombs, lies about their size, senders who leave; memory and folders as before.
import { randomBytes, randomUUID } from 'node:crypto';
import { readFileSync, readdirSync } from 'node:fs';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import { gzipSync } from 'node:zlib';
import { afterAll, beforeAll, expect, it } from 'vitest';
import heron from '../../demo/heron.json';
import { Application, until } from './application.ts';

let application: Application;
let frames: string;

beforeAll(async () => {
  application = await Application.make();
  await application.start();
  const created = await fetch(`${application.url}/api/trains`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ saveId: randomUUID(), document: heron })
  });
  const { id } = (await created.json()) as { id: string };
  frames = `${application.url}/api/trains/${id}/frames`;
}, 300_000);
afterAll(() => application.dispose());

const BLOCK = 2880;
const card = (key: string, value: string | number): string =>
  `${key.padEnd(8)}= ${String(value).padStart(20)}`.padEnd(80);

/** Blocks of a FITS header. */
function header(width: number, height: number, bitpix = 16, more: string[] = []): Buffer {
  const cards = [
    card('SIMPLE', 'T'),
    card('BITPIX', bitpix),
    card('NAXIS', 2),
    card('NAXIS1', width),
    card('NAXIS2', height),
    ...more,
    'END'.padEnd(80)
  ].join('');
  return Buffer.from(cards.padEnd(Math.ceil(cards.length / BLOCK) * BLOCK));
}

/** A frame of noise and a few stars, so that no two are alike. */
function noise(side: number): Buffer {
  const pixels = randomBytes(side * side * 2);
  return Buffer.concat([header(side, side), pixels, Buffer.alloc((BLOCK - (pixels.length % BLOCK)) % BLOCK)]);
}

/** Making a body takes longer than an idle connection is kept: that it was closed meanwhile is heard first. */
const heard = (): Promise<void> => new Promise((over) => setTimeout(over, 100));

async function send(body: Uint8Array): Promise<{ status: number; message: string; ms: number }> {
  await heard();
  const began = performance.now();
  const response = await fetch(frames, { method: 'POST', body: body as Uint8Array<ArrayBuffer> });
  const answer = (await response.json()) as { message?: string };
  return { status: response.status, message: answer.message ?? '', ms: performance.now() - began };
}

const zeros = (megabytes: number): Buffer => Buffer.alloc(megabytes * 1e6);

it.each([
  [
    'a gigabyte of zeros in gzip',
    () => Buffer.concat([gzipSync(zeros(500), { level: 1 }), gzipSync(zeros(500), { level: 1 })])
  ],
  [
    'a header without end in gzip',
    () => gzipSync(Buffer.concat([Buffer.from('SIMPLE  =                    T'.padEnd(80)), Buffer.alloc(200e6, 0x20)]))
  ],
  [
    'a frame whose gzip claims a thousand times its size',
    () => gzipSync(Buffer.concat([header(30_000, 30_000), zeros(100)]))
  ],
  ['sides whose product is past counting', () => header(2_147_483_647, 2_147_483_647)],
  ['sixty million pixels that do not come', () => Buffer.concat([header(9576, 6388), zeros(1)])],
  ['a gzip in a gzip', () => gzipSync(gzipSync(noise(100)))],
  ['a gzip that breaks off', () => gzipSync(noise(400)).subarray(0, 60_000)],
  ['random bytes', () => randomBytes(3e6)],
  [
    'a TIFF of a thousand directories in a ring',
    () =>
      Buffer.concat([
        Buffer.from('49492a0008000000', 'hex'),
        Buffer.from('0000', 'hex'),
        Buffer.from('08000000', 'hex')
      ])
  ],
  [
    'a PNG that claims a hundred thousand rows',
    () =>
      Buffer.concat([
        Buffer.from('89504e470d0a1a0a0000000d49484452000186a0000186a01000000000', 'hex'),
        randomBytes(400)
      ])
  ]
])('%s is refused, soon and in words', async (_, made) => {
  const { status, message, ms } = await send(made());
  expect([415, 422], message).toContain(status);
  expect(message.length).toBeGreaterThan(10);
  expect(ms).toBeLessThan(60_000);
});

it('a body that claims more than is taken is refused before it is read', async () => {
  const answer = await new Promise<number>((done, failed) => {
    const asking = request(frames, { method: 'POST', headers: { 'content-length': 5e9 } }, (response) =>
      done(response.statusCode!)
    );
    asking.on('error', failed);
    asking.flushHeaders();
    asking.write(Buffer.alloc(1000));
    setTimeout(() => asking.destroy(), 5000).unref();
  });
  expect(answer).toBe(413);
});

it('whoever leaves frees their place: the next frame does not wait for theirs', async () => {
  const large = noise(5000);
  const leave = (): Promise<void> =>
    new Promise((gone) => {
      const asking = request(frames, { method: 'POST', headers: { 'content-length': large.length } });
      asking.on('error', () => gone());
      asking.end(large, () => setTimeout(() => asking.destroy(), 200));
      asking.on('close', () => gone());
    });
  const alone = await send(large);
  expect(alone.status).toBe(201);
  await Promise.all([leave(), leave(), leave(), leave()]);
  const { status, ms } = await send(noise(300));
  expect(status).toBe(201);
  // Four large ones, one after the other, would take four times as long as one.
  expect(ms).toBeLessThan(2 * alone.ms);
});

it('too many at once are told to come again', async () => {
  const medium = noise(1500);
  const sent = await Promise.all(
    Array.from({ length: 24 }, async () => {
      const response = await fetch(frames, { method: 'POST', body: medium as Uint8Array<ArrayBuffer> });
      await response.arrayBuffer();
      return { status: response.status, again: response.headers.get('retry-after') };
    })
  );
  const refused = sent.filter(({ status }) => status === 503);
  expect(refused.length).toBeGreaterThan(0);
  expect(refused.every(({ again }) => Number(again) > 0)).toBe(true);
  expect(sent.every(({ status }) => [200, 201, 503].includes(status))).toBe(true);
});

const memoryMb = (): number =>
  Number(/^VmRSS:\s+(\d+)/m.exec(readFileSync(`/proc/${application.webServer}/status`, 'utf8'))![1]) / 1024;

it('the web server holds no frame: its memory is what it was, and nothing stays in its folder', async () => {
  await send(noise(200));
  const before = memoryMb();
  for (let frame = 0; frame < 8; frame++) expect((await send(noise(4000))).status).toBe(201);
  const after = memoryMb();
  console.log(
    `memory of the web server: ${before.toFixed(0)} MB before eight frames of 32 MB, ${after.toFixed(0)} after`
  );
  expect(after).toBeLessThan(before + 150);
  const own = readdirSync(tmpdir()).filter((name) => name.startsWith(`lodestone-work-${application.webServer}-`));
  expect(own).toHaveLength(1);
  await until('files of work are gone', () => (readdirSync(`${tmpdir()}/${own[0]}`).length === 0 ? true : undefined));
});
