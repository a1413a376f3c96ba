const KEPT_AS = 'lodestone.counts';

/** Rows of a comparison that count for who compares: only in these one is better than another. Kept on this device. */
export class Counts {
  list = $state.raw<readonly string[]>([]);

  has(row: string): boolean {
    return this.list.includes(row);
  }

  toggle(row: string): void {
    this.list = this.has(row) ? this.list.filter((each) => each !== row) : [...this.list, row];
    localStorage.setItem(KEPT_AS, JSON.stringify(this.list));
  }

  /** Goes on with what was said before; in the browser only. */
  recall(): void {
    try {
      const kept: unknown = JSON.parse(localStorage.getItem(KEPT_AS) ?? '[]');
      if (Array.isArray(kept)) this.list = kept.filter((row) => typeof row === 'string');
    } catch {
      // Nothing readable was kept.
    }
  }
}
