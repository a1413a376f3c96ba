import { fullTurn } from '../joint/clocking.ts';
import { degrees, radians } from '../stats/angles.ts';
import { DEFAULT_INDEX, glassShift, plateShift } from '../length/glass.ts';
import type { Axis } from '../length/axis.ts';
import type { Ledger } from '../length/ledger.ts';
import { fieldOfView, fullDiameter, leaning, scaleOf } from '../light/beam.ts';
import { illumination, type Optics } from '../light/illumination.ts';
import type { Light } from '../light/light.ts';
import { USUAL_PRISM_MM, shiftBehind, stalksOf, type Stalk } from '../light/openings.ts';
import type { Train } from '../train/model.ts';

export type GuideVerdict = 'reaches' | 'short' | 'long' | 'unknown';

/** What of a pick-off has to be stated before the guide camera's place is known. */
export type GuideMissing = 'innerEdgeMm' | 'guideCamera' | 'guideFocus';

/** The guide camera's light and place, as `check --json` prints it. Lengths in mm. */
export interface GuideReport {
  /** Reflecting point to guide sensor, for the same focus as the main camera's. */
  requiredMm: number;
  /** Where the shoulder the guide camera seats on must stand, from the axis; null where not all of it is known. */
  atMm: number | null;
  rangeMm: [number, number] | null;
  verdict: GuideVerdict;
  /** Tube that must be added (+) or taken off (−) beyond the range. */
  missMm: number;
  /** Light the prism takes, share, at the middle of the side it stands over and at the nearest corner. */
  shadow: { edge: number; corner: number } | null;
  /** Share of a guide star's light that the prism catches. */
  starLight: number | null;
  /** Angle of the guide field's middle from the axis, on the sky. */
  offAxisDeg: number | null;
  /** Whether that lies inside the field the corrector corrects. */
  inImageCircle: boolean | null;
}

/** A pick-off, and where its light goes. */
export class Guide {
  readonly stalk: Stalk;
  /** What would have to be stated. */
  readonly missing: readonly GuideMissing[];
  /** Reflecting point to main sensor, along the axis, mm. */
  readonly pathMm: number;
  /** Glass that only the main beam crosses, as far as no maker counted it, mm. */
  readonly mainShiftMm: number;
  /** Glass that only the guide beam crosses: the prism itself, and what stands before the guide sensor, mm. */
  readonly guideShiftMm: number;
  readonly requiredMm: number;
  readonly sideMm: number;
  readonly #light: Light | undefined;
  readonly #imageCircleMm: number | undefined;
  readonly #with: (light: Light) => Guide;
  #report: GuideReport | undefined;
  #range: readonly Guide[] | undefined;

  /** @param light where the sensor is known */
  constructor(train: Train, ledger: Ledger, axis: Axis, light: Light | undefined, stalk: Stalk) {
    this.#light = light;
    this.#with = (other) => new Guide(train, ledger, axis, other, stalk);
    this.#imageCircleMm = ledger.datum.corrector?.imageCircleMm;
    this.stalk = stalk;
    const { pickoff, alongMm } = stalk;
    this.sideMm = pickoff.sideMm ?? USUAL_PRISM_MM;
    const pointMm = alongMm + this.sideMm / 2;
    this.pathMm = axis.sensorMm - pointMm;
    this.mainShiftMm = shiftBehind(train, ledger, axis, pointMm);
    // A right-angled prism is as much glass as its side is long (Smith, Modern Optical Engineering, from memory).
    const own = pickoff.mirror ? 0 : plateShift(this.sideMm, pickoff.index ?? DEFAULT_INDEX);
    const before = (pickoff.guideCamera?.glass ?? []).reduce(
      // A guide camera's plate is its window, as any camera's: its maker's flange distance allows for it (handbook §2).
      (sum, plate) => {
        const isCounted = plate.counted ?? (plate.role ?? 'window') === 'window';
        return sum + (isCounted ? 0 : glassShift(plate, ledger.rule, ledger.focalRatio));
      },
      0
    );
    this.guideShiftMm = own + before;
    this.requiredMm = this.pathMm - this.mainShiftMm + this.guideShiftMm;
    this.missing = [
      ...(pickoff.innerEdgeMm === undefined ? (['innerEdgeMm'] as const) : []),
      ...(pickoff.guideCamera === undefined ? (['guideCamera'] as const) : []),
      ...(pickoff.guideFocus === undefined ? (['guideFocus'] as const) : [])
    ];
  }

