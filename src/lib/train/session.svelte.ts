import {
  HOST,
  OperationError,
  assess,
  findElement,
  forcedOnto,
  inverse,
  isSeated,
  layoutOf,
  type Operation,
  type Train
} from '@lodestone/core';
import type { StoredTrain } from '$lib/api/trains.ts';
import { History } from '$lib/sync/history.ts';
import { pageLive, type Told } from '$lib/sync/live.ts';
import { Outbox, type OutboxStatus } from '$lib/sync/outbox.ts';
import type { Aside } from '$lib/sync/rules.ts';
import { browserStore } from '$lib/sync/store.ts';
import { attend } from '$lib/sync/work.ts';
import { trainOutlet } from './outlet.ts';
import { changedTrain, toState, trainRules, type TrainChange, type TrainState } from './rules.ts';
import { changeState, createTrain, fetchTrain, sendSave, type Save } from './transport.ts';

/** What the inspector shows: the host, an element, or the joint on an element's sky side. */
export type Selection = { kind: 'host' } | { kind: 'element'; id: string } | { kind: 'joint'; id: string };

const sameSelection = (a: Selection, b: Selection): boolean =>
  a.kind === b.kind && ('id' in a ? a.id : '') === ('id' in b ? b.id : '');

const scopeOf = (id: string): string => `train/${id}`;

/** The open train: its document, what follows from it, undo, selection, and its way to the server. */
export class TrainSession {
  readonly id: string;
  document = $state.raw() as Train;
  selection = $state.raw<Selection>({ kind: 'host' });
  status = $state.raw<OutboxStatus>({ state: 'saved' });
  /** Changes of ours that met others' changes of the same, or that the server cannot take. */
  aside = $state.raw<readonly Aside<TrainChange>[]>([]);
  savedAt = $state.raw('');
  /** Somebody has deleted the train meanwhile. */
  deleted = $state(false);

  /** A train that is only looked at: what the document would become. It is drawn, never saved. */
  preview = $state.raw<Train>();
  /** What is drawn and reckoned: the preview while there is one. */
  readonly shown = $derived(this.preview ?? this.document);
  readonly assessment = $derived(assess(this.shown));
  readonly layout = $derived(layoutOf(this.shown, this.assessment.ledger, this.assessment.facts.axis));

  undoLabel = $state.raw<string>();
  redoLabel = $state.raw<string>();

  /** Number of the drawer's state that is known here: what is brought into the train is as it was then. */
  drawerNumber: () => number | undefined = () => undefined;

  readonly #session = crypto.randomUUID();
  readonly #history = new History<TrainState, TrainChange, Selection>(trainRules);
  readonly #outbox: Outbox<TrainState, TrainChange, Save, StoredTrain, StoredTrain>;
  /** The document as it was here before something of it was set aside. */
  #mine: Train | undefined;

