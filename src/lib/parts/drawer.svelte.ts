// The maps here are made anew with every change and never changed where somebody looks at them.
/* eslint-disable svelte/prefer-svelte-reactivity */
import { reasonOf } from '$lib/api/reason.ts';
import { complaintInWords, changedElement, type Operation } from '@lodestone/core';
import { indexDrawer, partToDocument, readPart, withReadingIds, type Part, type PartUse } from '@lodestone/core/drawer';
import { History } from '$lib/sync/history.ts';
import { pageLive } from '$lib/sync/live.ts';
import { Outbox, type OutboxStatus } from '$lib/sync/outbox.ts';
import type { Aside } from '$lib/sync/rules.ts';
import { browserStore, type KeptStore } from '$lib/sync/store.ts';
import { attend } from '$lib/sync/work.ts';
import { getContext, setContext } from 'svelte';
import { drawerOutlet } from './outlet.ts';
import {
  drawerRules,
  forcedChange,
  isNumberTaken,
  renumbered,
  type DrawerChange,
  type DrawerState,
  type PartChange
} from './rules.ts';
import {
  fetchDrawer,
  type OwnedPart,
  type SentChange,
  type StaleParts,
  type StoredChange,
  type UnreadablePart
} from './transport.ts';

const SCOPE = 'drawer';

/** Wait before the drawer is read again where that failed, ms; it doubles up to the longest. */
const RETRY_MS = 1000;
const LONGEST_RETRY_MS = 15_000;

const NOWHERE: readonly PartUse[] = [];

const NOTHING_READ: DrawerState = { number: -1, parts: new Map() };

const newId = (): string => crypto.randomUUID();

/**
 * The drawer as this page sees it: its parts, what is changed in them, and who uses them. Changes show at once and
 * find their way to the server by themselves; undo is a change like any other.
 */
export class Drawer {
  parts = $state.raw<readonly OwnedPart[]>([]);
  /** Parts that are stored but cannot be read here. */
  unreadable = $state.raw<readonly UnreadablePart[]>([]);
  uses = $state.raw<readonly PartUse[]>([]);
  /** Numbers that were given once: they stand on labels, and are not given again by themselves. */
  #retired = $state.raw<readonly string[]>([]);
  status = $state.raw<OutboxStatus>({ state: 'saved' });
  /** Changes of ours that met others' changes of the same, or that the server cannot take. */
  aside = $state.raw<readonly Aside<DrawerChange>[]>([]);
  /** Whether the parts shown came from the server: an empty list means nothing before that. */
  everRead = $state.raw(false);
  /** Why the drawer could not be read the last time. */
  unread = $state.raw<string>();
  /** Trains that followed the last change of a part. */
  followed = $state.raw<readonly string[]>([]);
  undoLabel = $state.raw<string>();
  redoLabel = $state.raw<string>();

