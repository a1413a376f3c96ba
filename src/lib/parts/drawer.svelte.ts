// The maps here are made anew with every change and never changed where somebody looks at them.
/* eslint-disable svelte/prefer-svelte-reactivity */
import { complaintInWords, changedElement, type Operation } from '@lodestone/core';
import { indexDrawer, mergedPart, partToDocument, readPart, type Part, type PartUse } from '@lodestone/core/drawer';
import { Unreachable } from '$lib/api/ask.ts';
import { announceTab, isTabGone } from '$lib/ui/tabs.ts';
import { getContext, setContext } from 'svelte';
import { fetchDrawer, sendChange, type OwnedPart, type SentChange } from './transport.ts';
import { unsentStore, type KeptSnapshot, type UnsentStore } from './unsentStore.ts';

/** Parts by number as they were, or shall be; undefined: not there. */
type Snapshot = ReadonlyMap<string, Part | undefined>;

interface Step {
  label: string;
  before: Snapshot;
  after: Snapshot;
  /** Steps of one run of typing into one field share this and are undone together. */
  run: string | undefined;
}

interface Waiting {
  changeId: string;
  label: string;
  before: Snapshot;
  after: Snapshot;
  run: string | undefined;
  /** As it was sent: one whose reply was lost is sent again letter by letter, and not typed into any more. */
  sent?: SentChange;
  /** Versions it was made from, for what another tab has left behind. */
  bases?: Map<string, number | null>;
}

export type DrawerState = 'reading' | 'ready' | 'saving' | 'offline';

/** Changes the server would not take. */
export interface Refusal {
  message: string;
  /** Somebody else had changed the same parts: the changes can be made again on top of theirs. */
  repeatable: boolean;
}

const RETRY_MS = 2000;

const NOWHERE: readonly PartUse[] = [];

/** A snapshot that was kept in the browser; undefined where it does not read any more. */
function fromKept(kept: KeptSnapshot): Snapshot | undefined {
  const snapshot = new Map<string, Part | undefined>();
  for (const [partId, document] of kept) {
    if (document === null) snapshot.set(partId, undefined);
    else {
      const reading = readPart(document);
      if (!reading.ok) return undefined;
      snapshot.set(partId, reading.document);
    }
  }
  return snapshot;
}

/** Count of changes that no drawer has: the next look finds it out of date. */
const NOTHING_TAKEN_IN = -1;

/**
 * The drawer as this page sees it. Changes show at once, are sent one after the other, and are tried again while
 * the server is away; undo is a change like any other.
 */
export class Drawer {
  parts = $state.raw<readonly OwnedPart[]>([]);
  uses = $state.raw<readonly PartUse[]>([]);
  state = $state.raw<DrawerState>('reading');
  /** Whether the parts shown came from the server: an empty list means nothing before that. */
  everRead = $state.raw(false);
  /** Why the last change was turned down; the drawer is shown as it is on the server. */
  refusal = $state.raw<Refusal>();
  /** Trains that followed the last change of a part. */
  followed = $state.raw<readonly string[]>([]);