  /** The same guider with every exit pupil the host's may be; itself alone where none is assumed. */
  get overRange(): readonly Guide[] {
    const light = this.#light;
    return (this.#range ??= light?.hostPupil.rangeMm ? light.overRange.map(this.#with) : [this]);
  }

  /** The light it was judged by; undefined where the sensor is not known. */
  get light(): Light | undefined {
    return this.#light;
  }

  /** Side the stalk stands on, degrees anticlockwise from +x, seen from the camera. */
  get atDeg(): number {
    return this.stalk.pickoff.atDeg ?? this.#light?.overLongSide ?? 90;
  }

  get #inner(): number | undefined {
    return this.stalk.pickoff.innerEdgeMm;
  }

  /** Reflecting point from the axis, mm. */
  get pointMm(): number | undefined {
    return this.#inner === undefined ? undefined : this.#inner + this.sideMm / 2;
  }

  /** Image height of the guide field's middle, were the sensor so large, mm. */
  get heightMm(): number | undefined {
    const [light, point] = [this.#light, this.pointMm];
    if (!light || point === undefined) return undefined;
    const zMm = this.pathMm - this.mainShiftMm;
    const lean = leaning(light.beam.pupilMm, zMm);
    return Math.abs(lean) < 1e-9 ? undefined : point / lean;
  }

  /** Scale and field of the guide camera, where its sensor is known. */
  get field(): { scaleArcsecPerPx: number; fieldDeg: [number, number] } | undefined {
    const sensor = this.stalk.pickoff.guideCamera?.sensor;
    const light = this.#light;
    if (!sensor || !light) return undefined;
    const { focalLengthMm } = light;
    return {
      scaleArcsecPerPx: scaleOf(sensor.pixelUm, focalLengthMm),
      fieldDeg: [fieldOfView(sensor.widthMm, focalLengthMm), fieldOfView(sensor.heightMm, focalLengthMm)]
    };
  }

  /** Where the shoulder of the guide camera can stand, from the axis, tubes before it included, mm. */
  get rangeMm(): [number, number] | undefined {
    const { guideFocus, tubes = [] } = this.stalk.pickoff;
    const tubeMm = tubes.reduce((sum, { lengthMm }) => sum + lengthMm, 0);
    return guideFocus && [guideFocus.minMm + tubeMm, guideFocus.maxMm + tubeMm];
  }

  /** The longest tube that may be added before the guide camera stands too far out; undefined where not known. */
  get mostTubeMm(): number | undefined {
    const { atMm, rangeMm } = this.report;
    return atMm === null || !rangeMm ? undefined : atMm - rangeMm[0];
  }

  /** Where a stalk has the most room, degrees; undefined where the sensor is not known. */
  get overLongSide(): number | undefined {
    return this.#light?.overLongSide;
  }

  /** Inner edge at which the prism leaves the middle of the side it stands over all its light, from the axis, mm. */
  get freeEdgeMm(): number | undefined {
    const light = this.#light;
    if (!light) return undefined;
    const { widthMm, heightMm } = light.sensor;
    const angle = radians(this.atDeg);
    // Half of the sensor that the stalk comes over, and with it the corner, where it comes over one.
    const half = (Math.abs(Math.cos(angle)) * widthMm + Math.abs(Math.sin(angle)) * heightMm) / 2;
    return fullDiameter(light.beam, half, light.zOf(this.stalk.alongMm, false)) / 2;
  }

  get report(): GuideReport {
    return (this.#report ??= this.#reported());
  }

  #reported(): GuideReport {
    const { pickoff } = this.stalk;
    const flangeMm = pickoff.guideCamera?.flangeMm;
    const point = this.pointMm;
    const atMm = point === undefined || flangeMm === undefined ? null : this.requiredMm - flangeMm + point;
    const range = this.rangeMm;
    const miss = atMm === null || !range ? undefined : beyond(atMm, ...range);
    return {
      requiredMm: this.requiredMm,
      atMm,
      rangeMm: range ?? null,
      verdict: miss === undefined ? 'unknown' : miss > 0 ? 'short' : miss < 0 ? 'long' : 'reaches',
      missMm: miss ?? 0,
      shadow: this.shadow,
      starLight: this.starLight,
      ...this.#offAxis()
    };
  }

  #offAxis(): Pick<GuideReport, 'offAxisDeg' | 'inImageCircle'> {
    const [light, height] = [this.#light, this.heightMm];
    if (!light || height === undefined) return { offAxisDeg: null, inImageCircle: null };
    const circle = this.#imageCircleMm;
    return {
      offAxisDeg: degrees(Math.atan(height / light.focalLengthMm)),
      inImageCircle: circle === undefined ? null : Math.abs(height) <= circle / 2
    };
  }

  /** Light that this prism alone takes from the main sensor, share of the pupil. */
  get shadow(): GuideReport['shadow'] {
    const light = this.#light;
    const bar = light?.bars.find(({ innerEdgeMm }) => innerEdgeMm === this.#inner);
    if (!light || !bar) return null;
    const { widthMm, heightMm } = light.sensor;
    const angle = radians(this.atDeg);
    const [toX, toY] = [Math.cos(angle), Math.sin(angle)];
    const [x, y] = [(widthMm / 2) * Math.sign(round(toX)), (heightMm / 2) * Math.sign(round(toY))];
    const alone: Optics = { holes: [], bars: [bar], obstruction: light.obstruction };
    const lost = (point: readonly [number, number]): number => 1 - illumination(point, alone);
    // Over a side: its middle. Over a corner: the corner itself.
    const edge = lost([x, y]);
    const corner = Math.max(
      ...[-1, 1].flatMap((right) => [-1, 1].map((up) => lost([(right * widthMm) / 2, (up * heightMm) / 2])))
    );
    return { edge, corner };
  }

  /** The star's cone is a disc z/N wide where the prism stands; the prism catches a square of it. */
  get starLight(): number | null {
    const light = this.#light;
    if (!light) return null;
    const zMm = Math.max(0, this.pathMm - this.mainShiftMm);
    return illumination([0, 0], {
      holes: [
        {
          beam: { fRatio: light.beam.fRatio, pupilMm: Infinity },
          fieldScale: 1,
          zMm,
          kind: 'square',
          clearMm: this.sideMm,
          atMm: [0, 0]
        }
      ],
      bars: [],
      obstruction: light.obstruction
    });
  }
}

/** Something beside the train that the guide camera runs into. */
export interface GuideClash {
  name: string;
  /** Angle at which the guide camera's middle would stand, degrees. */
  atDeg: number;
  /** Only what is assumed of its body reaches so far, mm; undefined where its sensor or a stated body does. */
  assumedMm: number | undefined;
}

/** How far a guide camera's body goes on behind its sensor where that is not stated, mm (common practice, no source). */
const ASSUMED_BODY_MM = 60;

/** Half of a guide camera's width, mm (common practice, no source): it is more than a line. */
const CAMERA_HALF_MM = 20;

const inTurn = (deg: number): number => ((((deg + 180) % 360) + 360) % 360) - 180;

/** Where the guide camera must not stand, since something beside the train does. */
interface Barred {
  name: string;
  middleDeg: number;
  halfDeg: number;
  /** Reach of the camera's body that was assumed for it, mm. */
  assumedMm: number | undefined;
}

function barredBy({ host }: Train, guide: Guide): Barred[] {
  const { pointMm } = guide;
  if (pointMm === undefined) return [];
  const statedMm = guide.stalk.pickoff.guideCamera?.bodyMm;
  const sensorMm = pointMm + guide.requiredMm;
  const reachMm = sensorMm + (statedMm ?? ASSUMED_BODY_MM);
  return (host.neighbours ?? []).flatMap(({ name, atDeg, widthDeg, fromAxisMm }): Barred[] => {
    if (fromAxisMm >= reachMm) return [];
    const cameraDeg = degrees(Math.atan2(CAMERA_HALF_MM, Math.max(fromAxisMm, 1)));
    const assumedMm = statedMm === undefined && fromAxisMm >= sensorMm ? ASSUMED_BODY_MM : undefined;
    return [{ name, middleDeg: atDeg, halfDeg: widthDeg / 2 + cameraDeg, assumedMm }];
  });
}

/**
 * What the guide camera would run into with the train turned.
 *
 * @param turnDeg anticlockwise, seen from the camera; what stands beside the train stays
 */
export function clashesOf(train: Train, guide: Guide, turnDeg = 0): GuideClash[] {
  const atDeg = guide.atDeg + turnDeg;
  return barredBy(train, guide).flatMap(({ name, middleDeg, halfDeg, assumedMm }): GuideClash[] =>
    Math.abs(inTurn(atDeg - middleDeg)) < halfDeg ? [{ name, atDeg: inTurn(atDeg), assumedMm }] : []
  );
}

/**
 * Arcs the guide camera may stand in, anticlockwise seen from the camera, each from where it begins; the end may lie beyond
 * 360°. None where everything is barred; the whole circle where nothing is.
 *
 * @returns undefined where nobody knows how far the guide camera reaches
 */
export function freeArcs(train: Train, guide: Guide): [fromDeg: number, toDeg: number][] | undefined {
  if (guide.pointMm === undefined) return undefined;
  const barred = barredBy(train, guide)
    .map(({ middleDeg, halfDeg }) => ({ from: fullTurn(middleDeg - halfDeg), long: Math.min(360, 2 * halfDeg) }))
    .sort((a, b) => a.from - b.from);
  const [first] = barred;
  if (!first) return [[0, 360]];
  const arcs: [number, number][] = [];
  // One that reaches over the beginning of the circle bars what lies there.
  let reached = Math.max(first.from + first.long, ...barred.map(({ from, long }) => from + long - 360));
  for (const { from, long } of [...barred.slice(1), { from: first.from + 360, long: 0 }]) {
    if (from > reached) arcs.push([reached, from]);
    reached = Math.max(reached, from + long);
  }
  return arcs.map(([from, to]) => [fullTurn(from), fullTurn(from) + to - from]);
}

/** Arcs for who turns a train. @param arcs as {@link freeArcs} tells them */
export function arcsInWords(arcs: readonly (readonly [fromDeg: number, toDeg: number])[]): string {
  if (arcs.length === 0) return 'nowhere';
  const [[from, to]] = arcs as [[number, number]];
  if (to - from >= 360) return 'all round';
  return arcs.map(([begin, end]) => `${Math.ceil(begin)}° to ${Math.floor(end) % 360}°`).join(', ');
}

const round = (value: number): number => (Math.abs(value) < 1e-9 ? 0 : value);

/** How far a place lies outside a range, mm; rounding of binary sums does not count. */
function beyond(atMm: number, minMm: number, maxMm: number): number {
  if (atMm > maxMm + 1e-9) return atMm - maxMm;
  return atMm < minMm - 1e-9 ? atMm - minMm : 0;
}

/** The first pick-off behind the corrector; undefined where the train has none. */
export function guideOf(train: Train, ledger: Ledger, axis: Axis, light: Light | undefined): Guide | undefined {
  const stalk = stalksOf(train, axis).find(({ alongMm }) => alongMm >= 0);
  return stalk && new Guide(train, ledger, axis, light, stalk);
}
