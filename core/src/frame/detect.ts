import type { Halved } from './background.ts';

/** A place where a star may be. */
export interface Candidate {
  /** Brightest pixel of the halved, smoothed frame. */
  x: number;
  y: number;
  /** Its height over the noise there. */
  peakSigma: number;
  /** Pixels of the halved frame that belong to it. */
  area: number;
}

/** Over the noise of the smoothed frame: what a star's skirt must reach, and its peak. */
const SKIRT = 2.8;
const PEAK = 5.5;
/** Two peaks are two stars where the saddle between them lies so far below the lower one. */
const SADDLE_SHARE = 0.2;
const SADDLE_SIGMA = 3;
/** Anything with more pixels is no star. */
const LARGEST_AREA = 60_000;

/** The frame seen through a filter that matches a star: 1 2 1 over 1 2 1, its edges continued. */
function smooth({ width, height, pixels }: Halved): Float32Array {
  const out = new Float32Array(width * height);
  const sums = [0, 0, 0].map(() => new Float32Array(width)) as [Float32Array, Float32Array, Float32Array];
  const across = (y: number): void => {
    const row = Math.max(0, Math.min(height - 1, y)) * width;
    const sum = sums[(y + 3) % 3]!;
    sum[0] = 3 * pixels[row]! + (pixels[row + 1] ?? pixels[row]!);
    for (let x = 1; x < width - 1; x++) sum[x] = pixels[row + x - 1]! + 2 * pixels[row + x]! + pixels[row + x + 1]!;
    if (width > 1) sum[width - 1] = pixels[row + width - 2]! + 3 * pixels[row + width - 1]!;
  };
  across(-1);
  across(0);
  for (let y = 0; y < height; y++) {
    across(y + 1);
    const [above, here, below] = [sums[(y + 2) % 3]!, sums[y % 3]!, sums[(y + 1) % 3]!];
    for (let x = 0, at = y * width; x < width; x++, at++) out[at] = (above[x]! + 2 * here[x]! + below[x]!) * 0.0625;
  }
  return out;
}

/** Scatter of a frame, from a sample: σ of what lies below its median, which stars do not reach. */
export function scatterBelow(values: Float32Array): number {
  const stride = Math.max(1, Math.floor(values.length / 20_000));
  const sample = Float32Array.from(
    { length: Math.floor(values.length / stride) },
    (_, at) => values[at * stride]!
  ).sort();
  const middle = sample[sample.length >> 1] ?? 0;
  return middle - (sample[Math.floor(sample.length * 0.1587)] ?? 0);
}

/** Pixels that hang together, as a list that grows. */
class Island {
  pixels = new Int32Array(4096);
  count = 0;

  /** All pixels above the skirt that touch the first one, each marked as waiting. */
  fill(start: number, light: Float32Array, owner: Int32Array, width: number, skirt: number): void {
    this.count = 0;
    this.#take(start, owner);
    for (let next = 0; next < this.count; next++) {
      const at = this.pixels[next]!;
      const x = at % width;
      const [x0, x1] = [x > 0 ? -1 : 0, x < width - 1 ? 1 : 0];
      for (let line = at - width; line <= at + width; line += width) {
        if (line < 0 || line >= light.length) continue;
        for (let near = line + x0; near <= line + x1; near++) {
          if (light[near]! >= skirt && owner[near] === 0) this.#take(near, owner);
        }
      }
    }
  }

  #take(at: number, owner: Int32Array): void {
    owner[at] = WAITING;
    if (this.count === this.pixels.length) {
      const wider = new Int32Array(2 * this.count);
      wider.set(this.pixels);
      this.pixels = wider;
    }
    this.pixels[this.count++] = at;
  }
}

const WAITING = -1;

/** Peaks by number; the first is none. A peak that turned out to be a part of a brighter one points to it. */
class Peaks {
  readonly #partOf: number[] = [0];
  readonly #heights: number[] = [0];
  readonly #areas: number[] = [0];
  readonly #pixels: number[] = [0];
  readonly #leastSaddle: number;

