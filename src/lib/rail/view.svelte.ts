import type { Layout } from '@lodestone/core/shape';
import { scaleLinear } from 'd3-scale';
import type { DropPlace } from './reorder.svelte.ts';

/** Room left of the drawing at rest, px. */
const PADDING_PX = 22;

/** Room right of it: the words beside the last plane stand there. */
const RIGHT_PADDING_PX = 104;

const MAX_PX_PER_MM = 400;

const EXTENT_STEP_MM = 5;

/** The window onto the rail's axis, shared by the drawing and the staircase below it. */
export class RailView {
  widthPx = $state(960);
  /** Zoom relative to "everything fits". */
  zoom = $state(1);
  /** Shift of the drawing, px. */
  shiftPx = $state(0);
  trueProportions = $state(false);
  /** A part carried over the page toward a joint: where it would go in, once it is over the rail. */
  carried = $state.raw<DropPlace>();
  /** Which joint a place on the page is nearest to; set by the rail, undefined beside it. */
  placeAt: ((clientX: number, clientY: number) => DropPlace | undefined) | undefined;
  readonly #layout: () => Layout;

  constructor(layout: () => Layout) {
    this.#layout = layout;
  }

  /** What is shown at rest: a little more than the train, in whole steps, so that an edit does not rescale it. */
  readonly #fromMm = $derived.by(() => Math.floor(this.#layout().extent.fromMm / EXTENT_STEP_MM) * EXTENT_STEP_MM);
  readonly #toMm = $derived.by(() => Math.ceil(this.#layout().extent.toMm / EXTENT_STEP_MM) * EXTENT_STEP_MM);

  /** Scale that shows everything, px per mm. */
  readonly fitPxPerMm = $derived.by(() => {
    const [fromMm, toMm] = [this.#fromMm, this.#toMm];
    return (this.widthPx - PADDING_PX - RIGHT_PADDING_PX) / (toMm - fromMm);
  });

  readonly maxZoom = $derived(Math.max(1, MAX_PX_PER_MM / this.fitPxPerMm));

  readonly pxPerMm = $derived(this.fitPxPerMm * this.zoom);

  /** Position on the axis (mm from the datum's shoulder) to px. */
  readonly x = $derived.by(() => {
    const fromMm = this.#fromMm;
    const start = PADDING_PX * this.zoom + this.shiftPx;
    return scaleLinear()
      .domain([fromMm, fromMm + 1])
      .range([start, start + this.pxPerMm]);
  });

  /** Fewest px between two figures on the graduation. */
  static readonly #figurePx = 46;

  /** Graduations in view: every line, and which of them carries a figure. Steps are in the shown unit. */
  graduations(unitMm: number): { mm: number; figure: string | undefined; rank: 0 | 1 | 2 }[] {
    const step = niceStep(RailView.#figurePx / (this.pxPerMm * unitMm));
    const fine = step / 10;
    const from = Math.ceil(this.x.invert(0) / unitMm / fine);
    const to = Math.floor(this.x.invert(this.widthPx) / unitMm / fine);
    const digits = Math.max(0, -Math.floor(Math.log10(step)));
    const marks = [];
    for (let count = from; count <= to; count++) {
      const rank = count % 10 === 0 ? 2 : count % 5 === 0 ? 1 : 0;
      const figure = rank === 2 ? (count * fine + 0).toFixed(digits).replace('-', '−') : undefined;
      marks.push({ mm: count * fine * unitMm, figure, rank: rank as 0 | 1 | 2 });
    }
    return marks;
  }

  /** Fewest px of the train that stay in sight, however it is moved. */
  static readonly #inSightPx = 72;

  /** Takes up a place that a gesture asks for: some of the train always stays in sight. */
  moveTo(zoom: number, shiftPx: number): void {
    this.zoom = zoom;
    this.shiftPx = shiftPx;
    const [left, right] = [this.x(this.#fromMm), this.x(this.#toMm)];
    const least = RailView.#inSightPx;
    if (right < least) this.shiftPx += least - right;
    else if (left > this.widthPx - least) this.shiftPx -= left - (this.widthPx - least);
  }

  reset(): void {
    this.zoom = 1;
    this.shiftPx = 0;
  }

  /** Brings a place into view without changing the scale. */
  reveal(fromMm: number, toMm: number): void {
    const margin = 40;
    const left = this.x(fromMm);
    const right = this.x(toMm);
    if (left < margin) this.shiftPx += margin - left;
    else if (right > this.widthPx - margin) this.shiftPx -= right - this.widthPx + margin;
  }
}

/** The next of 1, 2, 5 × 10ⁿ at or above `least`. */
export function niceStep(least: number): number {
  const decade = 10 ** Math.floor(Math.log10(least));
  const step = [1, 2, 5, 10].find((each) => each * decade >= least - 1e-12);
  return (step ?? 10) * decade;
}
