import { MapView } from './view.svelte.ts';

/** A magnifier that lies on the map. */
export class LoupeState {
  readonly id: number;
  /** Place it looks at, of the frame's width and height from the top left. */
  x = $state(0.5);
  y = $state(0.5);

  constructor(id: number, x: number, y: number) {
    this.id = id;
    this.move(x, y);
  }

  move(x: number, y: number): void {
    this.x = Math.max(0, Math.min(1, x));
    this.y = Math.max(0, Math.min(1, y));
  }
}

const MOST_LOUPES = 12;
/** Where loupes lie at first: near the four corners, and in the middle. */
const FIRST = [
  [0.06, 0.09],
  [0.94, 0.09],
  [0.5, 0.5],
  [0.06, 0.91],
  [0.94, 0.91]
] as const;
/** How much longer whiskers are drawn. */
export const FACTORS = [1, 2, 4, 8] as const;

/** What is shown on the map, and how. */
export class MapState {
  readonly view = new MapView();
  image = $state(true);
  whiskers = $state(true);
  /** Single stars have theirs too, however much is looked at. */
  single = $state(false);
  sizes = $state(true);
  loupesShown = $state(false);
  /** Loupes show both frames that are compared, side by side. */
  both = $state(true);
  /** What all stars have in common is taken away. */
  without = $state(false);
  factor = $state<(typeof FACTORS)[number]>(4);
  split = $state(0.5);
  #made = 0;
  /** Somebody has laid them where they lie. */
  #laid = false;
  loupes = $state.raw<readonly LoupeState[]>(this.#firstLoupes());

  #firstLoupes(): LoupeState[] {
    return FIRST.map(([x, y]) => new LoupeState(++this.#made, x, y));
  }

  /** Lays the first loupes on stars near where they belong, until somebody moves one. */
  findStars(stars: readonly { x: number; y: number; light: number }[]): void {
    if (this.#laid || stars.length === 0) return;
    for (const [at, loupe] of this.loupes.entries()) {
      const [x, y] = FIRST[at]!;
      // A bright star is worth going for, but not far.
      const cost = (star: (typeof stars)[number]): number =>
        Math.hypot(star.x - x, star.y - y) - 0.012 * Math.log(Math.max(1, star.light));
      const best = stars.reduce((a, b) => (cost(b) < cost(a) ? b : a));
      loupe.move(best.x, best.y);
    }
  }

  moveLoupe(loupe: LoupeState, x: number, y: number): void {
    this.#laid = true;
    loupe.move(x, y);
  }

  addLoupe(x: number, y: number): void {
    if (x < 0 || x > 1 || y < 0 || y > 1 || this.loupes.length >= MOST_LOUPES) return;
    this.#laid = true;
    this.loupes = [...this.loupes, new LoupeState(++this.#made, x, y)];
    this.loupesShown = true;
  }

  removeLoupe(loupe: LoupeState): void {
    this.#laid = true;
    this.loupes = this.loupes.filter((each) => each !== loupe);
    if (this.loupes.length > 0) return;
    // The next time they are wanted they lie where they lay at first.
    this.loupesShown = false;
    this.#laid = false;
    this.loupes = this.#firstLoupes();
  }

  moveSplit(to: number): void {
    this.split = Math.max(0, Math.min(1, to));
  }

  longer(by: 1 | -1): void {
    const at = FACTORS.indexOf(this.factor) + by;
    this.factor = FACTORS[Math.max(0, Math.min(FACTORS.length - 1, at))]!;
  }
}
