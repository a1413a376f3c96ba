// A restore that is killed in the middle, again and again: nothing of what was there is lost, and nothing comes in half.
import { randomBytes, randomUUID } from 'node:crypto';
import { afterAll, beforeAll, expect, it } from 'vitest';
import heron from '../../demo/heron.json';
import { Application, until } from './application.ts';

let application: Application;
beforeAll(async () => {
  application = await Application.make();
  await application.start();
}, 300_000);
afterAll(() => application.dispose());

/** Wait before the web server is killed, ms: from where it reads the archive to where it stores the last of it. */
const KILLED_AFTER_MS = [200, 500, 900];
/** Nights with notes that each state has: a restore that takes a while. */
const NIGHTS = 40;
const NOTE_LETTERS = 3900;
const STATES = 60;

const json = (method: string, body: unknown) => ({
  method,
  headers: { 'content-type': 'application/json' },
  body: JSON.stringify(body)
});
interface Train {
  id: string;
  document: { name: string };
}
const trains = async (): Promise<Train[]> => (await fetch(`${application.url}/api/trains`)).json() as Promise<Train[]>;
const names = async (): Promise<string[]> => (await trains()).map(({ document }) => document.name).sort();

async function make(name: string, states: number): Promise<string> {
  const document = { ...heron, name };
  const made = await fetch(`${application.url}/api/trains`, json('POST', { saveId: randomUUID(), document }));
  const { id } = (await made.json()) as { id: string };
  for (let number = 1; number < states; number++) {
    // Noise: it is packed little.
    const nights = Object.fromEntries(
      Array.from({ length: NIGHTS }, (_, night) => [
        `n${night}`,
        { on: '2026-11-01', note: randomBytes(NOTE_LETTERS / 2).toString('hex') }
      ])
    );
    const saved = await fetch(
      `${application.url}/api/trains/${id}/revisions`,
      json('POST', { saveId: randomUUID(), basedOn: number, document: { ...document, nights } })
    );
    expect(saved.status, await saved.text()).toBeLessThan(300);
  }
  return id;
}

it('kill -9 in the middle of a restore loses nothing that was there, and brings nothing in half', async () => {
  const id = await make('Of the backup', STATES);
  const backup = Buffer.from(await (await fetch(`${application.url}/api/backup`)).arrayBuffer());
  await fetch(`${application.url}/api/trains/${id}`, json('PATCH', { state: 'deleted' }));
  expect((await fetch(`${application.url}/api/trains/${id}`, { method: 'DELETE' })).ok).toBe(true);
  await make('Mine', 2);
  expect(await names()).toEqual(['Mine']);

  let cut = 0;
  for (const ms of KILLED_AFTER_MS) {
    const restoring = fetch(`${application.url}/api/backup`, {
      method: 'POST',
      headers: { connection: 'close' },
      body: backup
    }).then(
      (answer) => answer.ok,
      () => false
    );
    await new Promise((over) => setTimeout(over, ms));
    const before = application.webServer;
    process.kill(before, 'SIGKILL');
    const answered = await restoring;
    await until('the web server is there again', async () => {
      const up = await fetch(`${application.url}/healthz`).then(
        ({ ok }) => ok,
        () => false
      );
      return (up && application.webServer !== before) || undefined;
    });
    const now = await names();
    if (answered || now.length === 2) break;
    cut++;
    expect(now).toEqual(['Mine']);
  }
  expect(cut).toBeGreaterThan(1);
  // And whole, once it is left alone.
  const answer = await fetch(`${application.url}/api/backup`, { method: 'POST', body: backup });
  expect(answer.ok, await answer.text()).toBe(true);
  expect(await names()).toEqual(['Mine', 'Of the backup']);
  const restored = await fetch(`${application.url}/api/trains/${id}`);
  expect(((await restored.json()) as { revision: { number: number } }).revision.number).toBe(STATES);
});
