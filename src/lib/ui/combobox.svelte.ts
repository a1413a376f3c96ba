interface Options<T> {
  /** Begins the ids of the list and of its options. */
  id: string;
  items: () => readonly T[];
  pick: (item: T, index: number) => void;
  /** Enter takes the first one while nothing was walked to. */
  takesFirst?: () => boolean;
  /** The arrow keys go round at the ends. */
  goesRound?: boolean;
  /** The list was asked for, or put away, by key. */
  onopen?: (open: boolean) => void;
}

/** A field whose arrow keys walk a list, and whose Enter picks from it (ARIA pattern “combobox”, list autocomplete). */
export class Combobox<T> {
  /** Where the arrow keys stand; −1: nowhere yet. */
  at = $state(-1);
  readonly #options: Options<T>;

  constructor(options: Options<T>) {
    this.#options = options;
  }

  get #items(): readonly T[] {
    return this.#options.items();
  }

  /** Index of what Enter would take; undefined where it would take nothing. */
  get active(): number | undefined {
    const { length } = this.#items;
    if (length === 0) return undefined;
    if (this.at >= 0) return Math.min(this.at, length - 1);
    return this.#options.takesFirst?.() ? 0 : undefined;
  }

  get listId(): string {
    return `${this.#options.id}-list`;
  }

  optionId = (index: number): string => `${this.#options.id}-${index}`;

  get activeId(): string | undefined {
    return this.active === undefined ? undefined : this.optionId(this.active);
  }

  /** Other words, another list: nobody stands anywhere in it. */
  reset = (): void => void (this.at = -1);

  /** @returns whether the key was one of the list's */
  onkeydown = (event: KeyboardEvent): boolean => {
    const { length } = this.#items;
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault();
      this.#options.onopen?.(true);
      if (length > 0) this.#walk(event.key === 'ArrowDown' ? 1 : -1, length);
      return true;
    }
    const { active } = this;
    if (event.key !== 'Enter' || active === undefined) return false;
    event.preventDefault();
    this.#options.pick(this.#items[active]!, active);
    return true;
  };

  #walk(by: 1 | -1, length: number): void {
    const from = this.active ?? (by > 0 ? -1 : length);
    const to = from + by;
    this.at = this.#options.goesRound ? (to + length) % length : Math.max(0, Math.min(length - 1, to));
    // The list must not hide what the keys stand on.
    const id = this.optionId(this.at);
    queueMicrotask(() => document.getElementById(id)?.scrollIntoView({ block: 'nearest' }));
  }
}
