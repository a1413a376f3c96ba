// The maps here are made anew with every change and never changed where somebody looks at them.
/* eslint-disable svelte/prefer-svelte-reactivity */
import { complaintInWords, changedElement, type Operation } from '@lodestone/core/train';
import { indexDrawer, partToDocument, readPart, withReadingIds, type Part, type PartUse } from '@lodestone/core/drawer';
import { Kept } from '$lib/sync/kept.svelte.ts';
import type { PageWays } from '$lib/sync/work.ts';
import { getContext, setContext } from 'svelte';
import { drawerOutlet } from './outlet.ts';
import {
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

const NOWHERE: readonly PartUse[] = [];

const NOTHING_READ: DrawerState = { number: -1, holds: -1, parts: new Map() };

const newId = (): string => crypto.randomUUID();

/**
 * The drawer as this page sees it: its parts, what is changed in them, and who uses them. Changes show at once and
 * find their way to the server by themselves; undo is a change like any other.
 */
export class Drawer extends Kept<DrawerState, DrawerChange, undefined, SentChange, StoredChange, StaleParts> {
  parts = $state.raw<readonly OwnedPart[]>([]);
  /** Parts that are stored but cannot be read here. */
  unreadable = $state.raw<readonly UnreadablePart[]>([]);
  uses = $state.raw<readonly PartUse[]>([]);
  /** Numbers that were given once: they stand on labels, and are not given again by themselves. */
  #retired = $state.raw<readonly string[]>([]);
  /** Trains that followed the last change of a part. */
  followed = $state.raw<readonly string[]>([]);

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

  /** @param page where it is kept and heard of, where that is not this page */
  constructor(page?: PageWays) {
    super({ scope: 'drawer', outlet: drawerOutlet, base: NOTHING_READ, isRead: false, page });
  }

  protected numberOf({ number }: DrawerState): number {
    return number;
  }

  protected override newestOf({ holds }: DrawerState): number {
    return holds;
  }

  protected async read(): Promise<DrawerState> {
    const { number, parts, unreadable, uses, retired } = await fetchDrawer();
    this.#retired = [...new Set([...this.#retired, ...retired])];
    this.uses = uses;
    this.unreadable = unreadable;
    return { number, holds: number, parts: new Map(parts.map((owned) => [owned.part.partId, owned])) };
  }

  protected inverse(_before: DrawerState, change: DrawerChange): DrawerChange {
    return new Map([...change].map(([partId, { before, after }]) => [partId, { before: after, after: before }]));
  }

  protected refusal(): undefined {
    return undefined;
  }

  protected leftInWords(reason: string): string {
    return `Not everything was taken back. ${reason}`;
  }

  protected around(): undefined {
    return undefined;
  }

  /** Ours wherever both changed the same; parts whose numbers others have now get the next free ones. */
  protected override forced(change: DrawerChange): DrawerChange | string {
    return forcedChange(renumbered(change, this.now), this.now);
  }

  protected override onstored({ trains }: StoredChange): void {
    this.followed = trains;
  }

  protected onshow(): void {
    const { parts } = this.now;
    if (parts === this.#shown) return;
    this.#shown = parts;
    this.parts = [...parts.values()];
  }
  #shown: DrawerState['parts'] = NOTHING_READ.parts;

  /** The server does not answer: neither to reading nor to what is sent. */
  get isAway(): boolean {
    return this.unread !== undefined || this.status.state === 'offline';
  }

  get isSaving(): boolean {
    return this.status.state === 'unsaved' || this.status.state === 'saving';
  }

  /** Number of the drawer's state that is shown; undefined before it was read. */
  get number(): number | undefined {
    return this.isRead ? this.base.number : undefined;
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
    if (!this.isRead) return 'The drawer has not been read yet; try again in a moment.';
    const change = new Map<string, PartChange>();
    const before = (partId: string): Part | undefined => this.byId.get(partId)?.part;
    for (const part of put) {
      const reading = readPart(partToDocument(withReadingIds(part, newId)));
      if (!reading.ok) return reading.complaints.map(complaintInWords)[0] ?? 'That is not a part.';
      change.set(part.partId, { before: before(part.partId), after: reading.document });
    }
    for (const partId of remove) change.set(partId, { before: before(partId), after: undefined });
    if (remove.length > 0) this.#retired = [...this.#retired, ...remove];
    return this.do(change, label, run);
  }

  /** Changes a key of a part as the fields of an element do. */
  edit(partId: string, operation: Operation, label: string, run?: string): string | undefined {
    const owned = this.byId.get(partId);
    if (!owned || operation.op !== 'set') return 'This part is not there any more.';
    const element = changedElement(owned.part.element, operation.path, operation.to);
    return this.change(label, [{ ...owned.part, element }], [], run && `${partId} ${run}`);
  }

  /** Whether a change that was set aside adds parts whose numbers others have now. */
  isNumberTaken(entry: string): boolean {
    const aside = this.aside.find((each) => each.entry.id === entry);
    return aside !== undefined && isNumberTaken(aside.entry.change);
  }
}

const KEY = Symbol('drawer');
export const provideDrawer = (drawer: Drawer): Drawer => setContext(KEY, drawer);
export const useDrawer = (): Drawer => getContext<Drawer>(KEY);
