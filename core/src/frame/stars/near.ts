/** Things of the plane by the square they lie in: what is near a place is looked for there alone. */
export class Near<T extends { x: number; y: number }> {
  readonly #side: number;
  readonly #cells = new Map<number, T[]>();

  /** @param side of a square, px: about as far as is asked for at once */
  constructor(side: number, things: Iterable<T> = []) {
    this.#side = side;
    for (const thing of things) this.add(thing);
  }

  #at(along: number): number {
    return Math.floor(along / this.#side);
  }

  add(thing: T): void {
    const key = this.#at(thing.y) * 65_536 + this.#at(thing.x);
    const cell = this.#cells.get(key);
    if (cell) cell.push(thing);
    else this.#cells.set(key, [thing]);
  }

  /** What lies within so many pixels of a place along either axis, itself left out. */
  within(reach: number, of: { x: number; y: number }): T[] {
    const found: T[] = [];
    for (let line = this.#at(of.y - reach); line <= this.#at(of.y + reach); line++) {
      for (let column = this.#at(of.x - reach); column <= this.#at(of.x + reach); column++) {
        for (const thing of this.#cells.get(line * 65_536 + column) ?? []) {
          if (thing !== of && Math.abs(thing.x - of.x) <= reach && Math.abs(thing.y - of.y) <= reach) found.push(thing);
        }
      }
    }
    return found;
  }
}