  readonly byId = $derived(new Map(this.parts.map((owned) => [owned.part.partId, owned])));
  readonly plain = $derived(this.parts.map(({ part }) => part));
  readonly index = $derived(indexDrawer(this.plain, this.uses));
  readonly #usesByPart = $derived.by(() => {
    const uses = new Map<string, PartUse[]>();
    for (const use of this.uses) uses.set(use.partId, [...(uses.get(use.partId) ?? []), use]);
    return uses;
  });

  #past = $state.raw<readonly Step[]>([]);
  #future = $state.raw<readonly Step[]>([]);
  #waiting: Waiting[] = [];
  #sending = false;
  #started: Promise<void> | undefined;
  readonly #tabId = crypto.randomUUID();
  readonly #store: UnsentStore;

  constructor(store: UnsentStore = unsentStore) {
    this.#store = store;
  }

  get undoLabel(): string | undefined {
    return this.#past.at(-1)?.label;
  }

  get redoLabel(): string | undefined {
    return this.#future.at(-1)?.label;
  }

  /** Begins to read and to follow; in the browser only. @returns what ends it */
  open(): () => void {
    announceTab(this.#tabId);
    void this.load().then(() => this.#adoptOrphans());
    const events = new EventSource('/api/drawer/events');
    events.onmessage = ({ data }) => {
      this.#heard = Number(data);
      this.#known ??= this.#heard;
      this.#follow();
    };
    events.onopen = () => void this.#flush();
    const flush = (): void => void this.#flush();
    const warn = (event: BeforeUnloadEvent): void => {
      if (this.#waiting.length > 0 && !this.#keeps) event.preventDefault();
    };
    addEventListener('online', flush);
    addEventListener('beforeunload', warn);
    return () => {
      removeEventListener('online', flush);
      removeEventListener('beforeunload', warn);
      events.close();
    };
  }

  /** Changes made on this page: what was read before the last of them is out of date. */
  #changesMade = 0;

  /** Changes of the drawer that this page has taken in, and that it has heard of. */
  #known: number | undefined;
  #heard = 0;

  /** Somebody else has changed the drawer: read it anew. Our own changes bring what came of them. */
  #follow(): void {
    if (this.#sending || this.#waiting.length > 0 || this.#heard === this.#known) return;
    this.#known = this.#heard;
    void this.load();
  }

  /** Reads the drawer anew, unless changes of our own are still on their way: they bring it themselves. */
  async load(): Promise<void> {
    this.#started ??= this.#read().finally(() => (this.#started = undefined));
    return this.#started;
  }

  async #read(): Promise<void> {
    const begun = this.#changesMade;
    try {
      const { parts, uses } = await fetchDrawer();
      if (this.#waiting.length > 0) {
        // What was read is older than what is being sent; it is read again after that.
        this.#known = NOTHING_TAKEN_IN;
        return;
      }
      if (begun !== this.#changesMade) return await this.#read();
      this.parts = parts;
      this.#versions = new Map(parts.map(({ part, version }) => [part.partId, version]));
      this.uses = uses;
      this.everRead = true;
      this.state = 'ready';
    } catch {
      this.state = 'offline';
      setTimeout(() => void this.load(), RETRY_MS);
    }
  }

  usesOf(partId: string): readonly PartUse[] {
    return this.#usesByPart.get(partId) ?? NOWHERE;
  }

  /** The assembled trains that hold a part, but for the one named. */
  holders(partId: string, butTrain?: string): PartUse[] {
    return this.usesOf(partId).filter(({ assembled, trainId }) => assembled && trainId !== butTrain);
  }

  /**
   * Stores parts and removes others as one step.
   *
   * @param run steps of the same run are undone together
   * @returns why it cannot be, where that is known before the server is asked
   */
  change(label: string, put: readonly Part[], remove: readonly string[] = [], run?: string): string | undefined {
    const after = new Map<string, Part | undefined>();
    for (const part of put) {
      const reading = readPart(partToDocument(part));
      if (!reading.ok) return reading.complaints.map(complaintInWords)[0] ?? 'That is not a part.';
      after.set(part.partId, reading.document);
    }
    for (const partId of remove) after.set(partId, undefined);
    const before = new Map([...after.keys()].map((partId) => [partId, this.byId.get(partId)?.part]));
    const last = this.#past.at(-1);
    this.#future = [];
    if (run !== undefined && last?.run === run) {
      this.#past = this.#past.with(-1, { ...last, after });
    } else {
      this.#past = [...this.#past, { label, before, after, run }];
    }
    this.#carryOut(label, before, after, run);
    return undefined;
  }

  /** Changes a key of a part as the fields of an element do. */
  edit(partId: string, operation: Operation, label: string, run?: string): string | undefined {
    const owned = this.byId.get(partId);
    if (!owned || operation.op !== 'set') return 'This part is not there any more.';
    const element = changedElement(owned.part.element, operation.path, operation.to);
    return this.change(label, [{ ...owned.part, element }], [], run && `${partId} ${run}`);
  }

  undo(): void {
    const step = this.#past.at(-1);
    if (!step) return;
    this.#past = this.#past.slice(0, -1);
    this.#future = [...this.#future, { ...step, run: undefined }];
    this.#carryOut(`Undo ${step.label}`, step.after, step.before);
  }

  redo(): void {
    const step = this.#future.at(-1);
    if (!step) return;
    this.#future = this.#future.slice(0, -1);
    this.#past = [...this.#past, step];
    this.#carryOut(step.label, step.before, step.after);
  }

  #carryOut(label: string, before: Snapshot, after: Snapshot, run?: string): void {
    this.#changesMade++;
    this.#show(after);
    const last = this.#waiting.at(-1);
    if (run !== undefined && last?.run === run && !last.sent) last.after = after;
    else this.#waiting.push({ changeId: crypto.randomUUID(), label, before, after, run });
    void this.#keep();
    void this.#flush();
  }

  /** Whether this browser keeps what is unsent. */
  #keeps = true;

  /** Keeps what is not stored yet in the browser, until it is. */
  async #keep(): Promise<void> {
    try {
      if (this.#waiting.length === 0) return await this.#store.drop(this.#tabId);
      const kept = (snapshot: Snapshot): KeptSnapshot =>
        [...snapshot].map(([partId, part]) => [partId, part ? partToDocument(part) : null]);
      const bases = new Map<string, number | null>();
      for (const waiting of this.#waiting) {
        for (const partId of waiting.after.keys())
          if (!bases.has(partId)) bases.set(partId, this.#baseOf(waiting, partId));
      }
      await this.#store.put({
        tabId: this.#tabId,
        bases: [...bases],
        changes: this.#waiting.map(({ changeId, label, before, after, sent }) => ({
          changeId,
          label,
          before: kept(before),
          after: kept(after),
          ...(sent ? { sent } : {})
        })),
        changedAt: Date.now()
      });
    } catch (error) {
      // A browser that keeps nothing (private window, full disk): the server still gets it, if the page stays.
      this.#keeps = false;
      console.warn('Unsent changes could not be kept in this browser', error);
    }
  }

  /** Takes over what tabs that are gone have left behind, oldest first. */
  async #adoptOrphans(): Promise<void> {
    const left = await this.#store.list().catch(() => []);
    for (const { tabId, bases, changes } of left.sort((a, b) => a.changedAt - b.changedAt)) {
      if (tabId === this.#tabId || !(await isTabGone(tabId))) continue;
      const shared = new Map(bases);
      for (const { changeId, label, before, after, sent } of changes) {
        const [was, made] = [fromKept(before), fromKept(after)];
        if (!was || !made) continue;
        this.#show(made);
        this.#waiting.push({
          changeId,
          label,
          before: was,
          after: made,
          run: undefined,
          bases: shared,
          ...(sent ? { sent } : {})
        });
      }
      await this.#keep();
      await this.#store.drop(tabId).catch(() => undefined);
    }
    void this.#flush();
  }

  /** Shows parts as they shall be, before the server has said so. */
  #show(after: Snapshot): void {
    const kept = this.parts.filter(({ part }) => !after.has(part.partId));
    const changed = [...after].flatMap(([partId, part]) => {
      const owned = this.byId.get(partId);
      return part ? [{ photo: null, changedAt: new Date().toISOString(), version: 0, ...owned, part }] : [];
    });
    const byNumber = (a: OwnedPart, b: OwnedPart): number => (a.part.partId < b.part.partId ? -1 : 1);
    this.parts = [...kept, ...changed].sort(byNumber);
  }

  /** Versions as the server last told them, whatever is shown meanwhile; what is not there has none. */
  #versions = new Map<string, number>();

  async #flush(): Promise<void> {
    if (this.#sending) return;
    if (this.#waiting.length === 0) return this.#follow();
    this.#sending = true;
    try {
      for (let next = this.#waiting[0]; next; next = this.#waiting[0]) {
        this.state = 'saving';
        if (!next.sent) {
          next.sent = this.#toSend(next);
          void this.#keep();
        }
        const reply = await sendChange(next.sent);
        if (reply.kind === 'refused') {
          this.#giveUp(reply.message, reply.stale);
          return;
        }
        this.#waiting.shift();
        void this.#keep();
        for (const { part, version } of reply.parts) {
          this.#versions.set(part.partId, version);
          next.bases?.set(part.partId, version);
        }
        for (const partId of reply.removed) {
          this.#versions.delete(partId);
          next.bases?.set(partId, null);
        }
        this.followed = reply.trains;
        if (this.#known !== undefined && reply.count === this.#known + 1) this.#known = reply.count;
        if (this.#waiting.length === 0) this.#adopt(reply.parts);
      }
      this.state = 'ready';
    } catch (error) {
      if (!(error instanceof Unreachable)) throw error;
      this.state = 'offline';
      setTimeout(() => void this.#flush(), RETRY_MS);
    } finally {
      this.#sending = false;
      this.#follow();
    }
  }

  /** The version of a part that a change was made from; null: it was not there. */
  #baseOf({ bases }: Waiting, partId: string): number | null {
    const kept = bases?.get(partId);
    return kept === undefined ? (this.#versions.get(partId) ?? null) : kept;
  }

  #toSend(waiting: Waiting): SentChange {
    const entries = [...waiting.after];
    return {
      changeId: waiting.changeId,
      put: entries.flatMap(([partId, part]) =>
        part ? [{ document: partToDocument(part), basedOn: this.#baseOf(waiting, partId) }] : []
      ),
      remove: entries.flatMap(([partId, part]) => (part ? [] : [{ partId, basedOn: this.#baseOf(waiting, partId) }]))
    };
  }

  /** Takes over what the server made of our parts. */
  #adopt(stored: readonly OwnedPart[]): void {
    const told = new Map(stored.map((owned) => [owned.part.partId, owned]));
    this.parts = this.parts.map((owned) => told.get(owned.part.partId) ?? owned);
  }

  #turnedDown: readonly Waiting[] = [];

  /** The server said no: what was typed on top of it makes no sense any more, unless it is made again. */
  #giveUp(message: string, stale: boolean): void {
    this.refusal = { message, repeatable: stale };
    this.#turnedDown = this.#waiting;
    this.#waiting = [];
    void this.#keep();
    this.#past = this.#past.slice(0, -1);
    this.#future = [];
    this.state = 'reading';
    this.#sending = false;
    void this.load();
  }

  /**
   * Makes the changes that were turned down again, on top of what others have made of the parts meanwhile.
   *
   * @returns why that cannot be
   */
  async repeat(): Promise<string | undefined> {
    const turnedDown = this.#turnedDown;
    const [first] = turnedDown;
    if (!first) return undefined;
    await this.load();
    const made = new Map<string, Part | undefined>();
    const now = (partId: string): Part | undefined =>
      made.has(partId) ? made.get(partId) : this.byId.get(partId)?.part;
    for (const { before, after } of turnedDown) {
      for (const [partId, ours] of after) {
        const [was, theirs] = [before.get(partId), now(partId)];
        const merged = ours && was && theirs ? mergedPart(was, ours, theirs) : ours;
        if (ours && !merged) return `${partId}: your change does not go together with theirs.`;
        made.set(partId, merged);
      }
    }
    const put = [...made.values()].filter((part) => part !== undefined);
    const remove = [...made].flatMap(([partId, part]) => (part || !this.byId.has(partId) ? [] : [partId]));
    this.#turnedDown = [];
    return this.change(first.label, put, remove);
  }
}

const KEY = Symbol('drawer');
export const provideDrawer = (drawer: Drawer): Drawer => setContext(KEY, drawer);
export const useDrawer = (): Drawer => getContext<Drawer>(KEY);
