import { plateFront, type Axis } from '../length/axis.ts';
import type { Ledger } from '../length/ledger.ts';
import { glassOf, nameOf, type Sensor, type Train } from '../train/model.ts';
import {
  DEPTHS,
  dustShadow,
  fieldOfView,
  fullDiameter,
  hostFRatio,
  hostPupil,
  pupilBehind,
  pupilsOver,
  scaleOf,
  type Beam,
  type HostPupil,
  type PupilFrom
} from './beam.ts';
import { COARSE_LINES, FINE_LINES, illumination, type Bar, type Hole, type Optics } from './illumination.ts';
import { USUAL_PRISM_MM, openingsOf, shiftBehind, stalksOf, type Opening, type OpeningOf } from './openings.ts';
import { reductionOf } from './reduction.ts';

/** Light that corners are to get where the owner has not said, share (common practice, no source). */
const USUAL_CORNER = 0.9;

/** Of a share that is asked for, so much short is still it: what is shown is a whole per cent. */
export const SAME_SHARE = 0.005;

/** An opening with what it does to the darkest corner, as `check --json` prints it. */
export interface ReportedOpening {
  at: string;
  what: OpeningOf;
  slot?: number;
  zMm: number;
  clearMm: number;
  neededMm: number;
  /** What comes back at the darkest corner if this one alone were wide open, share. */
  cornerLoss: number;
  from: Opening['from'];
}

/** The light of a train, as `check --json` prints it. */
export interface LightReport {
  magnification: { published: number; reckoned: number } | null;
  focalLengthMm: number;
  fRatio: number;
  exitPupilMm: number | null;
  exitPupilFrom: PupilFrom;
  /** Where an assumed pupil may be, mm; null at an end: telecentric. */
  exitPupilRangeMm: [number | null, number | null] | null;
  scaleArcsecPerPx: number;
  fieldDeg: [number, number];
  depthOfFocusMm: number;
  illumination: { centre: number; edge: number; corner: number };
  openings: ReportedOpening[];
  /** `farthestZMm` is null where even on the sensor the filter would take too much, as one off the axis does. */
  filter: { smallestClearMm: number; farthestZMm: number | null } | null;
}

/** Light in the darkest corner with one of several filters. */
export interface SlotLight {
  at: string;
  slot: number;
  name: string;
  clearMm: number;
  corner: number;
}

/** A surface that dust may lie on, and how wide its shadow is there. */
export interface DustSurface {
  at: string;
  words: string;
  zMm: number;
  shadowPx: number;
}

/** One thing that could be otherwise: the filter's format, how far it is from the sensor, or no corrector at all. */
export type Comparison =
  { by: 'format'; clearMm: number; shape: Hole['kind'] } | { by: 'distance'; byMm: number } | { by: 'corrector' };

/** A point of the sensor, mm from the axis. */
type FieldPoint = readonly [number, number];

const cornersOf = ({ widthMm, heightMm }: Sensor): FieldPoint[] => {
  const [x, y] = [widthMm / 2, heightMm / 2];
  return [
    [x, y],
    [-x, y],
    [-x, -y],
    [x, -y]
  ];
};

const edgesOf = ({ widthMm, heightMm }: Sensor): FieldPoint[] => [
  [widthMm / 2, 0],
  [-widthMm / 2, 0],
  [0, heightMm / 2],
  [0, -heightMm / 2]
];

/** Pupils that are tried for a range of them. */
const PUPILS = 7;

/** Steps of a search by halves: a range of metres to a hundredth of a micrometre. */
const HALVINGS = 40;

