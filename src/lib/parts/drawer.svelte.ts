// The maps here are made anew with every change and never changed where somebody looks at them.
/* eslint-disable svelte/prefer-svelte-reactivity */
import { complaintInWords, changedElement, type Operation } from '@lodestone/core';
import { indexDrawer, partToDocument, readPart, type Part, type PartUse } from '@lodestone/core/drawer';
import { Unreachable } from '$lib/api/ask.ts';
import { getContext, setContext } from 'svelte';
import { fetchDrawer, sendChange, type OwnedPart, type SentChange } from './transport.ts';

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
  after: Snapshot;
  run: string | undefined;
}

export type DrawerState = 'reading' | 'ready' | 'saving' | 'offline';

const RETRY_MS = 2000;

const NOWHERE: readonly PartUse[] = [];

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
  refusal = $state.raw<string>();
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

  get undoLabel(): string | undefined {
    return this.#past.at(-1)?.label;
  }

  get redoLabel(): string | undefined {
    return this.#future.at(-1)?.label;
  }

  /** Begins to read and to follow; in the browser only. @returns what ends it */
  open(): () => void {
    void this.load();
    const events = new EventSource('/api/drawer/events');
    events.onmessage = ({ data }) => {
      this.#heard = Number(data);
      this.#known ??= this.#heard;
      this.#follow();
    };
    events.onopen = () => void this.#flush();
    const warn = (event: BeforeUnloadEvent): void => {
      if (this.#waiting.length > 0) event.preventDefault();
    };
    addEventListener('beforeunload', warn);
    return () => {
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
    this.#carryOut(after, run);
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
    this.#carryOut(step.before);
  }

  redo(): void {
    const step = this.#future.at(-1);
    if (!step) return;
    this.#future = this.#future.slice(0, -1);
    this.#past = [...this.#past, step];
    this.#carryOut(step.after);
  }

  #carryOut(after: Snapshot, run?: string): void {
    this.#changesMade++;
    this.#show(after);
    const last = this.#waiting.at(-1);
    // What is not yet on its way may still be typed into.
    const open = this.#waiting.length > (this.#sending ? 1 : 0) ? last : undefined;
    if (run !== undefined && open?.run === run) open.after = after;
    else this.#waiting.push({ changeId: crypto.randomUUID(), after, run });
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
    this.#sending = true;
    try {
      for (let next = this.#waiting[0]; next; next = this.#waiting[0]) {
        this.state = 'saving';
        const sent = this.#toSend(next);
        const reply = await sendChange(sent);
        this.#waiting.shift();
        if (reply.kind === 'refused') {
          this.#giveUp(reply.message);
          return;
        }
        for (const owned of reply.parts) this.#versions.set(owned.part.partId, owned.version);
        for (const partId of reply.removed) this.#versions.delete(partId);
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

  #sentOnce: { waiting: Waiting; sent: SentChange } | undefined;

  /** A change as it is sent; one whose reply was lost is sent again letter by letter. */
  #toSend(waiting: Waiting): SentChange {
    if (this.#sentOnce?.waiting === waiting) return this.#sentOnce.sent;
    const entries = [...waiting.after];
    const sent = {
      changeId: waiting.changeId,
      put: entries.flatMap(([partId, part]) =>
        part ? [{ document: partToDocument(part), basedOn: this.#versions.get(partId) ?? null }] : []
      ),
      remove: entries.flatMap(([partId, part]) =>
        part ? [] : [{ partId, basedOn: this.#versions.get(partId) ?? null }]
      )
    };
    this.#sentOnce = { waiting, sent };
    return sent;
  }

  /** Takes over what the server made of our parts. */
  #adopt(stored: readonly OwnedPart[]): void {
    const told = new Map(stored.map((owned) => [owned.part.partId, owned]));
    this.parts = this.parts.map((owned) => told.get(owned.part.partId) ?? owned);
  }

  /** The server said no: what was typed on top of it makes no sense any more. */
  #giveUp(message: string): void {
    this.refusal = message;
    this.#waiting = [];
    this.#past = this.#past.slice(0, -1);
    this.#future = [];
    this.state = 'reading';
    this.#sending = false;
    void this.load();
  }
}

const KEY = Symbol('drawer');
export const provideDrawer = (drawer: Drawer): Drawer => setContext(KEY, drawer);
export const useDrawer = (): Drawer => getContext<Drawer>(KEY);
