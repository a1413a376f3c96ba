import { reasonOf } from '$lib/api/reason.ts';
import {
  fillOperation,
  filledTrain,
  isFilling,
  isHolder,
  obstaclesOf,
  type Advice,
  type FindResult,
  type Obstacle,
  type Preference,
  type Sharing,
  type Solution,
  type TogetherResult
} from '@lodestone/core/finder';
import { apply, type ElementKind, type Train } from '@lodestone/core/train';
import type { LengthUnit } from '@lodestone/core/why';
import type { StoredTrain } from '$lib/api/trains.ts';
import type { Part } from '@lodestone/core/drawer';
import type { Drawer } from '$lib/parts/drawer.svelte.ts';
import { tiedBut } from '$lib/parts/tied.ts';
import type { TrainSession } from '$lib/train/session.svelte.ts';
import type { FinderAnswer, FinderReport, FinderTask, FinderWorker } from '$lib/workers/finder.worker.ts';
import { ask } from '$lib/workers/ask.ts';
import { startFinder } from '$lib/workers/start.ts';
import { proxy } from 'comlink';
import { SvelteSet } from 'svelte/reactivity';

/** What the list shows: stacks in one of the finder's orders, or those that nothing beats in everything. */
export type View = Preference | 'trade-offs';

/** One line of the finder's list: a stack, or a change that would let one close. */
export type Offer = { kind: 'stack'; solution: Solution } | { kind: 'advice'; advice: Advice };

const orderOf = (view: View): Preference => (view === 'trade-offs' ? 'closest' : view);

const onlyStack = (solution: Solution, exhausted: boolean): FindResult => ({
  target: { requiredMm: null, toleranceMm: null, missingMm: null },
  solutions: [solution],
  pareto: [solution],
  exhausted,
  ranked: 1,
  leastCornerLight: null,
  unmet: []
});

export const MOST_PIECES = 8;

/** The finder as the Build stage sees it: one search at a time, in a worker, previewed on the rail. */
export class Finder {
  open = $state(false);
  state = $state<'idle' | 'searching' | 'done' | 'stopped' | 'failed'>('idle');
  report = $state.raw<FinderReport>();
  result = $state.raw<FindResult>();
  advice = $state.raw<readonly Advice[]>([]);
  failure = $state('');
  view = $state<View>('fewest');
  maxPieces = $state(6);
  /** Parts of other assembled trains may be used too. */
  evenHeld = $state(false);
  /** Parts that would have to be bought may be used, even where owned ones do. */
  withShop = $state(false);
  /** Only parts that lie here, or in places inside it; everything where it is empty. */
  onlyFrom = $state('');
  /** Share of the light the corners are to get; what the train says where undefined, nothing asked where 0. */
  cornerLight = $state<number>();
  active = $state(0);
  readonly pinned = new SvelteSet<string>();
  readonly forbidden = new SvelteSet<string>();
  /** Kinds of part that are not to be used. */
  readonly withoutKinds = new SvelteSet<ElementKind>();

  readonly #train: TrainSession;
  readonly #drawer: Drawer;
  /** What calls the search off that is going on; one that was overtaken while it waited for the drawer does not begin. */
  #searching = new AbortController();
  /** The document the last search was for. */
  #searched: Train | undefined;

  readonly #unit: () => LengthUnit;

  /** @param unit that advice is told in */
  constructor(train: TrainSession, drawer: Drawer, unit: () => LengthUnit) {
    this.#train = train;
    this.#drawer = drawer;
    this.#unit = unit;
  }

  readonly solutions: readonly Solution[] = $derived.by(() => {
    if (!this.result) return [];
    return this.view === 'trade-offs' ? this.result.pareto : this.result.solutions;
  });

  /** Nothing is inside the tolerance: what would help comes first, the nearest misses after it. */
  readonly offers: readonly Offer[] = $derived([
    ...this.advice.map((advice): Offer => ({ kind: 'advice', advice })),
    ...this.solutions.map((solution): Offer => ({ kind: 'stack', solution }))
  ]);

