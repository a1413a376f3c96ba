import { reasonOf } from '$lib/api/reason.ts';
import type { FrameSummary, PictureInFile, RowOrder } from '@lodestone/core/frame';
import type { Train } from '@lodestone/core/train';
import type { Shot } from '$lib/workers/experiment.worker.ts';
import type { StoredFrame } from '$lib/api/frames.ts';
import { pageLive } from '$lib/sync/live.ts';
import { getContext, setContext } from 'svelte';
import { forgetFrame, keepFrame, keepPicture, keepSummary, readKept, type KeptFrame } from './kept.ts';
import { CalledOff } from '$lib/workers/ask.ts';
import { FramePixels, takeFrame } from './pixels.ts';
import { deleteFrame, fetchFrames, fetchPixels } from './transport.ts';

/** Frames that are read at once: each takes a processor, and memory for all its pixels. */
const AT_ONCE = 2;
/** Frames whose pixels stay at hand when they are not shown. */
const MOST_OPEN = 3;

export type FrameState = 'waiting' | 'reading' | 'read' | 'failed' | 'cancelled';

let made = 0;

/** A test frame on the page. */
export class TestFrame {
  readonly id: string;
  readonly name: string;
  state = $state<FrameState>('waiting');
  progress = $state(0);
  message = $state<string>();
  /** Pictures of its file to choose from, where it holds several. */
  pictures = $state.raw<readonly PictureInFile[]>([]);
  /** Number of the one that was chosen. */
  picture: number | undefined;
  /** It was not the file: at another try it may be read. */
  mayRetry = $state(false);
  summary = $state.raw<FrameSummary>();
  /** Its pixels, while they are at hand. */
  pixels = $state.raw<FramePixels>();
  /** Of a frame that came over the network. */
  readonly stored: StoredFrame | undefined;
  /** Its number in the browser's own storage, once it is kept there. */
  keptId = $state<string>();
  /** It was dropped before this page was opened. */
  readonly isFromBefore: boolean;
  readonly aborting = new AbortController();
  /** Its stars are known, or that it has none. */
  get hasStars(): boolean {
    return this.summary !== undefined && (this.summary.stars.length > 0 || this.summary.field.count === 0);
  }
  /** Gets the file, however often it is wanted. */
  readonly file: () => Promise<Blob>;

  constructor(name: string, file: (signal: AbortSignal) => Promise<Blob>, known?: StoredFrame | KeptFrame) {
    const stored = known && 'takenAt' in known ? known : undefined;
    const kept = known && !('takenAt' in known) ? known : undefined;
    this.id = stored?.id ?? `here-${++made}`;
    this.name = name;
    this.stored = stored;
    this.keptId = kept?.id;
    this.picture = kept?.picture;
    this.isFromBefore = kept !== undefined;
    this.file = () => file(this.aborting.signal);
    if (known?.summary) {
      this.summary = known.summary;
      this.state = 'read';
    }
  }
}

/** The test frames of a train: what was dropped here, what the simulated camera took, what came over the network. */
export class Frames {
  list = $state.raw<readonly TestFrame[]>([]);
  chosen = $state.raw<TestFrame>();
  /** Those that came in together last. */
  together = $state.raw<readonly TestFrame[]>([]);
  /** The one it is compared with. */
  other = $state.raw<TestFrame>();
  readonly #trainId: string;
  #newest = 0;
  /** Number of the newest frame there is, whether it was fetched or not. */
  #told = 0;
  /** Somebody looks at them: only then they are fetched. */
  #isShown = false;
  #reading = 0;
  /** Frames with pixels, the one used last at the end. */
  #open: TestFrame[] = [];

  readonly #rowOrder: () => RowOrder | undefined;

  /** @param rowOrder which way the rows of this train's camera run, where a file does not say it and somebody has */
  constructor(trainId: string, rowOrder: () => RowOrder | undefined) {
    this.#trainId = trainId;
    this.#rowOrder = rowOrder;
  }

