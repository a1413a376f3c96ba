import { createHash } from 'node:crypto';
import { createReadStream, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { open, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const PREFIX = 'lodestone-work-';

let folder: string | undefined;
let made = 0;

const isRunning = (pid: number): boolean => {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    // One of somebody else's runs too.
    return error instanceof Error && 'code' in error && error.code === 'EPERM';
  }
};

/** The folder for files that live as long as one piece of work; what an earlier process was killed over goes. */
function workFolder(): string {
  if (folder) return folder;
  for (const name of readdirSync(tmpdir())) {
    const pid = Number(new RegExp(`^${PREFIX}(\\d+)-`).exec(name)?.[1]);
    if (!(pid > 0) || isRunning(pid)) continue;
    try {
      rmSync(join(tmpdir(), name), { recursive: true, force: true });
    } catch {
      // Another user's: they clear it away themselves.
    }
  }
  const mine = mkdtempSync(join(tmpdir(), `${PREFIX}${process.pid}-`));
  process.once('exit', () => rmSync(mine, { recursive: true, force: true }));
  return (folder = mine);
}

/** A file that has been written, where it lies, and what it is. */
export interface WrittenFile {
  readonly path: string;
  readonly size: number;
  /** SHA-256. */
  readonly hash: Buffer;
}

/** The path of a file that is not there yet, and what removes it again. */
export function lentPath(): { path: string; giveBack: () => Promise<void> } {
  const path = join(workFolder(), String(++made));
  return { path, giveBack: () => rm(path, { force: true }) };
}

/** Lends a path for one piece of work; whatever is there afterwards is removed. */
export async function withPath<T>(work: (path: string) => Promise<T>): Promise<T> {
  const { path, giveBack } = lentPath();
  try {
    return await work(path);
  } finally {
    await giveBack();
  }
}

/** Writes what comes, piece by piece: no more than one is held in memory. */
export async function writeFile(path: string, pieces: AsyncIterable<Uint8Array>): Promise<WrittenFile> {
  const hash = createHash('sha256');
  let size = 0;
  const file = await open(path, 'wx', 0o600);
  try {
    for await (const piece of pieces) {
      hash.update(piece);
      size += piece.byteLength;
      await file.writeFile(piece);
    }
  } finally {
    await file.close();
  }
  return { path, size, hash: hash.digest() };
}

/** Looks at a file that somebody else has written. */
export async function writtenFile(path: string): Promise<WrittenFile> {
  const { size } = await stat(path);
  const hash = createHash('sha256');
  for await (const piece of createReadStream(path)) hash.update(piece as Buffer);
  return { path, size, hash: hash.digest() };
}

/** A file in pieces of this many bytes, the last one shorter. */
export async function* piecesOf({ path }: WrittenFile, bytes: number): AsyncGenerator<Buffer> {
  for await (const piece of createReadStream(path, { highWaterMark: bytes })) yield piece as Buffer;
}