/** The beam of a train and what stands in it; each part reckoned when it is first asked for. */
export class Light {
  readonly sensor: Sensor;
  /** Of the corrector: as published, and as it comes out at the distance the train has. */
  readonly magnification: { published: number; reckoned: number } | null;
  readonly focalLengthMm: number;
  /** Behind the corrector. */
  readonly beam: Beam;
  readonly pupilFrom: PupilFrom;
  readonly hostPupil: HostPupil;
  /** Air-equivalent distance from the corrector's shoulder to the sensor, mm. */
  readonly distanceMm: number;
  /** Focus shift of the glass in between, mm. */
  readonly glassMm: number;
  /** Focal length of the corrector as a thin lens, mm; undefined of a flattener, or where none is published. */
  readonly lensMm: number | undefined;
  /** Ahead of the corrector: the beam of the host alone, and where its focus would be. */
  readonly ahead: { beam: Beam; focusMm: number; fieldScale: number };
  /** Share of the light that the owner wants in the corners. */
  readonly wanted: number;
  readonly #train: Train;
  readonly #ledger: Ledger;
  readonly #axis: Axis;
  #openings: Opening[] | undefined;
  #optics: Optics | undefined;
  #report: LightReport | undefined;
  #corner: number | undefined;
  #slots: SlotLight[] | undefined;
  #listed: ReportedOpening[] | undefined;
  #filterAnswer: LightReport['filter'] | undefined;
  #range: readonly Light[] | undefined;

  /**
   * @param sensor of the train's camera
   * @param hostPupilMm exit pupil of the host, where another than its own is looked at, mm ahead of its focus
   */
  constructor(train: Train, ledger: Ledger, axis: Axis, sensor: Sensor, hostPupilMm?: number) {
    this.#train = train;
    this.#ledger = ledger;
    this.#axis = axis;
    this.sensor = sensor;
    this.wanted = train.cornerLightPercent === undefined ? USUAL_CORNER : train.cornerLightPercent / 100;
    const { host } = train;
    const { glassMm, distanceMm, lensMm, published, reckoned } = reductionOf(ledger);
    [this.glassMm, this.distanceMm, this.lensMm] = [glassMm, distanceMm, lensMm];
    this.magnification = published === undefined ? null : { published, reckoned };
    this.focalLengthMm = host.focalLengthMm * reckoned;
    const pupil = hostPupilMm === undefined ? hostPupil(host) : ({ mm: hostPupilMm, from: 'assumed' } as const);
    const own: Beam = { fRatio: hostFRatio(host), pupilMm: pupil.mm };
    // Without a lens whose power is known the pupil is seen through none.
    const pupilMm =
      lensMm === undefined || pupil.from === 'telecentric' ? pupil.mm : pupilBehind(pupil.mm, this.distanceMm, lensMm);
    this.pupilFrom = pupil.from;
    this.hostPupil = pupil;
    this.beam = { fRatio: own.fRatio * reckoned, pupilMm };
    // The focus of the host alone lies d/m behind the lens, and its image is 1/m as large.
    this.ahead = { beam: own, focusMm: this.distanceMm / reckoned, fieldScale: 1 / reckoned };
  }

