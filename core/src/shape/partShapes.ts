import { CAMERA_BODY_BEHIND_MM, type Layout, type LayoutItem } from './layout.ts';

/** What a shape stands for; whoever draws gives each its looks. */
export type ShapeRole =
  | 'outside'
  | 'cut'
  | 'groove'
  | 'dial'
  | 'dial-mark'
  | 'glass'
  | 'stalk'
  | 'bore'
  | 'sensor'
  | 'gap'
  | 'seam'
  | 'piece-off'
  // Of the layers: the beam, what it passes, and where the guide camera is and has to be.
  | 'cone'
  | 'cone-field'
  | 'rim'
  | 'rim-cut'
  | 'guide-beam'
  | 'guide-path'
  | 'guide-range'
  | 'weight'
  | 'weight-all'
  | 'should-be'
  | 'is-here';

/** A point, mm: along the axis from the datum's shoulder, and across it; above the axis, where parts are cut, is +. */
export type ShapePoint = readonly [alongMm: number, acrossMm: number];

/** A rectangle between two planes along the axis and two heights across it, mm. */
export interface ShapeBox {
  kind: 'box';
  role: ShapeRole;
  fromMm: number;
  toMm: number;
  lowMm: number;
  highMm: number;
  /** Edges are a little round, as a turned part's are. */
  round?: boolean;
  /** Element whose optical length the box's width is. */
  lengthOf?: string;
  title?: string;
}

/** An outline of straight runs and, where `via` is given, quadratic bows. */
export interface ShapeOutline {
  kind: 'outline';
  role: ShapeRole;
  start: ShapePoint;
  runs: readonly { to: ShapePoint; via?: ShapePoint }[];
  closed: boolean;
  title?: string;
}

export type Shape = ShapeBox | ShapeOutline;

/** How far a wheel's carousel hangs out of its body, in outer radii. */
const CAROUSEL = 0.24;

/** How far below the axis a part is drawn, in outer radii. */
export const depthFactor = (kind: LayoutItem['kind']): number => (kind === 'filter-wheel' ? 1 + CAROUSEL : 1);

/** What reaches farthest below the axis, mm: a wheel’s carousel hangs lower than its body. */
export const deepestOf = ({ hostRadiusMm, items }: Pick<Layout, 'hostRadiusMm' | 'items'>): number =>
  Math.max(hostRadiusMm, ...items.map(({ kind, outerRadiusMm }) => outerRadiusMm * depthFactor(kind)));

/** Two lenses stand for what a corrector holds: where, and how much each surface bows, in shares of its length. */
const LENSES = [
  { at: 0.26, bulge: 0.11, hollow: -0.03 },
  { at: 0.66, bulge: -0.05, hollow: 0.1 }
] as const;
const LENS_HALF = 0.055;

/** Heights of the grooves that make a plain cylinder look turned, in outer radii. */
const GROOVES = [0.34, 0.68] as const;

/** A guider's stalk is drawn cut short, mm. */
const STALK_SHOWN_MM = 8;
const STALK_WALL_MM = 1.5;

/** How far a prism goes on behind the bore it comes out of, mm. */
const PRISM_RISE_MM = 6;

/** Thickness a sensor is drawn with, mm. */
const SENSOR_MM = 0.5;

/** A piece that is off is drawn a little lower than its part, so that it is not taken for one. */
const OFF_SHARE = 0.9;

/** Walls thinner than this are not seen, mm. */
const LEAST_WALL_MM = 0.4;

const box = (
  role: ShapeRole,
  fromMm: number,
  toMm: number,
  lowMm: number,
  highMm: number,
  more: Partial<ShapeBox> = {}
): ShapeBox => ({ kind: 'box', role, fromMm, toMm, lowMm, highMm, ...more });

/** Half of a lens above the axis: two bows that meet at the rim. */
function lens(item: LayoutItem, { at, bulge, hollow }: (typeof LENSES)[number]): ShapeOutline {
  const length = item.toMm - item.fromMm;
  const rim = item.clearRadiusMm;
  const [sky, camera] = [-LENS_HALF, LENS_HALF].map((side) => item.fromMm + length * (at + side));
  return {
    kind: 'outline',
    role: 'glass',
    start: [sky! - bulge * length, 0],
    runs: [
      { via: [sky! - 0.8 * bulge * length, 0.6 * rim], to: [sky!, rim] },
      { to: [camera!, rim] },
      { via: [camera! + 0.8 * hollow * length, 0.6 * rim], to: [camera! + hollow * length, 0] }
    ],
    closed: true
  };
}

