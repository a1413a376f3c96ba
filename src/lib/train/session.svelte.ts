import {
  HOST,
  OperationError,
  apply,
  assess,
  complaintInWords,
  findElement,
  inverse,
  isSeated,
  layoutOf,
  readTrain,
  type Operation,
  type Train
} from '@lodestone/core';
import type { StoredTrain } from '$lib/api/trains.ts';
import { announceTab } from '$lib/ui/tabs.ts';
import { findOrphan, pendingStore } from './pendingStore.ts';
import { SaveQueue, type SaveStatus } from './saveQueue.ts';
import { createTrain, fetchTrain, sendSave } from './transport.ts';

/** What the inspector shows: the host, an element, or the joint on an element's sky side. */
export type Selection = { kind: 'host' } | { kind: 'element'; id: string } | { kind: 'joint'; id: string };

interface Step {
  label: string;
  undo: Operation;
  /** Steps of one run of typing into one field share this and are undone together. */
  run: string | undefined;
  selection: Selection;
}

const sameSelection = (a: Selection, b: Selection): boolean =>
  a.kind === b.kind && ('id' in a ? a.id : '') === ('id' in b ? b.id : '');

/** The open train: its document, what follows from it, undo, selection, and its way to the server. */
export class TrainSession {
  readonly id: string;
  document = $state.raw() as Train;
  selection = $state.raw<Selection>({ kind: 'host' });
  status = $state.raw<SaveStatus>({ state: 'saved' });
  savedAt = $state.raw('');

  /** A train that is only looked at: what the document would become. It is drawn, never saved. */
  preview = $state.raw<Train>();
  /** What is drawn and reckoned: the preview while there is one. */
  readonly shown = $derived(this.preview ?? this.document);
  readonly assessment = $derived(assess(this.shown));
  readonly layout = $derived(layoutOf(this.shown, this.assessment.ledger));

