import {
  facetsLeft,
  facetsOf,
  placesOf,
  searchParts,
  sortParts,
  type Part,
  type PartFilter,
  type SortKey
} from '@lodestone/core/drawer';
import type { Drawer } from '$lib/parts/drawer.svelte.ts';
import { SvelteSet } from 'svelte/reactivity';

/** What the drawer's list shows: words, filters, order, the part that is open, the parts that are chosen. */
export class DrawerView {
  query = $state('');
  filter = $state.raw<PartFilter>({});
  sortKey = $state<SortKey>('partId');
  descending = $state(false);
  current = $state<string>();
  readonly chosen = new SvelteSet<string>();

  readonly #drawer: Drawer;
  constructor(drawer: Drawer) {
    this.#drawer = drawer;
  }

  readonly found: readonly Part[] = $derived.by(() => searchParts(this.#drawer.index, this.query, this.filter));
  readonly shown: readonly Part[] = $derived.by(() =>
    // A part named in full stays first, whatever the order.
    this.query.trim() !== '' && this.sortKey === 'partId' && !this.descending
      ? this.found
      : sortParts(this.found, this.sortKey, this.descending)
  );
  /** What there is to narrow down by. */
  readonly facets = $derived.by(() => facetsOf(this.#drawer.plain));
  readonly places = $derived.by(() => placesOf(this.#drawer.plain));

  /** How many of what is shown a choice of each kind would leave: everything else that was chosen counts. */
  readonly left = $derived.by(() => facetsLeft(this.#drawer.index, this.query, this.filter));

  /** Whether anything narrows the list down. */
  get isNarrowed(): boolean {
    return this.query.trim() !== '' || Object.keys(this.filter).length > 0;
  }

  /** Shows everything again. */
  widen(): void {
    this.query = '';
    this.filter = {};
  }

  readonly currentIndex = $derived.by(() => this.shown.findIndex(({ partId }) => partId === this.current));

  /** The parts an action is for: the chosen ones, else the open one. */
  get subjects(): Part[] {
    const ids = this.chosen.size > 0 ? [...this.chosen] : this.current === undefined ? [] : [this.current];
    return ids.flatMap((id) => this.#drawer.byId.get(id)?.part ?? []);
  }

  narrow(key: keyof PartFilter, to: string | undefined): void {
    const { [key]: before, ...rest } = this.filter;
    this.filter = to === undefined || before === to ? rest : { ...rest, [key]: to };
  }

  /** Sorts by a column; by the same again the other way round. */
  sortBy(key: SortKey): void {
    this.descending = this.sortKey === key ? !this.descending : false;
    this.sortKey = key;
  }

  walk(by: number): void {
    const { shown, currentIndex } = this;
    // Nothing is open yet: a step goes to the near end, and Home and End to their own.
    const isJump = !Number.isFinite(by);
    const next = Math.min(
      shown.length - 1,
      Math.max(0, currentIndex < 0 && !isJump ? (by > 0 ? 0 : shown.length - 1) : Math.max(currentIndex, 0) + by)
    );
    this.current = shown[next]?.partId;
  }

  toggle(partId: string): void {
    if (!this.chosen.delete(partId)) this.chosen.add(partId);
  }

  /** Chooses everything from the open part to another one. */
  chooseTo(partId: string): void {
    const to = this.shown.findIndex((part) => part.partId === partId);
    const from = Math.max(0, this.currentIndex);
    for (const part of this.shown.slice(Math.min(from, to), Math.max(from, to) + 1)) this.chosen.add(part.partId);
  }

  chooseAll(): void {
    const all = this.shown.every(({ partId }) => this.chosen.has(partId));
    this.chosen.clear();
    if (!all) for (const { partId } of this.shown) this.chosen.add(partId);
  }
}
