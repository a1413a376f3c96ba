import { createHash } from 'node:crypto';
import { createInterface } from 'node:readline';
import type { Readable } from 'node:stream';
import { openPromise, type Entry, type ZipFile } from 'yauzl';
import { BACKUP_TAG, type BackupFile, type BackupManifest } from '$lib/api/backup.ts';
import { MANIFEST, TABLES, fileOf } from './tables.ts';

/** An archive that is no backup, or one that cannot be trusted: why, for whoever brought it. */
export class BadBackup extends Error {
  override name = 'BadBackup';
}

const MAX_MANIFEST_BYTES = 1_000_000;
/** What all of it may come to, bytes: hexadecimal pixels pack to about a half. */
const MAX_UNPACKED_BYTES = 8e9;
/** A line is a row; the largest are pieces of frames. */
const MAX_LINE_LETTERS = 64_000_000;
/** What is packed more tightly than this was made to be a burden. */
const MAX_RATIO = 400;

const KNOWN = new Set([MANIFEST, ...TABLES.map(fileOf)]);

const changed = (path: string): BadBackup =>
  new BadBackup(`${path} is not as its manifest has it: it was changed, or is damaged.`);

/** A row of a table, as it is written and as it is read. */
export interface BackedRow {
  line: string;
  row: Record<string, unknown>;
}

/** A backup as it lies in a file: its manifest, and its tables line by line, each checked against it. */
export class Archive {
  readonly manifest: BackupManifest;
  readonly #zip: ZipFile;
  readonly #entries: ReadonlyMap<string, Entry>;

  private constructor(zip: ZipFile, entries: ReadonlyMap<string, Entry>, manifest: BackupManifest) {
    this.#zip = zip;
    this.#entries = entries;
    this.manifest = manifest;
  }

  /** @throws BadBackup */
  static async open(path: string): Promise<Archive> {
    let zip: ZipFile;
    try {
      zip = await openPromise(path, { lazyEntries: true, autoClose: false });
    } catch {
      throw new BadBackup('This is no backup: it is not a ZIP archive, or its end is missing.');
    }
    try {
      const entries = await entriesOf(zip);
      return new Archive(zip, entries, await manifestOf(zip, entries));
    } catch (error) {
      zip.close();
      throw error instanceof BadBackup ? error : new BadBackup('This archive is damaged: it cannot be read.');
    }
  }

  close(): void {
    this.#zip.close();
  }

  /** Reads all of it. @throws BadBackup where something is not as the manifest has it */
  async verify(): Promise<void> {
    for (const { name } of TABLES) await this.#verifyFile(fileOf({ name }));
  }

  /** Its bytes are those of the manifest; what is in its rows was not asked. */
  async #verifyFile(path: string): Promise<void> {
    const file = this.manifest.files.find((each) => each.path === path);
    const entry = this.#entries.get(path);
    if (!file || !entry) return;
    const hash = createHash('sha256');
    let bytes = 0;
    try {
      for await (const piece of await this.#zip.openReadStreamPromise(entry)) {
        hash.update(piece as Buffer);
        bytes += (piece as Buffer).byteLength;
      }
    } catch {
      throw new BadBackup(`${path} is damaged.`);
    }
    if (bytes !== file.bytes || hash.digest('hex') !== file.sha256) throw changed(path);
  }

  /**
   * Rows of a table; none where the backup has no such file. That its bytes are those of the manifest is known once all
   * of it was read.
   *
   * @throws BadBackup
   */
  async *rows(name: string): AsyncGenerator<BackedRow> {
    const path = fileOf({ name });
    const file = this.manifest.files.find((each) => each.path === path);
    const entry = this.#entries.get(path);
    if (!file || !entry) return;
    const hash = createHash('sha256');
    let [bytes, rows] = [0, 0];
    try {
      const stream: Readable = await this.#zip.openReadStreamPromise(entry);
      stream.on('data', (piece: Buffer) => {
        hash.update(piece);
        bytes += piece.byteLength;
      });
      for await (const line of createInterface({ input: stream, crlfDelay: Infinity })) {
        if (line.length > MAX_LINE_LETTERS) throw new BadBackup(`${path} has a line that is too long.`);
        const row: unknown = JSON.parse(line);
        if (typeof row !== 'object' || row === null || Array.isArray(row)) {
          throw new BadBackup(`${path}, line ${rows + 1}: this is no row.`);
        }
        rows++;
        yield { line, row: row as Record<string, unknown> };
      }
    } catch (error) {
      throw error instanceof BadBackup ? error : new BadBackup(`${path} is damaged at line ${rows + 1}.`);
    }
    if (bytes !== file.bytes || rows !== file.rows || hash.digest('hex') !== file.sha256) {
      throw changed(path);
    }
  }
}

async function entriesOf(zip: ZipFile): Promise<Map<string, Entry>> {
  const entries = new Map<string, Entry>();
  let unpacked = 0;
  await new Promise<void>((done, failed) => {
    zip.on('entry', (entry: Entry) => {
      const { fileName, uncompressedSize, compressedSize } = entry;
      unpacked += uncompressedSize;
      if (!KNOWN.has(fileName) || entries.has(fileName)) {
        return failed(new BadBackup(`“${fileName.slice(0, 80)}” is no file of a backup, or is in it twice.`));
      }
      if (unpacked > MAX_UNPACKED_BYTES || uncompressedSize > MAX_RATIO * compressedSize + MAX_MANIFEST_BYTES) {
        return failed(new BadBackup(`${fileName} would unpack to more than can be right.`));
      }
      entries.set(fileName, entry);
      zip.readEntry();
    });
    zip.once('end', done);
    zip.once('error', failed);
    zip.readEntry();
  });
  return entries;
}

const isFile = (file: unknown): file is BackupFile => {
  const { path, rows, bytes, sha256 } = (file ?? {}) as Partial<BackupFile>;
  return (
    typeof path === 'string' && Number.isInteger(rows) && Number.isInteger(bytes) && /^[0-9a-f]{64}$/.test(sha256 ?? '')
  );
};

async function manifestOf(zip: ZipFile, entries: ReadonlyMap<string, Entry>): Promise<BackupManifest> {
  const entry = entries.get(MANIFEST);
  if (!entry) throw new BadBackup('This is no backup of Lodestone: it has no manifest.json.');
  if (entry.uncompressedSize > MAX_MANIFEST_BYTES) throw new BadBackup('manifest.json is too large.');
  const pieces: Buffer[] = [];
  for await (const piece of await zip.openReadStreamPromise(entry)) pieces.push(piece as Buffer);
  const text = Buffer.concat(pieces).toString('utf8');
  let read: Partial<BackupManifest>;
  try {
    read = JSON.parse(text) as Partial<BackupManifest>;
  } catch {
    throw new BadBackup('manifest.json is not valid JSON.');
  }
  const { lodestone, madeAt, files, pixels } = read ?? {};
  if (typeof lodestone === 'string' && /^backup\/\d+$/.test(lodestone) && lodestone !== BACKUP_TAG) {
    throw new BadBackup(`This backup is of a newer version of Lodestone (${lodestone}). Update it first.`);
  }
  if (lodestone !== BACKUP_TAG || typeof madeAt !== 'string' || !Array.isArray(files) || !files.every(isFile)) {
    throw new BadBackup('manifest.json is not that of a backup.');
  }
  for (const { path } of files) if (!entries.has(path)) throw new BadBackup(`${path} is missing in the archive.`);
  return { lodestone, madeAt, pixels: pixels === true, files };
}