  #past = $state.raw<readonly Step[]>([]);
  #future = $state.raw<readonly Step[]>([]);
  readonly #queue: SaveQueue;
  readonly #tabId = crypto.randomUUID();

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
    this.#queue = new SaveQueue({
      trainId: stored.id,
      tabId: this.#tabId,
      revision: stored.revision.number,
      send: (save) => sendSave(stored.id, save),
      store: pendingStore,
      onstatus: (status) => (this.status = status),
      onstored: (train) => (this.savedAt = train.revision.savedAt)
    });
  }

  /** Begins to listen and to save; in the browser only. @returns what ends it */
  open(): () => void {
    announceTab(this.#tabId);
    void this.#adoptOrphan();
    const events = new EventSource(`/api/trains/${this.id}/events`);
    events.onopen = () => void this.#queue.flush();
    events.onmessage = ({ data }) => void this.#follow(Number(data));
    const flush = (): void => void this.#queue.flush();
    addEventListener('online', flush);
    addEventListener('pagehide', flush);
    return () => {
      removeEventListener('online', flush);
      removeEventListener('pagehide', flush);
      events.close();
      void this.#queue.flush().finally(() => this.#queue.end());
    };
  }

  /**
   * Carries out an operation, unless the document it would make is not valid.
   *
   * @param run steps of the same run are undone together, as typing in one field is
   * @returns why it was refused
   */
  dispatch(operation: Operation, label: string, run?: string): string | undefined {
    const before = this.document;
    const refusal = this.#change(operation);
    if (refusal !== undefined) return refusal;
    const last = this.#past.at(-1);
    this.#future = [];
    if (run !== undefined && last?.run === run) return undefined;
    const step = { label, undo: inverse(before, operation), run, selection: this.selection };
    this.#past = [...this.#past, step];
    return undefined;
  }

  get undoLabel(): string | undefined {
    return this.#past.at(-1)?.label;
  }

  get redoLabel(): string | undefined {
    return this.#future.at(-1)?.label;
  }

  /** Takes the last step back. @returns why that is not possible any more */
  undo(): string | undefined {
    return this.#travel('#past');
  }

  redo(): string | undefined {
    return this.#travel('#future');
  }

  #travel(from: '#past' | '#future'): string | undefined {
    const steps = from === '#past' ? this.#past : this.#future;
    const step = steps.at(-1);
    if (!step) return undefined;
    const before = this.document;
    const refusal = this.#change(step.undo);
    if (refusal !== undefined) return refusal;
    const back = { ...step, undo: inverse(before, step.undo), run: undefined };
    if (from === '#past') {
      this.#past = this.#past.slice(0, -1);
      this.#future = [...this.#future, back];
    } else {
      this.#future = this.#future.slice(0, -1);
      this.#past = [...this.#past, back];
    }
    this.select(step.selection);
    return undefined;
  }

  #change(operation: Operation): string | undefined {
    let changed: Train;
    try {
      changed = apply(this.document, operation);
    } catch (error) {
      if (error instanceof OperationError) return error.message;
      throw error;
    }
    const reading = readTrain(changed);
    if (!reading.ok) {
      const first = reading.complaints[0];
      return first ? complaintInWords(first) : 'That is not a valid train.';
    }
    this.document = reading.document;
    this.preview = undefined;
    this.#keepSelection();
    void this.#queue.change(this.document, operation);
    return undefined;
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

  async #adoptOrphan(): Promise<void> {
    const orphan = await findOrphan(this.id).catch(() => undefined);
    if (!orphan || this.#queue.hasUnsaved) return;
    const reading = readTrain(orphan.document);
    if (reading.ok) {
      this.document = reading.document;
      this.#keepSelection();
      await this.#queue.resume(orphan);
    }
    await pendingStore.drop(orphan.trainId, orphan.tabId);
  }

  /** Another tab or device has saved: follow it, unless there is work of our own, which meets it when it is saved. */
  async #follow(revision: number): Promise<void> {
    if (revision <= this.#queue.revision || this.#queue.hasUnsaved) return;
    try {
      const head = await fetchTrain(this.id);
      if (head.revision.number > this.#queue.revision && !this.#queue.hasUnsaved) this.#take(head);
    } catch {
      // The next event, or the next save, brings it.
    }
  }

  #take(head: StoredTrain): void {
    this.document = head.document;
    this.preview = undefined;
    this.savedAt = head.revision.savedAt;
    this.#keepSelection();
    this.#queue.rebase(head.revision.number);
  }

  /** Sends what waits. @returns number of the revision that is stored then; undefined while something is unsaved */
  async settleSaves(): Promise<number | undefined> {
    await this.#queue.flush();
    return this.#queue.hasUnsaved ? undefined : this.#queue.revision;
  }

  /** The other side's revision with our own changes on top, where they still make sense there. */
  get combined(): Train | undefined {
    const { head } = this.status;
    if (!head) return undefined;
    try {
      const reading = readTrain(this.#queue.operations.reduce(apply, head.document));
      return reading.ok ? reading.document : undefined;
    } catch {
      return undefined;
    }
  }

  /** Settles a conflict. Both versions stay: theirs as a revision, ours on top of it, or as a train of its own. */
  async settle(choice: 'combine' | 'ours' | 'theirs' | 'copy'): Promise<string | undefined> {
    const { head } = this.status;
    if (!head) return undefined;
    const ours = choice === 'combine' ? this.combined : this.document;
    const operation: Operation = { op: 'batch', operations: this.#queue.operations };
    if (choice === 'copy') {
      const copy = await createTrain(crypto.randomUUID(), { ...this.document, name: `${this.document.name} (mine)` });
      this.#take(head);
      return copy.id;
    }
    this.#take(head);
    if (choice !== 'theirs' && ours) {
      this.document = ours;
      this.#keepSelection();
      await this.#queue.change(ours, operation);
      await this.#queue.flush();
    }
    return undefined;
  }
}