  constructor(sigma: number) {
    this.#leastSaddle = SADDLE_SIGMA * sigma;
  }

  get count(): number {
    return this.#heights.length;
  }

  #root(number: number): number {
    let at = number;
    while (this.#partOf[at] !== at) at = this.#partOf[at]!;
    return at;
  }

  /** The higher of two that meet at a saddle; the lower one becomes a part of it where nothing parts them. */
  #meet(one: number, two: number, saddle: number): number {
    const [higher, lower] = this.#heights[one]! >= this.#heights[two]! ? [one, two] : [two, one];
    const top = this.#heights[lower]!;
    if (top - saddle < Math.max(this.#leastSaddle, SADDLE_SHARE * top)) {
      this.#partOf[lower] = higher;
      this.#areas[higher]! += this.#areas[lower]!;
    }
    return higher;
  }

  /** Pixels of an island from the brightest down: each joins the peak it touches, or begins a new one. */
  part(pixels: Int32Array, light: Float32Array, owner: Int32Array, width: number): void {
    const first = this.count;
    for (let index = 0; index < pixels.length; index++) {
      const at = pixels[index]!;
      const x = at % width;
      const [x0, x1] = [x > 0 ? -1 : 0, x < width - 1 ? 1 : 0];
      let mine = 0;
      for (let line = at - width; line <= at + width; line += width) {
        if (line < 0 || line >= light.length) continue;
        for (let near = line + x0; near <= line + x1; near++) {
          const other = owner[near]!;
          if (other < first) continue;
          const theirs = this.#root(other);
          if (mine === 0 || mine === theirs) mine = theirs;
          else mine = this.#meet(mine, theirs, light[at]!);
        }
      }
      if (mine === 0) {
        mine = this.count;
        this.#partOf.push(mine);
        this.#heights.push(light[at]!);
        this.#areas.push(0);
        this.#pixels.push(at);
      }
      owner[at] = mine;
      this.#areas[mine]!++;
    }
  }

  /** Those that are no part of another one. */
  candidates(width: number, sigma: number): Candidate[] {
    const found: Candidate[] = [];
    for (let number = 1; number < this.count; number++) {
      const peakSigma = this.#heights[number]! / sigma;
      if (this.#partOf[number] !== number || peakSigma < PEAK) continue;
      const at = this.#pixels[number]!;
      found.push({ x: at % width, y: Math.floor(at / width), peakSigma, area: this.#areas[number]! });
    }
    return found;
  }
}

/** The first pixel from here on that is so bright; beyond the last where there is none. */
function nextPeak(light: Float32Array, from: number, peak: number): number {
  let at = from;
  while (at < light.length && light[at]! < peak) at++;
  return at;
}

/**
 * Finds what stands out of the noise. Pixels that hang together are one thing; it is more than one star where its
 * peaks are parted by a saddle.
 *
 * @param halved flattened
 */
export function findCandidates(halved: Halved): Candidate[] {
  const { width, height } = halved;
  const light = smooth(halved);
  // White noise has 0.375 of itself left after the filter; noise that hangs together has more.
  const sigma = Math.max(scatterBelow(light), 0.05);
  const [skirt, peak] = [SKIRT * sigma, PEAK * sigma];
  /** Number of the peak a pixel belongs to. */
  const owner = new Int32Array(width * height);
  const island = new Island();
  const peaks = new Peaks(sigma);
  for (let start = nextPeak(light, 0, peak); start < light.length; start = nextPeak(light, start + 1, peak)) {
    if (owner[start] !== 0) continue;
    island.fill(start, light, owner, width, skirt);
    if (island.count > LARGEST_AREA) continue;
    const pixels = island.pixels.subarray(0, island.count).sort((a, b) => light[b]! - light[a]!);
    peaks.part(pixels, light, owner, width);
  }
  return peaks.candidates(width, sigma);
}