/** A guider's prism with the hole its stalk comes in by. */
function pickoff({ pickoff: prism, outerRadiusMm, clearRadiusMm }: LayoutItem): Shape[] {
  if (!prism) return [];
  const { fromMm, toMm, innerEdgeMm, stalkMm } = prism;
  const top = outerRadiusMm + Math.min(stalkMm, STALK_SHOWN_MM);
  const rise = Math.min(toMm - fromMm, Math.max(clearRadiusMm - innerEdgeMm + PRISM_RISE_MM, 1));
  const foot = Math.min(clearRadiusMm, innerEdgeMm + rise);
  return [
    box('stalk', fromMm - STALK_WALL_MM, toMm + STALK_WALL_MM, outerRadiusMm, top),
    box('bore', fromMm, toMm, foot, top + 0.4),
    {
      kind: 'outline',
      role: 'glass',
      start: [fromMm, innerEdgeMm],
      runs: [{ to: [toMm, innerEdgeMm] }, { to: [toMm, innerEdgeMm + rise] }],
      closed: true
    }
  ];
}

/** The dial's own stretch, and its marks seen from outside. */
function dial({ dial: span, outerRadiusMm: outer, clearRadiusMm: clear }: LayoutItem, markMm: number): Shape[] {
  if (!span || span.toMm <= span.fromMm) return [];
  const marks = Math.floor((span.toMm - span.fromMm) / markMm) + 1;
  const low = Math.min(outer - LEAST_WALL_MM, clear);
  return [
    box('dial', span.fromMm, span.toMm, low, Math.min(outer, low + Math.max((outer - clear) * 0.6, LEAST_WALL_MM))),
    ...Array.from({ length: marks }, (_, count): Shape => {
      const at = span.fromMm + count * markMm;
      return { kind: 'outline', role: 'dial-mark', start: [at, 0], runs: [{ to: [at, -outer * 0.22] }], closed: false };
    })
  ];
}

/** A piece that is on ends at a seam. */
const seams = ({ pieces, outerRadiusMm: outer }: LayoutItem): Shape[] =>
  pieces
    .filter(({ on }) => on)
    .map(({ name, fromMm, toMm }) => box('seam', fromMm, toMm, -outer, outer, { title: `${name}, on` }));

/** Pieces that are taken off, each as an outline where it would stand: over all parts, which hide it otherwise. */
export const offOutlines = ({ hostPieces, hostRadiusMm, items }: Layout): Shape[] =>
  [
    { pieces: hostPieces, outerMm: hostRadiusMm },
    ...items.map(({ pieces, outerRadiusMm }) => ({ pieces, outerMm: outerRadiusMm }))
  ].flatMap(({ pieces, outerMm }) =>
    pieces
      .filter(({ on }) => !on)
      .map(({ name, fromMm, toMm }) =>
        box('piece-off', fromMm, toMm, -outerMm * OFF_SHARE, outerMm * OFF_SHARE, { title: `${name}, taken off` })
      )
  );

/**
 * What one part is drawn as, whoever draws it: above the axis cut open, below it seen from outside.
 *
 * @param markMm distance of a dial's marks, mm: closer ones would run into each other at a small scale
 */
export function partShapes(item: LayoutItem, markMm = 1): Shape[] {
  const { kind, fromMm, toMm, outerRadiusMm: outer, clearRadiusMm: clear } = item;
  if (kind === 'gap') {
    return [{ kind: 'outline', role: 'gap', start: [fromMm, -outer], runs: [{ to: [fromMm, outer] }], closed: false }];
  }
  const endMm = kind === 'camera' ? toMm + CAMERA_BODY_BEHIND_MM : toMm;
  const shapes: Shape[] = [box('outside', fromMm, endMm, -outer, 0, { round: kind !== 'shim' })];
  if (kind === 'filter-wheel') {
    const inset = (endMm - fromMm) * 0.08;
    shapes.push(box('outside', fromMm + inset, endMm - inset, -outer * (1 + CAROUSEL), -outer, { round: true }));
  }
  for (const at of GROOVES) {
    const y = -outer * at;
    shapes.push({ kind: 'outline', role: 'groove', start: [fromMm, y], runs: [{ to: [endMm, y] }], closed: false });
  }
  shapes.push(box('cut', fromMm, toMm, Math.min(clear, outer - LEAST_WALL_MM), outer, { lengthOf: item.id }));
  if (endMm > toMm) shapes.push(box('cut', toMm, endMm, 0, outer));
  shapes.push(...dial(item, markMm), ...seams(item));
  if (kind === 'corrector') shapes.push(...LENSES.map((each) => lens(item, each)));
  for (const plate of item.glass) {
    shapes.push(box('glass', plate.fromMm, plate.toMm, 0, plate.radiusMm, { title: plate.name }));
  }
  shapes.push(...pickoff(item));
  if (item.sensor) shapes.push(box('sensor', toMm, toMm + SENSOR_MM, 0, item.sensor.halfWidthMm));
  return shapes;
}