  /** The same train with every pupil its own may be, nearest first: what rests on an assumption is true of all of them. */
  get overRange(): readonly Light[] {
    const { rangeMm } = this.hostPupil;
    return (this.#range ??= rangeMm
      ? pupilsOver(rangeMm, PUPILS).map((mm) => new Light(this.#train, this.#ledger, this.#axis, this.sensor, mm))
      : [this]);
  }

  /** Least and most light that the darkest corner gets, over all pupils the host's may be. */
  get cornerRange(): readonly [number, number] {
    const corners = this.overRange.map(({ corner }) => corner);
    return [Math.min(...corners), Math.max(...corners)];
  }

  /** Light in the darkest corner as the best of those pupils gives it: what is dark with it is dark for sure. */
  get brightest(): number {
    return Math.max(this.corner, this.cornerRange[1]);
  }

  get openings(): readonly Opening[] {
    return (this.#openings ??= openingsOf(this.#train, this.#ledger, this.#axis));
  }

  /** Air-equivalent distance of a place on the axis before the focus of the beam it stands in, mm. */
  zOf(alongMm: number, isAhead: boolean): number {
    if (isAhead) return this.ahead.focusMm - alongMm;
    const shift = shiftBehind(this.#train, this.#ledger, this.#axis, alongMm);
    return Math.max(0, this.#axis.sensorMm - alongMm - shift);
  }

  /** An edge of an opening as light meets it. */
  #holeAt({ isAhead, clearMm, shape, decentreMm }: Opening, alongMm: number): Hole {
    const { beam, fieldScale } = isAhead ? this.ahead : { beam: this.beam, fieldScale: 1 };
    return { beam, fieldScale, zMm: this.zOf(alongMm, isAhead), kind: shape, clearMm, atMm: decentreMm };
  }

  /** An opening as light meets it, at its edge farthest from the sensor. */
  holeOf = (opening: Opening): Hole => this.#holeAt(opening, opening.alongMm);

  /** Some parts do not say how wide they are: the light may be less than what is reckoned. */
  get isPartlyKnown(): boolean {
    return this.openings.some(({ from }) => from === 'guess');
  }

  /** Both edges of an opening; what is only guessed takes no light. */
  holesOf(opening: Opening): Hole[] {
    const { alongMm, toMm, from } = opening;
    if (from === 'guess') return [];
    const far = this.holeOf(opening);
    return toMm === alongMm ? [far] : [far, this.#holeAt(opening, toMm)];
  }

  /** Everything that takes light. */
  get optics(): Optics {
    return (this.#optics ??= this.#opticsWith((opening) => this.holesOf(opening)));
  }

  #opticsWith(holesOf: (opening: Opening) => readonly Hole[]): Optics {
    return {
      holes: this.openings.flatMap((opening) => holesOf(opening)),
      bars: this.bars,
      obstruction: this.obstruction
    };
  }

  /** Diameter of what hides the middle of the pupil, over that of the pupil. */
  get obstruction(): number {
    return this.#train.host.obstruction ?? 0;
  }

  /** Guide prisms behind the corrector, as far as it is stated how deep they reach. */
  get bars(): Bar[] {
    return stalksOf(this.#train, this.#axis).flatMap(({ pickoff, alongMm }): Bar[] => {
      const { innerEdgeMm, sideMm, atDeg } = pickoff;
      if (innerEdgeMm === undefined || alongMm < 0) return [];
      return [
        {
          beam: this.beam,
          fieldScale: 1,
          zMm: this.zOf(alongMm, false),
          innerEdgeMm,
          widthMm: sideMm ?? USUAL_PRISM_MM,
          fromDeg: atDeg ?? this.overLongSide
        }
      ];
    });
  }

  /** Where a stalk stands that is not said to stand elsewhere: over the long side of the sensor, degrees. */
  get overLongSide(): number {
    return this.sensor.widthMm >= this.sensor.heightMm ? 90 : 0;
  }

  /** A point of the sensor at a height along its diagonal toward the upper right, mm. */
  atHeight(heightMm: number): FieldPoint {
    const { widthMm, heightMm: tallMm } = this.sensor;
    const diagonal = Math.hypot(widthMm, tallMm);
    return [(heightMm * widthMm) / diagonal, (heightMm * tallMm) / diagonal];
  }

  /** Share of the light that one opening by itself keeps from a point of the sensor. */
  takenBy(opening: Opening, field: FieldPoint): number {
    const holes = this.holesOf(opening);
    return 1 - illumination(field, { holes, bars: [], obstruction: this.obstruction }, COARSE_LINES);
  }

  /** The darkest corner, and how much light it gets. */
  darkestCorner(optics = this.optics, lines = FINE_LINES): { at: FieldPoint; share: number } {
    return this.#darkest(cornersOf(this.sensor), optics, lines);
  }

  #darkest(points: readonly FieldPoint[], optics: Optics, lines = FINE_LINES): { at: FieldPoint; share: number } {
    // Of round openings on the axis every corner sees the same.
    const isEven = optics.bars.length === 0 && optics.holes.every(({ atMm: [x, y] }) => x === 0 && y === 0);
    const asked = isEven && points.length === 4 && sameHeight(points) ? points.slice(0, 1) : points;
    return asked
      .map((at) => ({ at, share: illumination(at, optics, lines) }))
      .reduce((darkest, each) => (each.share < darkest.share ? each : darkest));
  }

  get halfDiagonalMm(): number {
    return Math.hypot(this.sensor.widthMm, this.sensor.heightMm) / 2;
  }

  /** Diameter an opening needs so that no corner loses anything to it, mm. */
  neededFor(opening: Opening): number {
    const { beam, fieldScale, zMm } = this.holeOf(opening);
    return fullDiameter(beam, this.halfDiagonalMm * fieldScale, zMm);
  }

  /** Light in the darkest corner with one opening made another, or, without holes, wide open. */
  #cornerWith(changed: Opening, holes: readonly Hole[], lines: number): number {
    const optics = this.#opticsWith((each) => (each === changed ? holes : this.holesOf(each)));
    return this.#darkest(cornersOf(this.sensor), optics, lines).share;
  }

  /** What would pass if the train were another in one thing; undefined where it has no such thing. */
  compared(change: Comparison): Optics | undefined {
    if (change.by === 'corrector') return this.#withoutCorrector();
    const filter = this.#filter;
    if (!filter) return undefined;
    const holes = this.holesOf(filter);
    const other = (hole: Hole): Hole =>
      change.by === 'format'
        ? { ...hole, clearMm: change.clearMm, kind: change.shape }
        : { ...hole, zMm: Math.max(0, hole.zMm + change.byMm) };
    return this.#opticsWith((each) => (each === filter ? holes.map(other) : this.holesOf(each)));
  }

  /** The same openings in the beam of the host alone, focused again on the sensor where it stands. */
  #withoutCorrector(): Optics | undefined {
    if (!this.magnification) return undefined;
    const { beam } = this.ahead;
    const alone = (hole: Hole, alongMm: number): Hole => ({
      ...hole,
      beam,
      fieldScale: 1,
      zMm: Math.max(0, this.#axis.sensorMm - alongMm)
    });
    return {
      ...this.#opticsWith((each) => {
        const [far, near] = this.holesOf(each);
        return [...(far ? [alone(far, each.alongMm)] : []), ...(near ? [alone(near, each.toMm)] : [])];
      }),
      bars: this.bars.map((bar) => ({ ...bar, beam }))
    };
  }

