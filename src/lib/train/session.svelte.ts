import {
  HOST,
  OperationError,
  findElement,
  forcedOnto,
  inverse,
  isSeated,
  nameOf,
  removalOf,
  sameJson,
  shiftOf,
  type Operation,
  type Train
} from '@lodestone/core/train';
import { assess } from '@lodestone/core/check';
import { layoutOf } from '@lodestone/core/shape';
import type { StoredTrain } from '$lib/api/trains.ts';
import { Kept } from '$lib/sync/kept.svelte.ts';
import type { Told } from '$lib/sync/live.ts';
import type { Aside } from '$lib/sync/rules.ts';
import type { PageWays } from '$lib/sync/work.ts';
import { trainOutlet } from './outlet.ts';
import { changedTrain, toState, type TrainChange, type TrainState } from './rules.ts';
import { changeState, createTrain, fetchTrain, sendSave, type Save } from './transport.ts';

/** What the inspector shows: the host, an element, or the joint on an element's sky side. */
export type Selection = { kind: 'host' } | { kind: 'element'; id: string } | { kind: 'joint'; id: string };

const sameSelection = (a: Selection, b: Selection): boolean =>
  a.kind === b.kind && ('id' in a ? a.id : '') === ('id' in b ? b.id : '');

/** The open train: its document, what follows from it, undo, selection, and its way to the server. */
const NONE: readonly string[] = [];

export class TrainSession extends Kept<TrainState, TrainChange, Selection, Save, StoredTrain, StoredTrain> {
  readonly id: string;
  document = $state.raw() as Train;
  selection = $state.raw<Selection>({ kind: 'host' });
  /** Parts that are chosen beside the one that is selected. */
  #also = $state.raw<readonly string[]>(NONE);
  /** Where a row of parts that is chosen begins. */
  #anchor: string | undefined;
  /** Ids of the parts that are chosen, in the order of the train. */
  readonly chosen = $derived(this.document.elements.flatMap(({ id }) => (this.isChosen(id) ? [id] : [])));
  savedAt = $state.raw('');
  /** Somebody has deleted the train meanwhile. */
  deleted = $state(false);

  /** A train that is only looked at: what the document would become. It is drawn, never saved. */
  preview = $state.raw<Train>();
  /** What is drawn and reckoned: the preview while there is one. */
  readonly shown = $derived(this.preview ?? this.document);
  readonly assessment = $derived(assess(this.shown));
  readonly layout = $derived(layoutOf(this.shown, this.assessment.ledger, this.assessment.facts.axis));

  /** Number of the drawer's state that is known here: what is brought into the train is as it was then. */
  drawerNumber: () => number | undefined = () => undefined;

  /** The document as it was here before something of it was set aside. */
  #mine: Train | undefined;

  /** @param page where it is kept and heard of, where that is not this page */
  constructor(stored: StoredTrain, page?: PageWays) {
    super({
      scope: `train/${stored.id}`,
      outlet: trainOutlet((save) => sendSave(stored.id, save)),
      base: toState(stored),
      isRead: true,
      page
    });
    this.id = stored.id;
    this.document = stored.document;
    this.savedAt = stored.revision.savedAt;
    const { datum } = this.assessment.ledger;
    const gap = stored.document.elements.find(({ kind }) => kind === 'gap');
    this.selection = gap
      ? { kind: 'element', id: gap.id }
      : datum.id === HOST
        ? { kind: 'host' }
        : { kind: 'element', id: datum.id };
  }

  protected override readonly outlivesReload = true;

  protected numberOf({ revision }: TrainState): number {
    return revision;
  }

  protected async read(): Promise<TrainState> {
    return toState(await fetchTrain(this.id));
  }

  protected inverse({ document }: TrainState, { operation }: TrainChange): TrainChange {
    return { operation: inverse(document, operation) };
  }

  protected refusal(thrown: unknown): string | undefined {
    return thrown instanceof OperationError ? thrown.message : undefined;
  }

  protected leftInWords(reason: string): string {
    return `It is left as it is. ${reason}`;
  }