  constructor(stored: StoredTrain) {
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
    this.#outbox = new Outbox({
      scope: scopeOf(stored.id),
      session: this.#session,
      base: toState(stored),
      outlet: trainOutlet((save) => sendSave(stored.id, save)),
      store: browserStore,
      onchange: () => this.#show(),
      onstored: () => void this.#follow(),
      ondropped: (entry) => this.#history.forget(entry)
    });
  }

  /** Begins to listen and to save; in the browser only. @returns what ends it */
  open(): () => void {
    const stop = attend(this.#outbox, {
      store: browserStore,
      scope: scopeOf(this.id),
      session: this.#session,
      onleft: () => this.#history.endRun()
    });
    const stopHearing = pageLive().subscribe(`train/${this.id}`, (told) => this.#hear(told));
    return () => {
      stopHearing();
      stop();
    };
  }

  /** Shows what the outbox holds. */
  #show(): void {
    const { shown, base, status, aside } = this.#outbox;
    if (aside.length > this.aside.length) this.#mine = this.document;
    this.status = status;
    this.aside = aside;
    this.savedAt = base.savedAt;
    this.undoLabel = this.#history.undoLabel;
    this.redoLabel = this.#history.redoLabel;
    if (shown.document === this.document) return;
    this.document = shown.document;
    this.preview = undefined;
    this.#keepSelection();
  }

  /**
   * Carries out an operation, unless the document it would make is not valid.
   *
   * @param run steps of the same run are undone together, as typing in one field is
   * @returns why it was refused
   */
  dispatch(operation: Operation, label: string, run?: string): string | undefined {
    try {
      const undo = inverse(this.document, operation);
      const { selection } = this;
      const entry = this.#add(operation, label, run);
      this.#history.add({ label, undo: { operation: undo }, run, entry, after: this.#outbox.shown, extra: selection });
      this.#show();
      return undefined;
    } catch (error) {
      if (error instanceof OperationError) return error.message;
      throw error;
    }
  }

  #add(operation: Operation, label: string, run?: string): string {
    const drawer = this.drawerNumber();
    const change: TrainChange = { operation, ...(drawer === undefined ? {} : { drawer }) };
    return this.#outbox.add({ id: crypto.randomUUID(), label, change, run });
  }

  /** Takes the last step back, on the train as it is now. @returns what could not be taken back, and why */
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
    const selection = step === undefined ? this.#history.next(direction)?.extra : undefined;
    try {
      const stays = this.#history.travel(
        direction,
        this.#outbox.shown,
        ({ operation }, label) => {
          const undo = { operation: inverse(this.document, operation) };
          return { undo, entry: this.#add(operation, label), after: this.#outbox.shown };
        },
        step
      );
      return stays && `It is left as it is. ${stays}`;
    } catch (error) {
      if (error instanceof OperationError) return error.message;
      throw error;
    } finally {
      this.#show();
      if (selection) this.select(selection);
    }
  }

  select(selection: Selection): void {
    if (!sameSelection(selection, this.selection)) this.selection = selection;
    this.#keepSelection();
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
    this.selection = stops[Math.min(stops.length - 1, Math.max(0, at + by))]!;
  }

  /** Moves the selected element past its neighbour. */
  shift(by: -1 | 1): string | undefined {
    if (this.selection.kind !== 'element') return undefined;
    const { id } = this.selection;
    const { elements } = this.document;
    const index = elements.findIndex((element) => element.id === id);
    const neighbour = elements[index + by];
    if (!neighbour) return undefined;
    const before = by < 0 ? neighbour.id : (elements[index + 2]?.id ?? null);
    return this.dispatch({ op: 'move', id, before }, `Move ${elements[index]!.name}`);
  }

  /** Takes the selected element out and selects the joint it leaves. */
  removeSelected(): string | undefined {
    if (this.selection.kind !== 'element') return undefined;
    const { id } = this.selection;
    const index = this.document.elements.findIndex((element) => element.id === id);
    const element = this.document.elements[index]!;
    if (element.kind === 'camera') return 'A train needs its camera. Replace it instead.';
    const refusal = this.dispatch({ op: 'remove', id }, `Remove ${element.name}`);
    const next = this.document.elements.slice(index).find(isSeated);
    if (refusal === undefined && next) this.select({ kind: 'joint', id: next.id });
    return refusal;
  }

  #keepSelection(): void {
    const { selection } = this;
    if (selection.kind === 'host') return;
    const element = findElement(this.document, selection.id);
    if (!element) this.selection = { kind: 'host' };
    else if (selection.kind === 'joint' && !isSeated(element)) this.selection = { kind: 'element', id: element.id };
  }

  /** Highest number of a revision that was heard of. */
  #heard = 0;
  #fetching = false;

  #hear({ number, state }: Told): void {
    if (number !== undefined) this.#heard = Math.max(this.#heard, number);
    if (state !== undefined) this.deleted = state === 'deleted';
    // Brought back from among the deleted: what waited for that can go on.
    if (state !== undefined && state !== 'deleted') this.#outbox.retry();
    void this.#follow();
  }

  /** Another tab or device has saved: its state is taken in, ours goes on top. */
  async #follow(): Promise<void> {
    // While ours is on its way the reply tells how it stands.
    if (this.#fetching || this.#outbox.isSending || this.#heard <= this.#outbox.base.revision) return;
    this.#fetching = true;
    try {
      this.#outbox.receive(toState(await fetchTrain(this.id)));
    } catch {
      // The next event, or the next save, brings it.
    } finally {
      this.#fetching = false;
    }
  }

  /** Sends what waits. @returns number of the revision that is stored then; undefined while something is unsaved */
  async settleSaves(): Promise<number | undefined> {
    await this.#outbox.flush();
    return this.#outbox.hasUnsaved ? undefined : this.#outbox.base.revision;
  }

  /** Brings the train back from among the deleted. */
  async bringBack(): Promise<void> {
    await changeState(this.id, 'active');
    this.deleted = false;
    await this.#outbox.flush();
  }

  /** Tries to save now, as when somebody has signed in. */
  saveNow(): void {
    void this.#outbox.flush();
  }

  /** The train with everything that was set aside on top of it, where that makes a train. */
  get withAside(): Train | undefined {
    const operations = this.aside.map(({ entry }) => entry.change.operation);
    const forced = forcedOnto(this.document, operations);
    try {
      return forced && changedTrain(forced, { op: 'batch', operations: [] });
    } catch {
      return undefined;
    }
  }

  /** Does a change that was set aside all the same, whatever it overwrites. @returns why that cannot be */
  insist(entry: string): string | undefined {
    const aside = this.aside.find((each) => each.entry.id === entry);
    if (!aside) return undefined;
    const refusal = this.dispatch(aside.entry.change.operation, aside.entry.label);
    if (refusal === undefined) this.letGo(entry);
    return refusal;
  }

  /** Lets a change that was set aside go. */
  letGo(entry: string): void {
    this.#outbox.takeAside(entry);
  }

  /** Keeps what was set aside as a train of its own. @returns its id */
  async keepAsideAsTrain(): Promise<string> {
    const document = this.withAside ?? this.#mine ?? this.document;
    const copy = await createTrain(crypto.randomUUID(), { ...document, name: `${document.name} (mine)`.slice(0, 200) });
    for (const { entry } of this.aside) this.letGo(entry.id);
    return copy.id;
  }
}