  /** It was read with its rows the other way round than its camera's are known to run. */
  #isOnItsHead({ summary }: TestFrame): boolean {
    const order = this.#rowOrder();
    return order !== undefined && summary?.rowsAssumed === true && summary.bottomUp !== (order === 'bottom-up');
  }

  /** Reads anew what stands on its head, since it is known now which way the camera's rows run. */
  turn(): void {
    for (const frame of this.list) {
      if (frame.state !== 'read' || !this.#isOnItsHead(frame) || frame.stored?.hasPixels === false) continue;
      this.#close(frame);
      frame.state = 'waiting';
    }
    this.#next();
  }

  /** Hears of frames that come over the network. @returns what ends it */
  listen(): () => void {
    void this.#restore();
    const stop = pageLive().subscribe(`frames/${this.#trainId}`, ({ number = 0 }) => {
      this.#told = Math.max(this.#told, number);
      if (this.#isShown && this.#told > this.#newest) void this.#fetch();
    });
    return () => {
      stop();
      for (const frame of this.list) this.#close(frame);
    };
  }

  /** Knows of all there are, without their pixels. */
  async look(): Promise<void> {
    if (this.#told > this.#newest) await this.#fetch();
  }

  /** The page that shows them is open. @returns what ends it */
  show(): () => void {
    this.#isShown = true;
    if (this.#told > this.#newest) void this.#fetch();
    if (this.chosen) this.#wantPixels(this.chosen);
    return () => (this.#isShown = false);
  }

  #fetching: Promise<void> | undefined;
  async #fetch(): Promise<void> {
    if (this.#fetching) return this.#fetching;
    this.#fetching = (async () => {
      try {
        const isFirst = this.#newest === 0;
        const stored = await fetchFrames(this.#trainId, this.#newest);
        const fresh = stored.filter(({ id }) => this.list.every((frame) => frame.id !== id));
        if (fresh.length === 0) return;
        this.#newest = Math.max(this.#newest, ...fresh.map(({ number }) => number));
        const frames = fresh.map(
          (each) => new TestFrame(each.name, (signal) => fetchPixels(this.#trainId, each.id, signal), each)
        );
        this.list = [...frames, ...this.list];
        // What comes in while one looks is looked at; what was there before waits to be chosen.
        if (isFirst && this.chosen !== undefined) return;
        if (this.#isShown) this.choose(frames[0]!);
        else this.chosen = frames[0];
      } catch {
        // Without the network there is nothing new; the next connection tells again.
      } finally {
        this.#fetching = undefined;
      }
    })();
    return this.#fetching;
  }

  /** Frames that were dropped in this browser before. */
  async #restore(): Promise<void> {
    const kept = await readKept(this.#trainId);
    if (kept.length === 0) return;
    const frames = kept.map((each) => new TestFrame(each.name, each.file, each));
    this.list = [...this.list, ...frames];
    if (this.chosen === undefined) {
      this.chosen = frames[0];
      if (this.#isShown) this.#wantPixels(frames[0]!);
    }
    this.#next();
  }

  /** Frames from files; they are kept in this browser until they are taken away, or newer ones need their room. */
  add(files: readonly File[]): void {
    const frames = files.map((file) => new TestFrame(file.name, () => Promise.resolve(file)));
    this.#take(frames);
    for (const [index, frame] of frames.entries()) void this.#keep(frame, files[index]!);
  }

  async #keep(frame: TestFrame, file: File): Promise<void> {
    const id = await keepFrame(this.#trainId, frame.name, file);
    if (id === undefined) return;
    // Taken away while it was written.
    if (!this.list.includes(frame)) return forgetFrame(this.#trainId, id);
    frame.keptId = id;
    if (frame.picture !== undefined) await keepPicture(this.#trainId, id, frame.picture);
    if (frame.summary) await keepSummary(this.#trainId, id, frame.summary);
  }

  /** Takes all frames away that are kept in this browser. */
  async forgetKept(): Promise<void> {
    for (const frame of this.list.filter(({ keptId }) => keptId !== undefined)) await this.remove(frame);
  }

  /** Frames of the simulated camera. @returns them, as they come into the list */
  simulate(train: Train, shots: readonly { name: string; shot: Shot }[]): readonly TestFrame[] {
    const frames = shots.map(({ name, shot }) => {
      let taken: Promise<Blob> | undefined;
      const take = (signal: AbortSignal): Promise<Blob> => {
        const taking = takeFrame(train, shot, signal);
        // What failed is taken anew.
        taking.catch(() => (taken = undefined));
        return taking;
      };
      return new TestFrame(name, (signal) => (taken ??= take(signal)));
    });
    this.#take(frames);
    return frames;
  }

  #take(frames: readonly TestFrame[]): void {
    const [first] = frames;
    if (!first) return;
    this.list = [...frames, ...this.list];
    this.chosen = first;
    if (frames.length > 1) this.together = frames;
    this.#next();
  }

  /** Gets the stars of frames of which only is known what they said. */
  wantStars(frames: readonly TestFrame[]): void {
    for (const frame of frames) {
      if (frame.state === 'read' && !frame.hasStars && (frame.stored?.hasPixels ?? true)) frame.state = 'waiting';
    }
    this.#next();
  }

  #next(): void {
    while (this.#reading < AT_ONCE) {
      const frame = this.list.find(({ state }) => state === 'waiting');
      if (!frame) return;
      void this.#read(frame);
    }
  }

  async #read(frame: TestFrame): Promise<void> {
    this.#reading++;
    frame.state = 'reading';
    frame.progress = 0;
    frame.message = undefined;
    frame.mayRetry = false;
    frame.pictures = [];
    const pixels = new FramePixels();
    frame.pixels = pixels;
    try {
      const file = await frame.file();
      if (frame.aborting.signal.aborted) throw new CalledOff();
      // Of an older one only what it said is known, not its stars.
      const known = frame.hasStars && !this.#isOnItsHead(frame) ? frame.summary : undefined;
      const opened = await pixels.open(
        file,
        known,
        frame.picture,
        this.#rowOrder(),
        (share) => (frame.progress = share)
      );
      if (opened.ok) {
        frame.summary = opened.summary;
        frame.state = 'read';
        if (frame.keptId !== undefined) void keepSummary(this.#trainId, frame.keptId, opened.summary);
        this.#used(frame);
      } else {
        frame.state = 'failed';
        frame.message = opened.message;
        frame.pictures = opened.pictures ?? [];
        this.#close(frame);
      }
    } catch (error) {
      frame.state = frame.aborting.signal.aborted ? 'cancelled' : 'failed';
      frame.message = reasonOf(error);
      frame.mayRetry = frame.state === 'failed';
      this.#close(frame);
    }
    this.#reading--;
    this.#next();
  }

  /** Notes that its pixels are used now; those used longest ago are let go. */
  #used(frame: TestFrame): void {
    this.#open = [...this.#open.filter((each) => each !== frame), frame];
    const shown = [this.chosen, this.other];
    for (const each of this.#open.slice(0, -MOST_OPEN)) if (!shown.includes(each)) this.#close(each);
    this.#open = this.#open.filter(({ pixels }) => pixels !== undefined);
  }

  #close(frame: TestFrame): void {
    frame.pixels?.end();
    frame.pixels = undefined;
  }

  /** Gets the pixels of a frame that is shown, where they are not at hand. */
  #wantPixels(frame: TestFrame): void {
    if (frame.pixels) this.#used(frame);
    else if (frame.state === 'read' && (frame.stored?.hasPixels ?? true)) void this.#read(frame);
  }

  choose(frame: TestFrame): void {
    if (this.other === frame) this.other = undefined;
    this.chosen = frame;
    this.#wantPixels(frame);
  }

  /** The next (1) or the one before (−1) in the list. */
  step(by: 1 | -1): void {
    const at = this.chosen ? this.list.indexOf(this.chosen) : -1;
    const frame = this.list[Math.max(0, Math.min(this.list.length - 1, at + by))];
    if (frame) this.choose(frame);
  }

  compare(frame: TestFrame | undefined): void {
    this.other = frame === this.chosen ? undefined : frame;
    if (this.other) this.#wantPixels(this.other);
  }

  cancel(frame: TestFrame): void {
    const wasWaiting = frame.state === 'waiting';
    frame.aborting.abort();
    if (wasWaiting) {
      frame.state = 'cancelled';
      frame.message = 'It was cancelled.';
    } else frame.pixels?.end();
  }

  /** Says which picture of a file is meant, and reads it. */
  choosePicture(frame: TestFrame, number: number): void {
    frame.picture = number;
    if (frame.keptId !== undefined) void keepPicture(this.#trainId, frame.keptId, number);
    frame.state = 'waiting';
    this.#next();
  }

  /** Reads a frame once more that could not be read. */
  retry(frame: TestFrame): void {
    if (!frame.mayRetry) return;
    frame.state = 'waiting';
    this.#next();
  }

  /** Takes a frame away, here and where it is kept. */
  async remove(frame: TestFrame): Promise<void> {
    if (frame.state === 'reading' || frame.state === 'waiting') this.cancel(frame);
    if (frame.stored) await deleteFrame(this.#trainId, frame.stored.id);
    if (frame.keptId !== undefined) await forgetFrame(this.#trainId, frame.keptId);
    const at = this.list.indexOf(frame);
    this.list = this.list.filter((each) => each !== frame);
    this.#close(frame);
    if (this.other === frame) this.other = undefined;
    if (this.chosen === frame) {
      this.chosen = undefined;
      const next = this.list[Math.min(at, this.list.length - 1)];
      if (next) this.choose(next);
    }
  }
}

const KEY = Symbol('frames');
export const provideFrames = (frames: Frames): Frames => setContext(KEY, frames);
export const useFrames = (): Frames => getContext<Frames>(KEY);

/** Files of a drop, folders looked through. */
export async function droppedFiles(data: DataTransfer): Promise<File[]> {
  // Both are gone once anything is waited for.
  const entries = [...data.items].map((item) => item.webkitGetAsEntry()).filter((entry) => entry !== null);
  const files = [...data.files];
  if (!entries.some((entry) => entry.isDirectory)) return files;
  const within = async (entry: FileSystemEntry): Promise<File[]> => {
    if (entry.isFile) {
      return [await new Promise<File>((done, failed) => (entry as FileSystemFileEntry).file(done, failed))];
    }
    const reader = (entry as FileSystemDirectoryEntry).createReader();
    const found: File[] = [];
    for (;;) {
      const some = await new Promise<FileSystemEntry[]>((done, failed) => reader.readEntries(done, failed));
      if (some.length === 0) return found;
      for (const each of some) found.push(...(await within(each)));
    }
  };
  const all = (await Promise.all(entries.map(within))).flat();
  // A folder holds much that is no frame; single files are all meant.
  return all
    .filter(({ name }) => /\.(fits?|fts|fz|gz|tiff?|png)$/i.test(name))
    .sort((a, b) => a.name.localeCompare(b.name));
}