  protected override dated({ operation }: TrainChange): TrainChange {
    const drawer = this.drawerNumber();
    return { operation, ...(drawer === undefined ? {} : { drawer }) };
  }

  protected around(): Selection {
    return this.selection;
  }

  protected override ontravelled(selection: Selection): void {
    this.select(selection);
  }

  protected onshow(): void {
    const { now, base, aside } = this;
    if (aside.length > this.#asideBefore) this.#mine = this.document;
    this.#asideBefore = aside.length;
    this.savedAt = base.savedAt;
    // What was stored comes back as it was sent, and is no change: nothing is calculated again, and no search is out of date.
    if (sameJson(now.document, this.document)) return;
    this.document = now.document;
    this.preview = undefined;
    this.#keepSelection();
  }
  #asideBefore = 0;

  /**
   * Carries out an operation, unless the document it would make is not valid.
   *
   * @param run steps of the same run are undone together, as typing in one field is
   * @returns why it was refused
   */
  dispatch(operation: Operation, label: string, run?: string): string | undefined {
    return this.do({ operation }, label, run);
  }

  select(selection: Selection): void {
    this.#choose(selection, NONE);
    this.#anchor = 'id' in selection ? selection.id : undefined;
  }

  #choose(selection: Selection, also: readonly string[]): void {
    if (!sameSelection(selection, this.selection)) this.selection = selection;
    if (also.length > 0 || this.#also.length > 0) this.#also = also;
    this.#keepSelection();
  }

  isChosen(id: string): boolean {
    return (this.selection.kind === 'element' && this.selection.id === id) || this.#also.includes(id);
  }

  /** Chooses a part beside those that are chosen, or leaves it out again; one stays. */
  toggle(id: string): void {
    const rest = this.chosen.filter((each) => each !== id);
    const selected = rest.length === this.chosen.length ? id : rest.at(-1);
    if (selected === undefined) return;
    this.#choose(
      { kind: 'element', id: selected },
      rest.filter((each) => each !== selected)
    );
    this.#anchor = selected;
  }

  /** Chooses all parts from the one that was chosen first to this one. */
  chooseTo(id: string): void {
    const order = this.document.elements.map((element) => element.id);
    const to = order.indexOf(id);
    const from = order.indexOf(this.#anchor ?? id);
    if (to < 0 || from < 0) return this.select({ kind: 'element', id });
    const row = order.slice(Math.min(from, to), Math.max(from, to) + 1);
    this.#choose(
      { kind: 'element', id },
      row.filter((each) => each !== id)
    );
  }

  /** Lengthens or shortens the row of parts that is chosen by one. */
  extend(by: -1 | 1): void {
    const { elements } = this.document;
    const now = this.selection;
    const at = 'id' in now ? elements.findIndex(({ id }) => id === now.id) : -1;
    // A joint lies on the sky side of its element.
    const next = now.kind === 'joint' ? at + Math.min(by, 0) : at + by;
    const element = elements[Math.max(0, Math.min(elements.length - 1, next))];
    if (element && now.kind === 'element') this.chooseTo(element.id);
    else if (element) this.select({ kind: 'element', id: element.id });
  }

  chooseAll(): void {
    const [first] = this.document.elements;
    const last = this.document.elements.at(-1);
    if (!first || !last) return;
    this.select({ kind: 'element', id: first.id });
    this.chooseTo(last.id);
  }

  /** Everything the arrow keys walk through, sky side first: host, joint, element, joint, … */
  get stops(): Selection[] {
    return [
      { kind: 'host' },
      ...this.document.elements.flatMap((element): Selection[] =>
        isSeated(element)
          ? [
              { kind: 'joint', id: element.id },
              { kind: 'element', id: element.id }
            ]
          : [{ kind: 'element', id: element.id }]
      )
    ];
  }

  /** Moves the selection along the train. */
  walk(by: number): void {
    const { stops } = this;
    const at = stops.findIndex((stop) => sameSelection(stop, this.selection));
    this.select(stops[Math.min(stops.length - 1, Math.max(0, at + by))]!);
  }

