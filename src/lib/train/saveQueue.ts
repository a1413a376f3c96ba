import type { Operation, Train } from '@lodestone/core';
import type { StoredTrain } from '$lib/api/trains.ts';
import type { Pending, PendingStore } from './pendingStore.ts';
import type { Save, SaveReply } from './transport.ts';

/** saved, about to be sent, being sent, waiting for the server, overtaken by another save, turned down. */
export type SaveState = 'saved' | 'unsaved' | 'saving' | 'offline' | 'conflict' | 'refused';

export interface SaveStatus {
  state: SaveState;
  message?: string;
  /** The revision that overtook ours, in a conflict. */
  head?: StoredTrain;
}

interface Options {
  trainId: string;
  tabId: string;
  /** Number of the revision the document was read from. */
  revision: number;
  send: (save: Save) => Promise<SaveReply>;
  store: Pick<PendingStore, 'put' | 'drop'>;
  onstatus: (status: SaveStatus) => void;
  onstored?: (train: StoredTrain) => void;
  /** Quiet time before a change is sent, ms. */
  delayMs?: number;
  /** First wait before another try, ms; it doubles up to the longest. */
  retryMs?: number;
  longestRetryMs?: number;
}

/** Consecutive settings of one field are one change. */
function withOperation(operations: readonly Operation[], next: Operation): readonly Operation[] {
  const last = operations.at(-1);
  const same =
    last?.op === 'set' && next.op === 'set' && last.at === next.at && last.path.join('/') === next.path.join('/');
  return same ? [...operations.slice(0, -1), next] : [...operations, next];
}

/**
 * Carries changes to the server, one save at a time. A save keeps its id until a reply has come, so that
 * one whose reply was lost is not stored twice; everything not yet stored lies in the browser's database.
 */
export class SaveQueue {
  readonly #options: Required<Omit<Options, 'onstored'>> & Pick<Options, 'onstored'>;
  #revision: number;
  #latest: Train | undefined;
  #operations: readonly Operation[] = [];
  #inFlight: Save | undefined;
  #sentOperations = 0;
  #timer: ReturnType<typeof setTimeout> | undefined;
  #retryMs: number;
  #sending = false;
  #halted = false;
  #ended = false;

  constructor(options: Options) {
    this.#options = { delayMs: 400, retryMs: 1000, longestRetryMs: 15_000, ...options };
    this.#revision = options.revision;
    this.#retryMs = this.#options.retryMs;
  }

  get revision(): number {
    return this.#revision;
  }

  get hasUnsaved(): boolean {
    return this.#latest !== undefined || this.#inFlight !== undefined;
  }

  /** What was done since the revision the next save is based on. */
  get operations(): readonly Operation[] {
    return this.#operations;
  }

  /** A new state of the document. Resolves once it is safe in this browser. */
  async change(document: Train, operation: Operation): Promise<void> {
    this.#latest = document;
    // What is being sent stays as it was sent; what comes after it is kept apart.
    const sent = this.#inFlight ? this.#sentOperations : 0;
    const [before, since] = [this.#operations.slice(0, sent), this.#operations.slice(sent)];
    this.#operations = [...before, ...withOperation(since, operation)];
    if (!this.#halted) {
      if (!this.#inFlight) this.#options.onstatus({ state: 'unsaved' });
      this.#schedule(this.#options.delayMs);
    }
    await this.#keep();
  }

  /** Takes over what another tab left behind. */
  async resume(pending: Pending): Promise<void> {
    this.#revision = pending.basedOn;
    this.#latest = pending.document;
    this.#operations = pending.operations;
    this.#inFlight = pending.inFlight;
    this.#sentOperations = pending.sentOperations;
    this.#halted = false;
    await this.#keep();
    await this.flush();
  }

  /** Goes on from another revision: after a conflict was settled, or when another tab has saved. */
  rebase(revision: number): void {
    this.#revision = revision;
    this.#inFlight = undefined;
    this.#latest = undefined;
    this.#operations = [];
    this.#halted = false;
    clearTimeout(this.#timer);
    void this.#options.store.drop(this.#options.trainId, this.#options.tabId);
    this.#options.onstatus({ state: 'saved' });
  }

  /** Sends now what waits: on the way out, or when the server is back. */
  async flush(): Promise<void> {
    clearTimeout(this.#timer);
    if (this.#sending || this.#halted || this.#ended) return;
    this.#sending = true;
    try {
      while (!this.#halted && !this.#ended && this.hasUnsaved) await this.#sendOne();
      if (!this.#halted && !this.hasUnsaved) this.#options.onstatus({ state: 'saved' });
    } catch {
      // No reply: nobody knows whether the save arrived. The same save is sent again.
      this.#options.onstatus({ state: 'offline' });
      this.#schedule(this.#retryMs);
      this.#retryMs = Math.min(this.#retryMs * 2, this.#options.longestRetryMs);
    } finally {
      this.#sending = false;
    }
  }

  /** Stops trying; what is unsaved stays in the browser's database. */
  end(): void {
    this.#ended = true;
    clearTimeout(this.#timer);
  }

  async #sendOne(): Promise<void> {
    if (!this.#inFlight) {
      this.#inFlight = { saveId: crypto.randomUUID(), basedOn: this.#revision, document: this.#latest! };
      this.#sentOperations = this.#operations.length;
      await this.#keep();
    }
    const save = this.#inFlight;
    this.#options.onstatus({ state: 'saving' });
    const reply = await this.#options.send(save);
    if (this.#inFlight !== save) return;
    this.#retryMs = this.#options.retryMs;
    this.#inFlight = undefined;
    switch (reply.kind) {
      case 'stored':
        this.#revision = reply.train.revision.number;
        this.#operations = this.#operations.slice(this.#sentOperations);
        if (this.#latest === save.document) this.#latest = undefined;
        await this.#keep();
        this.#options.onstored?.(reply.train);
        return;
      case 'stale':
        return this.#halt(save, { state: 'conflict', head: reply.head });
      case 'refused':
        return this.#halt(save, { state: 'refused', message: reply.message });
    }
  }

  /** Stops until a person has decided; the work stays in the browser. */
  async #halt(save: Save, status: SaveStatus): Promise<void> {
    this.#halted = true;
    this.#latest ??= save.document;
    await this.#keep();
    this.#options.onstatus(status);
  }

  #schedule(ms: number): void {
    clearTimeout(this.#timer);
    if (!this.#ended) this.#timer = setTimeout(() => void this.flush(), ms);
  }

  async #keep(): Promise<void> {
    const { store, trainId, tabId } = this.#options;
    try {
      if (!this.hasUnsaved) return await store.drop(trainId, tabId);
      await store.put({
        trainId,
        tabId,
        basedOn: this.#inFlight?.basedOn ?? this.#revision,
        document: this.#latest ?? this.#inFlight!.document,
        operations: this.#operations,
        sentOperations: this.#inFlight ? this.#sentOperations : 0,
        ...(this.#inFlight ? { inFlight: this.#inFlight } : {}),
        changedAt: Date.now()
      });
    } catch (error) {
      // A browser that keeps nothing (private window, full disk): the server still gets it.
      console.warn('Unsaved work could not be kept in this browser', error);
    }
  }
}