  /** Light in the darkest corner with each filter that may be turned into the beam. */
  get slots(): SlotLight[] {
    return (this.#slots ??= this.#train.elements.flatMap((element): SlotLight[] =>
      (glassOf(element) ?? []).flatMap(({ slot, name, thicknessMm, clearMm }): SlotLight[] => {
        if (slot === undefined || thicknessMm === 0 || clearMm === undefined) return [];
        const designSlots = new Map(this.#ledger.designSlots).set(element.id, slot);
        const { datum, joints } = this.#ledger;
        const openings = openingsOf(this.#train, { datum, joints, designSlots }, this.#axis);
        const holes = openings.flatMap((opening) => this.holesOf(opening));
        const corner = this.#darkest(cornersOf(this.sensor), { ...this.optics, holes }).share;
        return [{ at: element.id, slot, name: name ?? `slot ${slot}`, clearMm, corner }];
      })
    ));
  }

  /** Every surface that dust may lie on, nearest the sensor first: the glass behind the corrector, and its own last face. */
  get surfaces(): DustSurface[] {
    const surface = (at: string, words: string, alongMm: number): DustSurface => {
      const zMm = this.zOf(alongMm, false);
      return { at, words, zMm, shadowPx: dustShadow(zMm, this.sensor.pixelUm, this.beam.fRatio) };
    };
    const { datum, designSlots } = this.#ledger;
    const found = this.#train.elements.flatMap((element, index): DustSurface[] => {
      const { fromMm, toMm } = this.#axis.bodies[index]!;
      const plates = (glassOf(element) ?? []).filter(
        ({ slot, thicknessMm }) => thicknessMm > 0 && (slot === undefined || slot === designSlots.get(element.id))
      );
      return plates.flatMap((plate): DustSurface[] => {
        const front = fromMm + plateFront(element.kind, toMm - fromMm, plate);
        if (front < -1e-9) return [];
        const words = `${plate.name ?? 'glass'} in ${element.name}`;
        return [
          surface(element.id, `${words}, sky side`, front),
          surface(element.id, `${words}, camera side`, front + plate.thicknessMm)
        ];
      });
    });
    if (datum.index >= 0) found.push(surface(datum.id, `last surface of ${nameOf(this.#train, datum.id)}`, 0));
    return found.sort((a, b) => a.zMm - b.zMm);
  }

  get report(): LightReport {
    return (this.#report ??= this.#reported());
  }

  /** Where the pupil may be that is assumed, ahead of the sensor, mm; null where it is not assumed. */
  get pupilRangeMm(): [number | null, number | null] | null {
    if (!this.hostPupil.rangeMm) return null;
    const finite = (light: Light): number | null => (Number.isFinite(light.beam.pupilMm) ? light.beam.pupilMm : null);
    return [finite(this.overRange[0]!), finite(this.overRange.at(-1)!)];
  }

  #reported(): LightReport {
    const { sensor, beam, focalLengthMm } = this;
    const isReckoned = Number.isFinite(beam.pupilMm);
    return {
      magnification: this.magnification,
      focalLengthMm,
      fRatio: beam.fRatio,
      exitPupilMm: isReckoned ? beam.pupilMm : null,
      exitPupilFrom: isReckoned || this.pupilFrom === 'assumed' ? this.pupilFrom : 'telecentric',
      exitPupilRangeMm: this.pupilRangeMm,
      scaleArcsecPerPx: scaleOf(sensor.pixelUm, focalLengthMm),
      fieldDeg: [fieldOfView(sensor.widthMm, focalLengthMm), fieldOfView(sensor.heightMm, focalLengthMm)],
      depthOfFocusMm: DEPTHS.quarterWave(beam.fRatio),
      illumination: {
        centre: illumination([0, 0], this.optics),
        edge: this.#darkest(edgesOf(sensor), this.optics).share,
        corner: this.corner
      },
      openings: this.reportedOpenings,
      filter: this.filter
    };
  }

  /** Share of the light in the darkest corner. */
  get corner(): number {
    return (this.#corner ??= this.darkestCorner().share);
  }

  /** Light in the darkest corner with one opening moved onto the axis. */
  cornerCentred(opening: Opening): number {
    const centred = this.holesOf({ ...opening, decentreMm: [0, 0] });
    return this.#cornerWith(opening, centred, FINE_LINES);
  }

  /** Every opening with what it does to the darkest corner, worst first. */
  get reportedOpenings(): ReportedOpening[] {
    return (this.#listed ??= this.#listedOpenings());
  }

  #listedOpenings(): ReportedOpening[] {
    const { sensor, beam, corner } = this;
    const listed: ReportedOpening[] = [];
    for (const opening of this.openings) {
      const { at, what, slot, clearMm, from } = opening;
      const neededMm = this.neededFor(opening);
      const takes = from !== 'guess' && clearMm < neededMm + offAxis(opening) && corner < 1;
      listed.push({
        at,
        what,
        ...(slot === undefined ? {} : { slot }),
        zMm: this.holeOf(opening).zMm,
        clearMm,
        neededMm,
        cornerLoss: takes ? Math.max(0, this.#cornerWith(opening, [], FINE_LINES) - corner) : 0,
        from
      });
    }
    for (const bar of stalksOf(this.#train, this.#axis)) {
      const { innerEdgeMm, sideMm } = bar.pickoff;
      if (innerEdgeMm === undefined || bar.alongMm < 0) continue;
      const zMm = this.zOf(bar.alongMm, false);
      const without = corner < 1 ? this.#darkest(cornersOf(sensor), { ...this.optics, bars: [] }).share : 1;
      listed.push({
        at: bar.at,
        what: 'prism',
        zMm,
        clearMm: 2 * innerEdgeMm,
        neededMm: fullDiameter(beam, Math.min(sensor.widthMm, sensor.heightMm) / 2, zMm),
        cornerLoss: Math.max(0, without - corner),
        from: sideMm === undefined ? 'guess' : 'stated'
      });
    }
    return listed.sort((a, b) => b.cornerLoss - a.cornerLoss || b.neededMm - b.clearMm - (a.neededMm - a.clearMm));
  }

  /** The filter in the beam that lacks most of what it needs: its place and size, as it stands. */
  get worstFilter(): { at: string; zMm: number; clearMm: number; shape: Hole['kind'] } | undefined {
    const opening = this.#filter;
    if (!opening) return undefined;
    const { at, clearMm, shape } = opening;
    return { at, zMm: this.holeOf(opening).zMm, clearMm, shape };
  }

  /** How far that filter could stand from the sensor, and does; undefined where there is none. */
  get farthestFilter(): { at: string; zMm: number; farthestZMm: number } | undefined {
    const [opening, farthestZMm] = [this.#filter, this.filter?.farthestZMm];
    if (!opening || farthestZMm === undefined || farthestZMm === null) return undefined;
    return { at: opening.at, zMm: this.holeOf(opening).zMm, farthestZMm };
  }

  /** The filter in the beam: the one that lacks most of what it needs. */
  get #filter(): Opening | undefined {
    const lacks = (opening: Opening): number => this.neededFor(opening) + offAxis(opening) - opening.clearMm;
    return this.openings
      .filter(({ what, isAhead }) => what === 'filter' && !isAhead)
      .sort((a, b) => lacks(b) - lacks(a))[0];
  }

  /**
   * The smallest filter at its place, and the farthest place for it, that leave the corners the light the owner wants,
   * everything else as it is. Null where no filter of a stated size stands behind the corrector, or where the rest of
   * the train takes too much already.
   */
  get filter(): LightReport['filter'] {
    if (this.#filterAnswer === undefined) this.#filterAnswer = this.#searchedFilter();
    return this.#filterAnswer;
  }

  #searchedFilter(): LightReport['filter'] {
    const opening = this.#filter;
    if (!opening) return null;
    const holes = this.holesOf(opening);
    const far = this.holeOf(opening);
    /** Whether the corners get enough with the filter so wide, or so much farther from the sensor. */
    const isEnough = (changed: readonly Hole[]): boolean =>
      this.#cornerWith(opening, changed, COARSE_LINES) >= this.wanted;
    if (!isEnough([])) return null;
    const smallestClearMm = halved(0, this.neededFor(opening) + offAxis(opening), (clearMm) =>
      isEnough(holes.map((hole) => ({ ...hole, clearMm })))
    );
    // As far as the corrector: beyond it the beam is another.
    const mostMm = Math.max(this.distanceMm, far.zMm);
    const nearer = (byMm: number): boolean =>
      isEnough(holes.map((hole) => ({ ...hole, zMm: Math.max(0, hole.zMm - far.zMm + mostMm - byMm) })));
    return { smallestClearMm, farthestZMm: nearer(mostMm) ? mostMm - halved(0, mostMm, nearer) : null };
  }
}

const sameHeight = (points: readonly FieldPoint[]): boolean => {
  const first = Math.hypot(...points[0]!);
  return points.every((point) => Math.abs(Math.hypot(...point) - first) < 1e-12);
};

/** How much wider an opening has to be for standing off the axis, mm. */
const offAxis = ({ decentreMm: [x, y] }: Opening): number => 2 * Math.hypot(x, y);

/** The least number between two, the greater of which will do, that does; what does goes on doing. */
function halved(least: number, most: number, does: (value: number) => boolean): number {
  let [low, high] = [least, most];
  for (let step = 0; step < HALVINGS && high - low > 1e-6; step++) {
    const middle = (low + high) / 2;
    if (does(middle)) high = middle;
    else low = middle;
  }
  return high;
}

/** The light of a train; undefined where its sensor is not described, and nothing can be said. */
export function lightOf(train: Train, ledger: Ledger, axis: Axis): Light | undefined {
  const camera = train.elements.at(-1);
  const sensor = camera?.kind === 'camera' ? camera.sensor : undefined;
  return sensor && new Light(train, ledger, axis, sensor);
}
