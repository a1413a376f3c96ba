import type { FrameSummary } from '@lodestone/core/frame';

/** A frame that was dropped here and is kept in the browser's own storage. */
export interface KeptFrame {
  /** Name of its folder. */
  id: string;
  name: string;
  /** What was read of it; undefined where it was not read to its end. */
  summary: FrameSummary | undefined;
  /** Which picture of the file is meant, where somebody was asked. */
  picture: number | undefined;
  file: () => Promise<Blob>;
}

/** So much of a train's dropped frames is kept, bytes: the oldest go first. */
const MOST_KEPT_BYTES = 2 * 2 ** 30;
const MOST_KEPT_FRAMES = 24;

const PIXELS = 'pixels';
const NAME = 'name.txt';
const SUMMARY = 'summary.json';
const PICTURE = 'picture.txt';

/** The folder of a train's frames; undefined where the browser keeps no files (an older one, or a page without TLS). */
async function folderOf(trainId: string): Promise<FileSystemDirectoryHandle | undefined> {
  try {
    const root = await navigator.storage.getDirectory();
    const frames = await root.getDirectoryHandle('frames', { create: true });
    return await frames.getDirectoryHandle(trainId, { create: true });
  } catch {
    return undefined;
  }
}

async function write(folder: FileSystemDirectoryHandle, name: string, content: Blob | string): Promise<void> {
  const handle = await folder.getFileHandle(name, { create: true });
  const stream = await handle.createWritable();
  await stream.write(content);
  await stream.close();
}

const fileIn = async (folder: FileSystemDirectoryHandle, name: string): Promise<File> =>
  (await folder.getFileHandle(name)).getFile();

/** Folders of frames, the oldest first: their names begin with when they came. */
async function kept(folder: FileSystemDirectoryHandle): Promise<[string, FileSystemDirectoryHandle][]> {
  const found: [string, FileSystemDirectoryHandle][] = [];
  for await (const [name, handle] of folder.entries()) {
    if (handle.kind === 'directory') found.push([name, handle as FileSystemDirectoryHandle]);
  }
  return found.sort(([a], [b]) => a.localeCompare(b));
}

/** Frames of a train that were dropped in this browser, the newest first. */
export async function readKept(trainId: string): Promise<KeptFrame[]> {
  const folder = await folderOf(trainId);
  if (!folder) return [];
  const frames: KeptFrame[] = [];
  for (const [id, each] of await kept(folder)) {
    try {
      const name = await (await fileIn(each, NAME)).text();
      // Left while it was written, it is empty: the frame is read again.
      const summary = await fileIn(each, SUMMARY)
        .then(async (file) => JSON.parse(await file.text()) as FrameSummary)
        .catch(() => undefined);
      const picture = await fileIn(each, PICTURE)
        .then(async (file) => Number(await file.text()) || undefined)
        .catch(() => undefined);
      frames.unshift({ id, name, summary, picture, file: () => fileIn(each, PIXELS) });
    } catch {
      // Written half, since the page was closed meanwhile: nothing is lost that was shown.
      await folder.removeEntry(id, { recursive: true }).catch(() => undefined);
    }
  }
  return frames;
}

/** Keeps a file; the oldest ones make room. @returns its number here; undefined where it cannot be kept */
export async function keepFrame(trainId: string, name: string, file: Blob): Promise<string | undefined> {
  const folder = await folderOf(trainId);
  if (!folder || file.size > MOST_KEPT_BYTES) return undefined;
  const id = `${Date.now().toString(36).padStart(9, '0')}-${crypto.randomUUID().slice(0, 8)}`;
  try {
    const all = await kept(folder);
    const sizes = await Promise.all(
      all.map(async ([, each]) =>
        fileIn(each, PIXELS).then(
          ({ size }) => size,
          () => 0
        )
      )
    );
    let room = MOST_KEPT_BYTES - file.size - sizes.reduce((a, b) => a + b, 0);
    for (const [index, [oldest]] of all.entries()) {
      if (room >= 0 && all.length - index < MOST_KEPT_FRAMES) break;
      await folder.removeEntry(oldest, { recursive: true });
      room += sizes[index]!;
    }
    const own = await folder.getDirectoryHandle(id, { create: true });
    await write(own, PIXELS, file);
    await write(own, NAME, name);
    return id;
  } catch {
    // No room on the disc, or in a private window: it is there until the page is closed, as before.
    await folder.removeEntry(id, { recursive: true }).catch(() => undefined);
    return undefined;
  }
}

async function keepBeside(trainId: string, id: string, name: string, content: string): Promise<void> {
  const folder = await folderOf(trainId);
  try {
    if (folder) await write(await folder.getDirectoryHandle(id), name, content);
  } catch {
    // It was taken away meanwhile, or there is no room: it is read, or asked, again then.
  }
}

/** Keeps what was read of a frame beside it. */
export const keepSummary = (trainId: string, id: string, summary: FrameSummary): Promise<void> =>
  keepBeside(trainId, id, SUMMARY, JSON.stringify(summary));

/** Keeps which picture of its file is meant. */
export const keepPicture = (trainId: string, id: string, picture: number): Promise<void> =>
  keepBeside(trainId, id, PICTURE, String(picture));

export async function forgetFrame(trainId: string, id: string): Promise<void> {
  const folder = await folderOf(trainId);
  await folder?.removeEntry(id, { recursive: true }).catch(() => undefined);
}
