import {
  angleAlong,
  boxOf,
  galacticLatitude,
  halfTurn,
  mosaicOf,
  panelsFor,
  starsIn,
  targetTime,
  turnBetween,
  type Along,
  type Field,
  type Mosaic,
  type TargetTime
} from '@lodestone/core/sky';
import { clashesOf, type GuideClash } from '@lodestone/core/guide';
import type { Framing } from '@lodestone/core/train';
import { RAD } from '@lodestone/core/stats';
import type { TrainSession } from '$lib/train/session.svelte.ts';
import { loadSky, type Sky, type SkyObject } from './sky.ts';

/** What holds where the owner has not said. */
export const USUAL = { overlapPercent: 10, panelMinutes: 15, guideMagnitude: 12 } as const;

/** What is framed, and how the camera has to be turned for it: kept in the document, reckoned here. */
export class FramingView {
  sky = $state.raw<Sky>();
  /** The catalogue could not be fetched. */
  failed = $state(false);
  readonly #train: TrainSession;

  constructor(train: TrainSession) {
    this.#train = train;
  }

  /** Fetches the catalogue; in the browser only. */
  async open(): Promise<void> {
    this.failed = false;
    try {
      this.sky = await loadSky();
    } catch {
      this.failed = true;
    }
  }

  readonly kept: Framing = $derived.by(() => this.#train.shown.framing ?? {});
  readonly #facts = $derived.by(() => this.#train.assessment.facts);

  readonly object: SkyObject | undefined = $derived(this.sky?.objects.find(({ id }) => id === this.kept.object));

  /** Position angle of the object's long axis: stated, else the catalogue's; undefined where nobody knows it. */
  readonly objectDeg = $derived(this.kept.objectDeg ?? this.object?.positionDeg);

  /** The object is round, or as good as: its angle does not matter. */
  readonly isRound = $derived(this.object !== undefined && this.object.minorArcmin >= 0.95 * this.object.majorArcmin);

  /** Field of the sensor, degrees. */
  readonly field: Field | undefined = $derived(this.#facts.light?.report.fieldDeg);

  /** Millimetres on the sensor for a degree near the axis. */
  readonly mmPerDeg = $derived((this.#facts.light?.focalLengthMm ?? 0) * RAD);

  /** Position angle the top of the sensor is to have. */
  readonly topDeg = $derived(this.kept.topDeg ?? this.kept.standsDeg ?? 0);

  /** Turn from where the camera stands, anticlockwise seen from it; undefined where that is not known. */
  readonly turnDeg = $derived(
    this.kept.standsDeg === undefined ? undefined : turnBetween(this.kept.standsDeg, this.topDeg)
  );

  /** How long all panels take: by filters, where exposures were planned, else by the minutes of a panel. */
  readonly time: TargetTime = $derived.by(() => {
    const { columns = 1, rows = 1, panelMinutes = USUAL.panelMinutes, exposures = [], panelTimes } = this.kept;
    const planned = exposures.length > 0 ? exposures : [{ filter: 'any', count: 1, seconds: 60 * panelMinutes }];
    return targetTime(planned, columns * rows, panelTimes);
  });

  readonly mosaic: Mosaic | undefined = $derived.by(() => {
    const { columns = 1, rows = 1, overlapPercent } = this.kept;
    if (!this.field) return undefined;
    const overlap = (overlapPercent ?? USUAL.overlapPercent) / 100;
    return mosaicOf(this.field, columns, rows, overlap, this.time.panelMinutes);
  });

  /** Whether the object lies inside what is photographed. */
  readonly fits = $derived.by(() => {
    if (!this.object || !this.mosaic) return undefined;
    const box = this.#box();
    return box[0] <= this.mosaic.coversDeg[0] + 1e-9 && box[1] <= this.mosaic.coversDeg[1] + 1e-9;
  });

  /** Whether it does when it is as small as it gets, where its size changes. */
  readonly fitsSmallest = $derived.by(() => {
    const least = this.object?.leastArcmin;
    if (least === undefined || !this.mosaic) return this.fits;
    return this.mosaic.coversDeg.every((deg) => least / 60 <= deg + 1e-9);
  });

  #box(): Field {
    const { majorArcmin = 0, minorArcmin = 0 } = this.object ?? {};
    return boxOf(majorArcmin / 60, minorArcmin / 60, this.objectDeg ?? 0, this.topDeg);
  }

  /** Stars to expect in the guide field; undefined where field or place on the sky are not known. */
  readonly guideStars = $derived.by(() => {
    const guide = this.#facts.guide;
    const { object } = this;
    const field = guide?.field?.fieldDeg;
    if (!object || !field || !Number.isFinite(object.raDeg)) return undefined;
    const magnitude = this.kept.guideMagnitude ?? USUAL.guideMagnitude;
    const latitudeDeg = galacticLatitude(object);
    return { ...starsIn(field, magnitude, latitudeDeg), magnitude, latitudeDeg };
  });

  /** What is missing for the stars in the guide field. */
  readonly starsMissing = $derived.by(() => {
    const guide = this.#facts.guide;
    if (!this.object) return 'Pick an object to see how many guide stars to expect.';
    if (!Number.isFinite(this.object.raDeg)) {
      return `Guide stars near the ${this.object.id} are not known: its place changes.`;
    }
    if (guide?.stalk.pickoff.guideCamera?.sensor === undefined) return 'State the sensor of the guide camera.';
    return 'State the sensor of the main camera.';
  });

  /** What the guide camera would run into after the turn. */
  readonly clashes: readonly GuideClash[] = $derived.by(() => {
    const guide = this.#facts.guide;
    return guide ? clashesOf(this.#train.shown, guide, this.turnDeg ?? 0) : [];
  });

  /** How far the picture reaches from the axis, mm. */
  readonly reachMm = $derived.by(() => {
    const [width, height] = this.mosaic?.coversDeg ?? [0, 0];
    const object = (this.object?.majorArcmin ?? 0) / 60 / 2;
    // What is far larger than the field runs out of the picture.
    const shown = Math.min(object, 2.5 * Math.hypot(...(this.field ?? [0, 0])));
    return Math.max(Math.hypot(width, height) / 2, shown) * this.mmPerDeg + 2;
  });

  #set(
    changes: Partial<Record<keyof Framing, string | number | readonly number[] | undefined>>,
    label: string
  ): string | undefined {
    const now: Record<string, unknown> = { ...this.kept, ...changes };
    const to = Object.fromEntries(Object.entries(now).filter(([, each]) => each !== undefined));
    return this.#train.dispatch(
      { op: 'set', at: 'train', path: ['framing'], to: Object.keys(to).length === 0 ? undefined : to },
      label,
      `framing-${Object.keys(changes).join('-')}`
    );
  }

  choose = (object: SkyObject | undefined): string | undefined =>
    this.#set({ object: object?.id, objectDeg: undefined }, object ? `Frame ${object.id}` : 'Frame nothing');

  set = (
    key: Exclude<keyof Framing, 'object' | 'exposures' | 'panelTimes'>,
    to: number | undefined
  ): string | undefined => this.#set({ [key]: to }, 'Change the framing');

  setPanelTimes = (times: readonly number[] | undefined): string | undefined =>
    this.#set({ panelTimes: times }, 'Change the times of the panels');

  /** Turns the sensor so that its long side or a diagonal lies along the object. */
  lay(along: Along): string | undefined {
    if (this.objectDeg === undefined || !this.field) return undefined;
    const topDeg = angleAlong(along, this.objectDeg, this.field, this.kept.standsDeg ?? 0);
    return this.#set({ topDeg: Number(topDeg.toFixed(2)) }, `Lay the ${along} along the object`);
  }

  turnBy = (deg: number): string | undefined =>
    this.#set({ topDeg: Number(halfTurn(this.topDeg + deg).toFixed(2)) }, 'Turn the sensor');

  /** As many panels as the object needs. */
  cover(): string | undefined {
    if (!this.object || !this.field) return undefined;
    const overlap = (this.kept.overlapPercent ?? USUAL.overlapPercent) / 100;
    const [columns, rows] = panelsFor(this.#box(), this.field, overlap);
    return this.#set({ columns, rows }, `Cover ${this.object.id}`);
  }

  /** The camera was turned as it was to be. */
  arrived = (): string | undefined =>
    this.#set({ standsDeg: Number(this.topDeg.toFixed(2)) }, 'The camera is at that angle');
}
