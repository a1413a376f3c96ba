// The line that is copied, run by a real shell and a real curl against a server that writes down what came.
import { spawn } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { curlLine } from './curl.ts';

const came: { name: string | null; body: string; type: string | undefined }[] = [];
let refusals = 0;
const server = createServer((request, response) => {
  let body = '';
  request.on('data', (chunk: Buffer) => (body += chunk.toString()));
  request.on('end', () => {
    const status = refusals-- > 0 ? 503 : body === '' ? 400 : 201;
    if (status === 201) {
      const { searchParams } = new URL(request.url!, 'http://here');
      came.push({ name: searchParams.get('name'), body, type: request.headers.authorization });
    }
    response.writeHead(status, { 'retry-after': '0' }).end();
  });
});
const folder = mkdtempSync(join(tmpdir(), 'lodestone-curl-'));
let address = '';
beforeAll(async () => {
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  address = `http://127.0.0.1:${(server.address() as AddressInfo).port}/frames`;
});
afterAll(() => server.close());

const run = (line: string, file: string, env: Record<string, string> = {}): Promise<number | null> =>
  new Promise((done) =>
    spawn('sh', ['-c', line], { env: { ...process.env, ...env, FILE: file }, stdio: 'ignore' }).once('exit', done)
  );

describe('the line that brings a frame', () => {
  it.each([
    'night 001.fits',
    'M 31 #4 & 50%.fits',
    "it's a “frame”.fits",
    'a+b=c?d.fits',
    '@at.fits',
    'Nebel für Größe ü.fits',
    'semi;colon,comma[1]{2}.fits',
    '$HOME `x` "quoted".fits'
  ])('takes a file called %s', async (name) => {
    const file = join(folder, name);
    writeFileSync(file, `of ${name}`);
    expect(await run(curlLine(address, 'shell'), file)).toBe(0);
    expect(came.at(-1)).toMatchObject({ name, body: `of ${name}`, type: undefined });
  });

  it('fails where it is refused, and tries again where the server is busy', async () => {
    const [empty, full] = ['empty.fits', 'full.fits'].map((name) => join(folder, name)) as [string, string];
    writeFileSync(empty, '');
    writeFileSync(full, 'x');
    expect(await run(curlLine(address, 'shell'), empty)).not.toBe(0);
    refusals = 1;
    expect(await run(curlLine(address, 'shell'), full)).toBe(0);
    expect(came.at(-1)).toMatchObject({ name: 'full.fits' });
  });

  it('shows the token to another machine, and does not hold it', () => {
    const far = curlLine('http://192.0.2.7:4180/frames', 'shell');
    expect(far).toContain('-H "Authorization: Bearer $LODESTONE_TOKEN"');
    expect(curlLine('https://tower.example/frames', 'windows')).toBe(
      'curl.exe --fail --silent --show-error --retry 5 -H "Authorization: Bearer %LODESTONE_TOKEN%" --data-binary "@%~1" --url-query "name=%~nx1" "https://tower.example/frames"'
    );
  });
});
