// What was acknowledged is there, whatever is killed. `LODESTONE_KILLS=200 npm test -- system kills` runs it for longer.
import { randomUUID } from 'node:crypto';
import pg from 'pg';
import { afterAll, beforeAll, expect, it } from 'vitest';
import heron from '../../demo/heron.json';
import { Application, seeded, until } from './application.ts';

const CYCLES = Number(process.env.LODESTONE_KILLS ?? 20);
const SEED = Number(process.env.LODESTONE_SEED ?? 20261126);
const WRITERS = 4;
const WAYS = ['app', 'web server', 'postmaster', 'backend', 'both', 'SIGTERM'] as const;

let application: Application;
beforeAll(async () => {
  application = await Application.make();
  await application.start();
}, 300_000);
afterAll(() => application.dispose());

const ring = (partId: string, lengthMm: number) => ({ partId, kind: 'spacer', name: partId, lengthMm });

/** Something to be stored, and what its reply teaches. */
interface Task {
  path: string;
  body: unknown;
  settle: (answer: Record<string, unknown>) => void;
}

/** What a writer was told is stored, and what it does not know of. */
class Writer {
  readonly train = { id: '', acknowledged: [] as { number: number; name: string }[] };
  readonly part: { version: number | null; lengthMm: number };
  acknowledged = 0;
  unanswered = 0;
  statuses = new Map<number, number>();
  #pending: Task | undefined;
  #stopped = false;
  #count = 0;

  constructor(readonly name: string) {
    this.part = { version: null, lengthMm: 0 };
  }

  async #post(path: string, body: unknown): Promise<{ status: number; answer: Record<string, unknown> } | undefined> {
    try {
      const response = await fetch(`${application.url}${path}`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify(body),
        signal: AbortSignal.timeout(10_000)
      });
      const answer = (await response.json()) as Record<string, unknown>;
      this.statuses.set(response.status, (this.statuses.get(response.status) ?? 0) + 1);
      return { status: response.status, answer };
    } catch {
      this.unanswered++;
      return undefined;
    }
  }

  /** The next thing to do, the same again until a reply has come. */
  #next(): Task {
    const count = ++this.#count;
    const name = `${this.name} ${count}`;
    if (this.train.id === '') {
      return {
        path: '/api/trains',
        body: { saveId: randomUUID(), document: { ...heron, name } },
        settle: ({ id }) => {
          this.train.id = String(id);
          this.train.acknowledged.push({ number: 1, name });
        }
      };
    }
    if (count % 3 === 0) {
      const lengthMm = count / 8;
      return {
        path: '/api/drawer/changes',
        body: {
          changeId: randomUUID(),
          put: [{ document: ring(this.name, lengthMm), basedOn: this.part.version }],
          remove: []
        },
        settle: ({ parts }) => {
          this.part.version = (parts as { version: number }[])[0]!.version;
          this.part.lengthMm = lengthMm;
        }
      };
    }
    const basedOn = this.train.acknowledged.at(-1)!.number;
    return {
      path: `/api/trains/${this.train.id}/revisions`,
      body: { saveId: randomUUID(), basedOn, document: { ...heron, name } },
      settle: ({ revision }) => {
        this.train.acknowledged.push({ number: (revision as { number: number }).number, name });
      }
    };
  }

  async run(): Promise<void> {
    while (!this.#stopped || this.#pending) {
      this.#pending ??= this.#next();
      const { path, body, settle } = this.#pending;
      const reply = await this.#post(path, body);
      if (!reply || reply.status === 503) {
        await new Promise((over) => setTimeout(over, 30));
        continue;
      }
      if (reply.status >= 300)
        throw new Error(`${path}: ${reply.status} ${JSON.stringify(reply.answer)}\n${application.log.slice(-3000)}`);
      settle(reply.answer);
      this.acknowledged++;
      this.#pending = undefined;
    }
  }

  stop(): void {
    this.#stopped = true;
  }
}