  readonly byId = $derived(new Map(this.parts.map((owned) => [owned.part.partId, owned])));
  readonly plain = $derived(this.parts.map(({ part }) => part));
  /** Numbers that a new part does not get by itself: those there are, and those there were. */
  readonly takenIds = $derived(new Set([...this.byId.keys(), ...this.#retired]));
  readonly index = $derived(indexDrawer(this.plain, this.uses));
  readonly #usesByPart = $derived.by(() => {
    const uses = new Map<string, PartUse[]>();
    for (const use of this.uses) uses.set(use.partId, [...(uses.get(use.partId) ?? []), use]);
    return uses;
  });

  readonly #session = newId();
  readonly #store: KeptStore;
  readonly #history = new History<DrawerState, DrawerChange, undefined>(drawerRules);
  readonly #outbox: Outbox<DrawerState, DrawerChange, SentChange, StoredChange, StaleParts>;
  #open = false;

  constructor(store: KeptStore = browserStore) {
    this.#store = store;
    this.#outbox = new Outbox({
      scope: SCOPE,
      session: this.#session,
      base: NOTHING_READ,
      outlet: drawerOutlet,
      store,
      onchange: () => this.#show(),
      onstored: ({ trains }) => {
        this.followed = trains;
        this.#follow();
      },
      ondropped: (entry) => this.#history.forget(entry)
    });
  }

  /** The server does not answer: neither to reading nor to what is sent. */
  get isAway(): boolean {
    return this.unread !== undefined || this.status.state === 'offline';
  }

  get isSaving(): boolean {
    return this.status.state === 'unsaved' || this.status.state === 'saving';
  }

  /** Number of the drawer's state that is shown; undefined before it was read. */
  get number(): number | undefined {
    return this.everRead ? this.#outbox.base.number : undefined;
  }

  /** Begins to read and to follow; in the browser only. @returns what ends it */
  open(): () => void {
    this.#open = true;
    let stop: (() => void) | undefined;
    // What was left unsaved goes on top of what is there: that has to be known first.
    this.#onread = () => {
      stop ??= attend(this.#outbox, {
        store: this.#store,
        scope: SCOPE,
        session: this.#session,
        onleft: () => this.#history.endRun()
      });
    };
    void this.load();
    const stopHearing = pageLive().subscribe('drawer', ({ number = 0 }) => {
      this.#heard = Math.max(this.#heard, number);
      this.#follow();
    });
    return () => {
      this.#open = false;
      this.#onread = undefined;
      clearTimeout(this.#retry);
      stopHearing();
      stop?.();
    };
  }

  #onread: (() => void) | undefined;

  /** Shows what the outbox holds. */
  #show(): void {
    const { shown, status, aside } = this.#outbox;
    this.status = status;
    this.aside = aside;
    this.undoLabel = this.#history.undoLabel;
    this.redoLabel = this.#history.redoLabel;
    if (shown.parts === this.#shown) return;
    this.#shown = shown.parts;
    this.parts = [...shown.parts.values()];
  }
  #shown: DrawerState['parts'] = NOTHING_READ.parts;

  /** Highest number of a state of the drawer that was heard of. */
  #heard = 0;
  #reading: Promise<void> | undefined;
  #retry: ReturnType<typeof setTimeout> | undefined;
  #retryMs = RETRY_MS;

  /** Somebody else has changed the drawer: read it anew. Our own changes bring what came of them. */
  #follow(): void {
    if (this.#outbox.isSending || this.#heard <= this.#outbox.base.number) return;
    void this.load();
  }

  /** Reads the drawer anew; what is unsaved here goes on top of it. Where that fails it is tried again later. */
  load(): Promise<void> {
    clearTimeout(this.#retry);
    this.#reading ??= this.#read().finally(() => (this.#reading = undefined));
    return this.#reading;
  }

  async #read(): Promise<void> {
    try {
      const { number, parts, unreadable, uses, retired } = await fetchDrawer();
      this.#retired = [...new Set([...this.#retired, ...retired])];
      this.uses = uses;
      this.unreadable = unreadable;
      this.unread = undefined;
      this.#retryMs = RETRY_MS;
      this.#outbox.receive({ number, parts: new Map(parts.map((owned) => [owned.part.partId, owned])) });
      this.everRead = true;
      this.#onread?.();
      // What was heard of while it was being read.
      if (this.#heard > number) this.#later();
    } catch (error) {
      this.unread = reasonOf(error);
      this.#later();
    }
  }

  #later(): void {
    if (!this.#open) return;
    this.#retry = setTimeout(() => void this.load(), this.#retryMs);
    this.#retryMs = Math.min(2 * this.#retryMs, LONGEST_RETRY_MS);
  }

  usesOf(partId: string): readonly PartUse[] {
    return this.#usesByPart.get(partId) ?? NOWHERE;
  }

  /** Parts of which some copy stands in no assembled train but the one named; held copies are counted off. */
  free(trainId: string): Part[] {
    return this.plain.flatMap((part) => {
      const left = part.quantity - this.holders(part.partId, trainId).length;
      return left <= 0 ? [] : [left === part.quantity ? part : { ...part, quantity: left }];
    });
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
    if (!this.everRead) return 'The drawer has not been read yet; try again in a moment.';
    const change = new Map<string, PartChange>();
    const before = (partId: string): Part | undefined => this.byId.get(partId)?.part;
    for (const part of put) {
      const reading = readPart(partToDocument(withReadingIds(part, newId)));
      if (!reading.ok) return reading.complaints.map(complaintInWords)[0] ?? 'That is not a part.';
      change.set(part.partId, { before: before(part.partId), after: reading.document });
    }
    for (const partId of remove) change.set(partId, { before: before(partId), after: undefined });
    this.#do(label, change, run);
    return undefined;
  }

  #do(label: string, change: DrawerChange, run?: string): void {
    const gone = [...change].flatMap(([partId, { after }]) => (after ? [] : [partId]));
    if (gone.length > 0) this.#retired = [...this.#retired, ...gone];
    const undo = inverted(change);
    const entry = this.#outbox.add({ id: newId(), label, change, run });
    this.#history.add({ label, undo, run, entry, after: this.#outbox.shown, extra: undefined });
    this.#show();
  }

  /** Changes a key of a part as the fields of an element do. */
  edit(partId: string, operation: Operation, label: string, run?: string): string | undefined {
    const owned = this.byId.get(partId);
    if (!owned || operation.op !== 'set') return 'This part is not there any more.';
    const element = changedElement(owned.part.element, operation.path, operation.to);
    return this.change(label, [{ ...owned.part, element }], [], run && `${partId} ${run}`);
  }

  /** Takes the last step back, on the drawer as it is now. @returns what could not be taken back, and why */
  undo(): string | undefined {
    return this.#travel('undo');
  }

  redo(): string | undefined {
    return this.#travel('redo');
  }

  /** Names the step that was done last, so that it can be taken back later whatever was done since. */
  get lastStep(): string | undefined {
    return this.#history.next('undo')?.made.at(-1)?.entry;
  }

  /** Whether a step has not been taken back yet. */
  stands(step: string): boolean {
    // Read, so that whoever asks is asked again after every step.
    void this.undoLabel;
    void this.redoLabel;
    return this.#history.holds(step);
  }

  /** Takes one step back, be it the last or not. @returns what could not be taken back, and why */
  takeBack(step: string): string | undefined {
    return this.#travel('undo', step);
  }

  #travel(direction: 'undo' | 'redo', step?: string): string | undefined {
    const stays = this.#history.travel(
      direction,
      this.#outbox.shown,
      (change, label) => {
        const entry = this.#outbox.add({ id: newId(), label, change });
        return { undo: inverted(change), entry, after: this.#outbox.shown };
      },
      step
    );
    this.#show();
    return stays && `Not everything was taken back. ${stays}`;
  }

  /** Whether a change that was set aside adds parts whose numbers others have now. */
  isNumberTaken(entry: string): boolean {
    const aside = this.aside.find((each) => each.entry.id === entry);
    return aside !== undefined && isNumberTaken(aside.entry.change);
  }

  /**
   * Makes a change that was set aside all the same: ours wherever both changed the same; parts whose numbers others
   * have now get the next free ones.
   *
   * @returns why that cannot be
   */
  insist(entry: string): string | undefined {
    const aside = this.aside.find((each) => each.entry.id === entry);
    if (!aside) return undefined;
    const forced = forcedChange(renumbered(aside.entry.change, this.#outbox.shown), this.#outbox.shown);
    if (typeof forced === 'string') return forced;
    this.#do(aside.entry.label, forced);
    this.letGo(entry);
    return undefined;
  }

  /** Lets a change that was set aside go. */
  letGo(entry: string): void {
    this.#outbox.takeAside(entry);
  }

  /** Tries to save now, as when somebody has signed in. */
  saveNow(): void {
    void this.#outbox.flush();
  }
}

/** The change that takes a change back. */
const inverted = (change: DrawerChange): DrawerChange =>
  new Map([...change].map(([partId, { before, after }]) => [partId, { before: after, after: before }]));

const KEY = Symbol('drawer');
export const provideDrawer = (drawer: Drawer): Drawer => setContext(KEY, drawer);
export const useDrawer = (): Drawer => getContext<Drawer>(KEY);
