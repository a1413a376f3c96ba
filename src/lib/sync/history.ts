import type { Rules } from './rules.ts';

/** A pause longer than this ends a run of typing: what is typed after it is a step of its own, ms. */
export const RUN_PAUSE_MS = 1000;

/** Something that was done, and how it is taken back. */
export interface Step<State, Change, Extra> {
  label: string;
  /** Takes it back, on the state it left behind. */
  undo: Change;
  run: string | undefined;
  /** When it was last added to, ms by the history's clock. */
  at: number;
  /** The entries it is made of, and the state each left behind. */
  made: readonly { entry: string; after: State }[];
  extra: Extra;
}

type Steps<State, Change, Extra> = readonly Step<State, Change, Extra>[];

/** Steps that are written down at the most, either way. */
const MOST_WRITTEN = 40;

/** Steps as they are written down. */
interface Written<State, Change, Extra> {
  past: Steps<State, Change, Extra>;
  future: Steps<State, Change, Extra>;
}

/** What was written down; undefined where it cannot be that. */
function readWritten<State, Change, Extra>(text: string): Written<State, Change, Extra> | undefined {
  try {
    const { past, future } = JSON.parse(text) as Partial<Written<State, Change, Extra>>;
    const isSteps = (steps: unknown): boolean =>
      Array.isArray(steps) && steps.every((step: Partial<Step<State, Change, Extra>>) => step.made?.at(-1)?.after);
    return isSteps(past) && isSteps(future) ? { past: past!, future: future! } : undefined;
  } catch {
    return undefined;
  }
}

const isMadeOf = <S, C, E>({ made }: Step<S, C, E>, entry: string): boolean =>
  made.some((each) => each.entry === entry);

/**
 * Steps that can be taken back, and done again. A step is taken back on the state as it is *now*: what others have
 * changed since is left alone, key by key.
 */
export class History<State, Change, Extra> {
  readonly #rules: Rules<State, Change>;
  readonly #now: () => number;
  #past: readonly Step<State, Change, Extra>[] = [];
  #future: readonly Step<State, Change, Extra>[] = [];

  /** @param now a clock that only goes forward, ms: that of the day may be set back in the middle of a word */
  constructor(rules: Rules<State, Change>, now: () => number = () => performance.now()) {
    this.#rules = rules;
    this.#now = now;
  }

  get undoLabel(): string | undefined {
    return this.#past.at(-1)?.label;
  }

  get redoLabel(): string | undefined {
    return this.#future.at(-1)?.label;
  }

  /**
   * Something was done. A step of the same run, without a pause between them, grows; one that comes back to where it
   * began is none.
   */
  add(step: { label: string; undo: Change; run: string | undefined; entry: string; after: State; extra: Extra }): void {
    const { entry, after, ...rest } = step;
    const at = this.#now();
    const last = this.#past.at(-1);
    this.#future = [];
    const grows = last && step.run !== undefined && last.run === step.run && at - last.at <= RUN_PAUSE_MS;
    // Taken back together: from what it is now to what it was at first.
    const undo = grows ? this.#rules.joined(step.undo, last.undo) : undefined;
    if (grows && undo !== undefined) {
      const made = [...last.made.filter((each) => each.entry !== entry), { entry, after }];
      const grown = { ...last, undo, at, made };
      this.#past = this.#rules.changesNothing(after, undo) ? this.#past.slice(0, -1) : this.#past.with(-1, grown);
    } else {
      this.#past = [...this.#past, { ...rest, at, made: [{ entry, after }] }];
    }
  }

  /** The step that is next to be taken back, or done again. */
  next(direction: 'undo' | 'redo'): Step<State, Change, Extra> | undefined {
    return (direction === 'undo' ? this.#past : this.#future).at(-1);
  }

  /**
   * Takes the next step back, or does it again, on the state as it is now.
   *
   * @param carryOut does it; says which entry it became, what takes *that* back, and the state it left behind
   * @param entry the step that became this entry, instead of the next one; nothing happens where it is not there
   * @returns what was left as others have made it since, in words
   * @throws whatever `carryOut` throws; the step is gone then, as one that cannot be travelled
   */
  travel(
    direction: 'undo' | 'redo',
    now: State,
    carryOut: (change: Change, label: string) => { undo: Change; entry: string; after: State },
    entry?: string
  ): string | undefined {
    const from = direction === 'undo' ? this.#past : this.#future;
    const at = entry === undefined ? from.length - 1 : from.findIndex((each) => isMadeOf(each, entry));
    const step = from[at];
    if (!step) return undefined;
    if (direction === 'undo') this.#past = from.toSpliced(at, 1);
    else this.#future = from.toSpliced(at, 1);
    const rebased = this.#rules.rebaseOnto(step.made.at(-1)!.after, now)(step.undo);
    const change = rebased.kind === 'goes' ? rebased.change : rebased.kind === 'clash' ? rebased.goes : undefined;
    if (change !== undefined) {
      const { undo, entry, after } = carryOut(change, direction === 'undo' ? `Undo ${step.label}` : step.label);
      const over = { ...step, undo, run: undefined, at: this.#now(), made: [{ entry, after }] };
      if (direction === 'undo') this.#future = [...this.#future, over];
      else this.#past = [...this.#past, over];
    }
    return rebased.kind === 'clash' ? rebased.reason : undefined;
  }

  /** Whether the step that became this entry can still be taken back. */
  holds(entry: string): boolean {
    return this.#past.some((step) => isMadeOf(step, entry));
  }

  /** The newest steps that can be taken back or done again, as text; the oldest are left out where it would be long. */
  written(mostLetters: number): string {
    let past = this.#past.slice(-MOST_WRITTEN);
    let future = this.#future.slice(-MOST_WRITTEN);
    const write = (): string => JSON.stringify({ past, future } satisfies Written<State, Change, Extra>);
    let text = write();
    while (text.length > mostLetters && past.length + future.length > 0) {
      if (past.length > 0) past = past.slice(1);
      else future = future.slice(1);
      text = write();
    }
    return text;
  }

  /** Takes over what was written, before anything was done here. What is no such text is none. */
  restore(text: string): void {
    const written = readWritten<State, Change, Extra>(text);
    if (!written || this.#past.length > 0 || this.#future.length > 0) return;
    // What was typed before is a step of its own.
    const ended = (steps: Steps<State, Change, Extra>) => steps.map((step) => ({ ...step, run: undefined }));
    this.#past = ended(written.past);
    this.#future = ended(written.future);
  }

  /** Ends the run of typing: the next step is one of its own. */
  endRun(): void {
    const last = this.#past.at(-1);
    if (last?.run !== undefined) this.#past = this.#past.with(-1, { ...last, run: undefined });
  }

  /** An entry came to nothing: the steps that are made of it alone are gone, and no others. */
  forget(entry: string): void {
    const without = (steps: readonly Step<State, Change, Extra>[]) =>
      steps.flatMap((step) => {
        const made = step.made.filter((each) => each.entry !== entry);
        return made.length === step.made.length ? [step] : made.length === 0 ? [] : [{ ...step, made }];
      });
    this.#past = without(this.#past);
    this.#future = without(this.#future);
  }
}