async function killBackend(random: () => number): Promise<void> {
  const admin = new pg.Client({ connectionString: application.databaseUrl('lodestone_admin') });
  await admin.connect();
  try {
    const { rows } = await admin.query<{ pid: number }>(
      `select pid from pg_stat_activity where usename = 'lodestone_app' and query not like 'listen%'`
    );
    const victim = rows[Math.floor(random() * rows.length)];
    // As PostgreSQL does it on an administrator's word: every connection of the web server has to survive its loss.
    if (victim) await admin.query('select pg_terminate_backend($1)', [victim.pid]);
  } finally {
    await admin.end();
  }
}

it(
  `nothing that was acknowledged is lost in ${CYCLES} kills under load, and the server survives every lost connection`,
  async () => {
    const random = seeded(SEED);
    const writers = Array.from({ length: WRITERS }, (_, index) => new Writer(`writer-${index}`));
    const running = writers.map((writer) => writer.run());
    const kills: Record<string, number> = {};
    const pause = (ms: number): Promise<void> => new Promise((over) => setTimeout(over, ms));
    const healthy = () =>
      until('it answers again', async () => {
        const answer = await fetch(`${application.url}/healthz`).catch(() => undefined);
        return answer?.ok ? true : undefined;
      });

    for (let cycle = 0; cycle < CYCLES; cycle++) {
      const way = WAYS[cycle % WAYS.length]!;
      kills[way] = (kills[way] ?? 0) + 1;
      await pause(150 + 350 * random());
      const web = application.webServer;
      const { postmaster } = application;
      switch (way) {
        case 'app':
          await application.kill();
          await application.start();
          break;
        case 'web server':
          process.kill(web, 'SIGKILL');
          await until('there is another web server', () => (application.webServerIfAny ?? web) !== web || undefined);
          break;
        case 'postmaster':
          if (postmaster) process.kill(postmaster, 'SIGKILL');
          await until(
            'there is another postmaster',
            () => (application.postmaster ?? postmaster) !== postmaster || undefined
          );
          break;
        case 'backend':
          await killBackend(random);
          break;
        case 'both':
          if (postmaster) process.kill(postmaster, 'SIGKILL');
          await application.kill();
          await application.start();
          break;
        case 'SIGTERM':
          expect(await application.stop()).toBe(0);
          await application.start();
          break;
      }
      await healthy();
      // Losing the database, or a connection to it, is no reason to end.
      if (way === 'postmaster' || way === 'backend')
        expect(application.webServer, application.log.slice(-4000)).toBe(web);
    }
    writers.forEach((writer) => writer.stop());
    await Promise.all(running);

    const { parts } = (await (await fetch(`${application.url}/api/drawer`)).json()) as {
      parts: { document: { partId: string; lengthMm: number }; version: number }[];
    };
    let lost = 0;
    for (const { name, train, part } of writers) {
      for (const { number, name: said } of train.acknowledged) {
        const response = await fetch(`${application.url}/api/trains/${train.id}/revisions/${number}`);
        const revision = (await response.json()) as { document?: { name: string } };
        if (revision.document?.name !== said) lost++;
      }
      const head = (await (await fetch(`${application.url}/api/trains/${train.id}`)).json()) as {
        revision: { number: number };
      };
      expect(head.revision.number).toBe(train.acknowledged.at(-1)!.number);
      const stored = parts.find(({ document }) => document.partId === name);
      if (part.version !== null && (stored?.version !== part.version || stored.document.lengthMm !== part.lengthMm))
        lost++;
    }
    const statuses = new Map<number, number>();
    for (const writer of writers) {
      for (const [status, count] of writer.statuses) statuses.set(status, (statuses.get(status) ?? 0) + count);
    }
    const sum = (of: (writer: Writer) => number): number => writers.reduce((total, writer) => total + of(writer), 0);
    console.log(
      `kills ${JSON.stringify(kills)}; acknowledged ${sum(({ acknowledged }) => acknowledged)}, ` +
        `unanswered ${sum(({ unanswered }) => unanswered)}, lost ${lost}; answers ${JSON.stringify([...statuses])}`
    );
    expect(lost).toBe(0);
    expect([...statuses.keys()].filter((status) => status >= 500 && status !== 503)).toEqual([]);
    expect(sum(({ acknowledged }) => acknowledged)).toBeGreaterThan(CYCLES);
  },
  60_000 + CYCLES * 20_000
);