  /** Those that are chosen, as a step names them. */
  get chosenInWords(): string {
    const [first] = this.chosen;
    return this.chosen.length === 1 && first !== undefined
      ? nameOf(this.document, first)
      : `${this.chosen.length} parts`;
  }

  get hasCameraChosen(): boolean {
    return this.document.elements.some(({ id, kind }) => kind === 'camera' && this.isChosen(id));
  }

  /** Moves the chosen elements past their neighbours. */
  shift(by: -1 | 1): string | undefined {
    const operation = shiftOf(this.document, this.chosen, by);
    return operation && this.dispatch(operation, `Move ${this.chosenInWords}`);
  }

  /** Takes the chosen elements out and selects the joint they leave. */
  removeChosen(): string | undefined {
    const { elements } = this.document;
    const ids = this.chosen;
    const operation = removalOf(this.document, ids);
    if (!operation) return undefined;
    if (this.hasCameraChosen) return 'A train needs its camera. Replace it instead.';
    const last = elements.findLastIndex(({ id }) => ids.includes(id));
    const refusal = this.dispatch(operation, `Remove ${this.chosenInWords}`);
    const next = elements.slice(last + 1).find(isSeated);
    if (refusal === undefined && next) this.select({ kind: 'joint', id: next.id });
    return refusal;
  }

  #keepSelection(): void {
    const { selection } = this;
    if (this.#also.length > 0) {
      const still = this.document.elements.flatMap(({ id }) => (this.#also.includes(id) ? [id] : []));
      const selected =
        selection.kind === 'element' && findElement(this.document, selection.id) ? undefined : still.pop();
      if (selected !== undefined) this.selection = { kind: 'element', id: selected };
      if (still.length < this.#also.length) this.#also = still;
      if (selected !== undefined) return;
    }
    if (selection.kind === 'host') return;
    const element = findElement(this.document, selection.id);
    if (!element) this.selection = { kind: 'host' };
    else if (selection.kind === 'joint' && !isSeated(element)) this.selection = { kind: 'element', id: element.id };
  }

  protected override onheard({ state }: Told): void {
    if (state === undefined) return;
    this.deleted = state === 'deleted';
    // Brought back from among the deleted: what waited for that can go on.
    if (!this.deleted) this.retry();
  }

  /** Sends what waits. @returns number of the revision that is stored then; undefined while something is unsaved */
  async settleSaves(): Promise<number | undefined> {
    await this.saveNow();
    return this.hasUnsaved ? undefined : this.base.revision;
  }

  /** Brings the train back from among the deleted. */
  async bringBack(): Promise<void> {
    await changeState(this.id, 'active');
    this.deleted = false;
    await this.saveNow();
  }

  /** The train with all that met others’ changes on top of it, where that makes a train. */
  get withClashes(): Train | undefined {
    return this.#with(this.aside.filter(({ why }) => why === 'clash'));
  }

  /** The train with some of what was set aside on top of it, where that makes a train. */
  #with(aside: readonly Aside<TrainChange>[]): Train | undefined {
    const operations = aside.map(({ entry }) => entry.change.operation);
    const forced = forcedOnto(this.document, operations);
    try {
      return forced && changedTrain(forced, { op: 'batch', operations: [] });
    } catch {
      return undefined;
    }
  }

  /** Makes what was decided of all that met others’ changes, and lets the rest of it go. @returns why that cannot be */
  settleClashes(operations: readonly Operation[]): string | undefined {
    const clashes = this.aside.filter(({ why }) => why === 'clash');
    const refusal =
      operations.length > 0 ? this.dispatch({ op: 'batch', operations }, 'Settle what two have changed') : undefined;
    if (refusal === undefined) for (const { entry } of clashes) this.letGo(entry.id);
    return refusal;
  }

  /** Keeps what was set aside as a train of its own. @returns its id */
  async keepAsideAsTrain(): Promise<string> {
    const document = this.#with(this.aside) ?? this.#mine ?? this.document;
    const copy = await createTrain(crypto.randomUUID(), { ...document, name: `${document.name} (mine)`.slice(0, 200) });
    for (const { entry } of this.aside) this.letGo(entry.id);
    return copy.id;
  }
}