  /** The search is over, and no stack is inside the tolerance. */
  get missed(): boolean {
    const over = this.state === 'done' || this.state === 'stopped';
    return over && !this.offers.some((offer) => offer.kind === 'advice' || offer.solution.inTolerance);
  }

  /** What stood in the way, where nothing was found. */
  get obstacles(): readonly Obstacle[] {
    return this.missed && this.#searched
      ? obstaclesOf(this.#searched, this.#drawer.plain, this.#unit(), this.cornerLight)
      : [];
  }

  get stale(): boolean {
    return this.#searched !== undefined && this.#searched !== this.#train.document;
  }

  show(): void {
    this.open = true;
    void this.search();
  }

  hide(): void {
    this.#stop();
    this.open = false;
    this.#train.preview = undefined;
  }

  #stop(): void {
    this.#searching.abort();
  }

  /** Begins a search; the one before it ends. @returns what calls it off */
  #begin(document: Train): AbortSignal {
    this.#stop();
    this.#searching = new AbortController();
    this.#searched = document;
    this.state = 'searching';
    this.failure = '';
    this.report = undefined;
    this.together = undefined;
    return this.#searching.signal;
  }

  /** Tells why a search ended without an answer, where nobody called it off. */
  #fail(error: unknown, signal: AbortSignal): void {
    if (signal.aborted) return;
    this.state = 'failed';
    this.failure = reasonOf(error);
  }

  /** Asks again what failed. */
  again: () => Promise<void> = () => this.search();

  /** Ends the search; what was found so far is shown, and not said to be proven. */
  cancel(): void {
    this.#stop();
    this.state = 'stopped';
    const best = this.report?.best;
    if (!this.result && best) {
      this.result = onlyStack(best, false);
      this.look(0);
    }
  }

  #liesWell({ location, owned }: Part): boolean {
    const { onlyFrom } = this;
    return onlyFrom === '' || !owned || location === onlyFrom || location.startsWith(`${onlyFrom} / `);
  }

  /** Other orders of the stack that is looked at; undefined until somebody asks. */
  orders = $state.raw<readonly Solution[]>();
  /** Why they could not be looked for. */
  ordersFailure = $state<string>();

  /** Looks for the other orders of the stack that is looked at. */
  async findOrders(): Promise<void> {
    const offer = this.offers[this.active];
    const document = this.#searched;
    if (offer?.kind !== 'stack' || !document) return;
    this.ordersFailure = undefined;
    const { signal } = this.#searching;
    try {
      const found = await ask<FinderWorker, Solution[]>(
        startFinder,
        (finder) => finder.orders(document, offer.solution),
        { signal }
      );
      if (this.offers[this.active] === offer) this.orders = found;
    } catch (error) {
      if (!signal.aborted) this.ordersFailure = reasonOf(error);
    }
  }

  /** The stack that is looked at goes in in another order. */
  reorder(other: Solution): void {
    const offer = this.offers[this.active];
    if (offer?.kind !== 'stack' || !this.result) return;
    const { solution } = offer;
    const exchanged = (solutions: readonly Solution[]) => solutions.map((each) => (each === solution ? other : each));
    const { solutions, pareto } = this.result;
    this.result = { ...this.result, solutions: exchanged(solutions), pareto: exchanged(pareto) };
    const orders = this.orders?.map((each) => (each === other ? solution : each));
    this.look(this.active);
    this.orders = orders;
  }

  /** What is asked of the finder just now. */
  task(document: Train, others: readonly StoredTrain[] = []): FinderTask {
    return {
      train: document,
      // What stands in several trains may be any part; what fills a gap, or is advised, may not.
      parts:
        others.length > 0
          ? this.#drawer.plain
          : this.#drawer.plain.filter(
              (part) =>
                (isFilling(part) || isHolder(part)) && !this.withoutKinds.has(part.element.kind) && this.#liesWell(part)
            ),
      prefer: orderOf(this.view),
      maxPieces: this.maxPieces,
      cornerLight: this.cornerLight,
      unit: this.#unit(),
      withShop: this.withShop,
      pinned: [...this.pinned],
      forbidden: [...this.forbidden],
      tied: this.evenHeld ? [] : tiedBut(this.#drawer.uses, [this.#train.id, ...others.map(({ id }) => id)])
    };
  }

  /** What was found for this train and others together. */
  together = $state.raw<{ others: readonly StoredTrain[]; sharing: Sharing; found: TogetherResult }>();

  /** Finds stacks for this train and others, so that all can stand at once, or are changed over with few moves. */
  async searchTogether(others: readonly StoredTrain[], sharing: Sharing): Promise<void> {
    this.again = () => this.searchTogether(others, sharing);
    const document = this.#train.document;
    const signal = this.#begin(document);
    try {
      const found = await ask<FinderWorker, TogetherResult>(
        startFinder,
        (finder) =>
          finder.together(
            this.task(document, others),
            others.map((other) => other.document),
            sharing,
            proxy((share: number) => {
              if (!signal.aborted) this.report = { share, pieces: 0, best: undefined };
            })
          ),
        { signal }
      );
      this.together = { others, sharing, found };
      const ours = found.best?.stacks[0];
      if (ours) {
        this.advice = [];
        this.result = onlyStack(ours, found.exhausted);
      }
      this.state = 'done';
      this.look(0);
    } catch (error) {
      this.#fail(error, signal);
    }
  }

  async search(): Promise<void> {
    this.again = () => this.search();
    const document = this.#train.document;
    const signal = this.#begin(document);
    this.#train.preview = undefined;
    this.result = undefined;
    this.advice = [];
    try {
      // Nothing can be found in a drawer that has not been read yet.
      if (!this.#drawer.isRead) await this.#drawer.load();
      if (!this.#drawer.isRead) throw new Error('The drawer cannot be reached just now.');
      const answer = await ask<FinderWorker, FinderAnswer>(
        startFinder,
        (finder) =>
          finder.find(
            this.task(document),
            proxy((report: FinderReport) => {
              if (!signal.aborted) this.report = report;
            })
          ),
        { signal }
      );
      this.result = answer.result;
      this.advice = answer.advice;
      this.state = 'done';
      // The list is drawn first, and what it shows on the rail after it: together they would hold the page up.
      await new Promise((drawn) => setTimeout(drawn));
      if (this.result === answer.result) this.look(0);
    } catch (error) {
      this.#fail(error, signal);
    }
  }

  choose(view: View): void {
    const before = this.view;
    this.view = view;
    if (orderOf(before) !== orderOf(view)) void this.search();
    else this.look(0);
  }

  /** Shows an offer on the rail. */
  look(index: number): void {
    const { offers } = this;
    this.active = Math.min(offers.length - 1, Math.max(0, index));
    this.orders = undefined;
    this.ordersFailure = undefined;
    const offer = offers[this.active];
    if (!offer || this.stale) return;
    const { document } = this.#train;
    this.#train.preview =
      offer.kind === 'stack' ? filledTrain(document, offer.solution) : apply(document, offer.advice.operation);
  }

  /** Does what an offer says, as one step. @returns why that is not possible */
  take(index = this.active): string | undefined {
    const offer = this.offers[index];
    if (!offer) return undefined;
    if (this.stale) return 'The train has changed since; search again.';
    const operation =
      offer.kind === 'stack' ? fillOperation(this.#train.document, offer.solution) : offer.advice.operation;
    const refusal = this.#train.dispatch(operation, offer.kind === 'stack' ? 'Fill the gaps' : offer.advice.message);
    if (refusal === undefined) this.hide();
    return refusal;
  }

  toggleKind(kind: ElementKind): void {
    if (!this.withoutKinds.delete(kind)) this.withoutKinds.add(kind);
    void this.search();
  }

  togglePin(partId: string): void {
    if (!this.pinned.delete(partId)) this.pinned.add(partId);
    this.forbidden.delete(partId);
    void this.search();
  }

  toggleBan(partId: string): void {
    if (!this.forbidden.delete(partId)) this.forbidden.add(partId);
    this.pinned.delete(partId);
    void this.search();
  }
}
