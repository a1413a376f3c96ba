/** What a change becomes on another side's state. */
export type Rebased<Change> =
  | { kind: 'goes'; change: Change }
  /** They have done the same. */
  | { kind: 'done' }
  /** Both sides changed the same thing: `clashing` is what a person has to decide on, `goes` what can go on without. */
  | { kind: 'clash'; reason: string; clashing: Change; goes?: Change };

/** What one kind of work has to know of itself to be kept. States are never changed, only made anew. */
export interface Rules<State, Change> {
  /** @throws Error when the change makes no sense on this state */
  apply(state: State, change: Change): State;
  /**
   * Carries changes over that were made on `base`, to `theirs`, which others have made of it.
   *
   * @param holds whose value stands where both have set the same: theirs, which makes it a clash, or ours
   * @returns to be called with our changes, in their order
   */
  rebaseOnto(base: State, theirs: State, holds?: 'theirs' | 'ours'): (change: Change) => Rebased<Change>;
  /** Two changes of one run of typing as one, where they can be. */
  joined(earlier: Change, later: Change): Change | undefined;
  /** Whether a change leaves everything as it is. */
  changesNothing(state: State, change: Change): boolean;
}

/** One change on its way to the server. */
export interface Entry<Change> {
  id: string;
  label: string;
  change: Change;
  /** Changes of one run of typing share this. */
  run?: string | undefined;
}

/** A change that could not be kept by itself: somebody has to say what becomes of it. */
export interface Aside<Change> {
  entry: Entry<Change>;
  /** `clash`: others changed the same; `refused`: the server can never take it. */
  why: 'clash' | 'refused';
  reason: string;
}
