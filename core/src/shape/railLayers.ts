import type { Facts } from '../check/facts.ts';
import { coneAt } from '../light/beam.ts';
import type { Light } from '../light/light.ts';
import type { Opening } from '../light/openings.ts';
import { HOST, nameOf, type Train } from '../train/model.ts';
import type { Shape, ShapePoint } from './partShapes.ts';

/** Something on a layer that has a word to it. */
export interface Stop {
  /** Element id, or `host`. */
  at: string;
  alongMm: number;
  acrossMm: number;
  words: string;
  /** It is wrong there. */
  bad: boolean;
}

/** What a stage may lay over the rail: the same shapes for every writer. */
export interface RailLayer {
  id: 'light' | 'guide' | 'load';
  title: string;
  /** Key that switches it. */
  key: string;
  /** @param fieldMm height of the point of the sensor that is looked at, along its diagonal, mm */
  shapes: (facts: Facts, fieldMm: number) => Shape[];
  stops: (facts: Facts, fieldMm: number) => Stop[];
  /** How far from the axis it reaches, mm. */
  reachMm: (facts: Facts) => number;
}

/** A rim is drawn so high, mm. */
const RIM_MM = 3;

/** How thin an opening may be drawn, mm along the axis. */
const LEAST_RIM_MM = 0.6;

/** Less light than this is not worth a word, share. */
const LEAST_TAKEN = 0.005;

/** What of the host is drawn ahead of its camera face, mm. */
const HOST_SHOWN_MM = 12;

/** Half of an opening in the plane of the sensor's diagonal, from where it is centred, mm. */
function halfAlong({ clearMm, shape, decentreMm: [x, y] }: Opening, light: Light): { half: number; middle: number } {
  const [ux, uy] = light.atHeight(1);
  const half = shape === 'round' ? clearMm / 2 : clearMm / 2 / Math.max(Math.abs(ux), Math.abs(uy));
  return { half, middle: x * ux + y * uy };
}

/** The cone to one point of the sensor, from the host to the sensor, as an outline. */
function cone({ light, standing: { axis } }: Facts, heightMm: number, role: 'cone' | 'cone-field'): Shape[] {
  if (!light) return [];
  const { beam, ahead, openings } = light;
  const startMm = axis.hostFaceMm - HOST_SHOWN_MM;
  const isSplit = light.magnification !== null && startMm < 0;
  // Glass bends the cone: it has a corner wherever something stands.
  const places = [
    startMm,
    axis.sensorMm,
    ...(isSplit ? [0] : []),
    ...openings.flatMap(({ alongMm, toMm }) => [alongMm, toMm])
  ];
  const within = places.filter((mm) => mm >= startMm && mm <= axis.sensorMm);
  const sorted = [...new Set(within.map((mm) => Number(mm.toFixed(6))))].sort((a, b) => a - b);
  const edges = sorted.map((alongMm): { alongMm: number; high: number; low: number } => {
    const isAhead = isSplit && alongMm < -1e-9;
    const [of, field] = isAhead ? [ahead.beam, heightMm * ahead.fieldScale] : [beam, heightMm];
    const { x, radius } = coneAt(of, [field, 0], light.zOf(alongMm, isAhead));
    return { alongMm, high: x + radius, low: x - radius };
  });
  const points: ShapePoint[] = [
    ...edges.map(({ alongMm, high }): ShapePoint => [alongMm, high]),
    ...edges.toReversed().map(({ alongMm, low }): ShapePoint => [alongMm, low])
  ];
  const [start, ...rest] = points;
  return start ? [{ kind: 'outline', role, start, runs: rest.map((to) => ({ to })), closed: true }] : [];
}

/** The rim of an opening above and below the axis. */
function rims(opening: Opening, light: Light, taken: number): Shape[] {
  const { half, middle } = halfAlong(opening, light);
  const { alongMm } = opening;
  const toMm = Math.max(opening.toMm, alongMm + LEAST_RIM_MM);
  const role = taken > LEAST_TAKEN ? 'rim-cut' : 'rim';
  const high = middle + half;
  const low = middle - half;
  return [
    { kind: 'box', role, fromMm: alongMm, toMm, lowMm: high, highMm: high + RIM_MM },
    { kind: 'box', role, fromMm: alongMm, toMm, lowMm: low - RIM_MM, highMm: low }
  ];
}

const wordFor = (train: Train, { at, name }: Opening): string => name ?? nameOf(train, at);

/** Openings of a stated size, with what each by itself keeps from the point that is looked at. */
function takings(light: Light, fieldMm: number): { opening: Opening; taken: number }[] {
  const field = light.atHeight(fieldMm);
  return light.openings
    .filter(({ from }) => from !== 'guess')
    .map((opening) => ({ opening, taken: light.takenBy(opening, field) }));
}

/** The beam as it really is: to the middle of the sensor, and to a point of it, and where it is cut. */
export const lightLayer = onRail({
  id: 'light',
  title: 'light',
  key: 'B',
  reachMm: ({ light }) => (light ? light.halfDiagonalMm + RIM_MM : 0),
  shapes: (facts, fieldMm) => {
    const { light } = facts;
    if (!light) return [];
    return [
      ...cone(facts, 0, 'cone'),
      ...(fieldMm === 0 ? [] : cone(facts, fieldMm, 'cone-field')),
      // A thread is a hole in what its parts have as bore already; it is drawn where it cuts.
      ...takings(light, fieldMm)
        .filter(({ opening, taken }) => opening.what === 'filter' || opening.what === 'host' || taken > LEAST_TAKEN)
        .flatMap(({ opening, taken }) => rims(opening, light, taken))
    ];
  },
  stops: ({ light, train }, fieldMm) =>
    light
      ? takings(light, fieldMm)
          .filter(({ taken }) => taken > LEAST_TAKEN)
          .map(({ opening, taken }): Stop => {
            const { half, middle } = halfAlong(opening, light);
            return {
              at: opening.at,
              alongMm: opening.alongMm,
              acrossMm: middle + Math.sign(fieldMm || 1) * (half + RIM_MM / 2),
              words: `${wordFor(train, opening)} cuts ${(taken * 100).toFixed(0)} %`,
              bad: true
            };
          })
      : []
});

/** A plane across the guide beam is drawn so wide, mm. */
const GUIDE_PLANE_MM = 9;

/** The guider: where its light goes, where the guide sensor has to be, and where its tube lets it be. */
export const guideLayer = onRail({
  id: 'guide',
  title: 'guide',
  key: 'V',
  reachMm: ({ guide }) => (guide?.pointMm === undefined ? 0 : guide.pointMm + guide.requiredMm + 4),
  shapes: ({ guide, light }) => {
    const point = guide?.pointMm;
    if (!guide || point === undefined) return [];
    const { stalk, sideMm, requiredMm, pathMm } = guide;
    const alongMm = stalk.alongMm + sideMm / 2;
    const line = (role: 'guide-path' | 'should-be', from: ShapePoint, to: ShapePoint): Shape => ({
      kind: 'outline',
      role,
      start: from,
      runs: [{ to }],
      closed: false
    });
    const half = Math.min(sideMm / 2, light ? Math.max(0, pathMm) / (2 * light.beam.fRatio) : sideMm / 2);
    const sensorMm = point + requiredMm;
    const shapes: Shape[] = [
      {
        kind: 'outline',
        role: 'guide-beam',
        start: [alongMm - half, point],
        runs: [{ to: [alongMm, sensorMm] }, { to: [alongMm + half, point] }],
        closed: true
      },
      line('guide-path', [alongMm, point], [alongMm, sensorMm]),
      line('should-be', [alongMm - GUIDE_PLANE_MM, sensorMm], [alongMm + GUIDE_PLANE_MM, sensorMm])
    ];
    const { rangeMm, atMm } = guide.report;
    const flangeMm = stalk.pickoff.guideCamera?.flangeMm;
    if (rangeMm && flangeMm !== undefined) {
      const [from, to] = [rangeMm[0] + flangeMm, rangeMm[1] + flangeMm];
      shapes.push({
        kind: 'box',
        role: 'guide-range',
        fromMm: alongMm - GUIDE_PLANE_MM / 2,
        toMm: alongMm + GUIDE_PLANE_MM / 2,
        lowMm: from,
        highMm: Math.max(to, from + 0.3)
      });
      if (atMm !== null) {
        const at = Math.min(rangeMm[1], Math.max(rangeMm[0], atMm)) + flangeMm;
        shapes.push({
          kind: 'outline',
          role: 'is-here',
          start: [alongMm - GUIDE_PLANE_MM, at],
          runs: [{ to: [alongMm + GUIDE_PLANE_MM, at] }],
          closed: false
        });
      }
    }
    return shapes;
  },
  stops: ({ guide }) => {
    const point = guide?.pointMm;
    if (!guide || point === undefined) return [];
    const { verdict, missMm } = guide.report;
    const words = {
      reaches: 'guide sensor in focus here',
      short: `guide sensor here: ${missMm.toFixed(2)} mm farther out than it goes`,
      long: `guide sensor here: ${(-missMm).toFixed(2)} mm nearer than it comes`,
      unknown: 'guide sensor must be here'
    }[verdict];
    return [
      {
        at: guide.stalk.at,
        alongMm: guide.stalk.alongMm + guide.sideMm / 2,
        acrossMm: point + guide.requiredMm,
        words,
        bad: verdict === 'short' || verdict === 'long'
      }
    ];
  }
});

/** A kilogram is drawn as an arrow so long, mm across; the longest is capped. */
const ARROW_MM_PER_KG = 26;
const LONGEST_ARROW_MM = 44;
const ARROW_HEAD_MM = 2.2;

/** What hangs on the host: an arrow for each mass, as long as it is heavy, and where they all act together. */
export const loadLayer = onRail({
  id: 'load',
  title: 'load',
  key: 'K',
  reachMm: () => 0,
  shapes: ({ load, standing: { axis } }) => {
    const arrow = (role: 'weight' | 'weight-all', alongMm: number, massG: number): Shape[] => {
      const down = -Math.min(LONGEST_ARROW_MM, (massG / 1000) * ARROW_MM_PER_KG);
      const line = (start: ShapePoint, ...to: ShapePoint[]): Shape => ({
        kind: 'outline',
        role,
        start,
        runs: to.map((each) => ({ to: each })),
        closed: false
      });
      const head = Math.min(ARROW_HEAD_MM, -down / 2);
      return [
        line([alongMm, 0], [alongMm, down]),
        line([alongMm - head, down + 2 * head], [alongMm, down], [alongMm + head, down + 2 * head])
      ];
    };
    const centreMm = load.centreOfMassMm;
    return [
      ...load.hanging
        .filter(({ massG }) => massG > 0)
        .flatMap(({ behindMm, massG }) => arrow('weight', axis.hostFaceMm + behindMm, massG)),
      ...(centreMm === undefined ? [] : arrow('weight-all', axis.hostFaceMm + centreMm, load.massG))
    ];
  },
  stops: ({ load, standing: { axis }, train }) => {
    const centreMm = load.centreOfMassMm;
    if (centreMm === undefined) return [];
    const over = load.limits.filter(({ ok }) => !ok);
    const least = load.unweighed.length > 0 ? 'at least ' : '';
    const kg = (load.massG / 1000).toFixed(2);
    return [
      {
        at: HOST,
        alongMm: axis.hostFaceMm + centreMm,
        acrossMm: -LONGEST_ARROW_MM / 2,
        words: `${least}${kg} kg act here, ${load.momentNm.toFixed(2)} N·m on the host`,
        bad: false
      },
      ...over.map(({ at, massKg, maxKg }): Stop => ({
        at,
        alongMm:
          at === HOST ? axis.hostFaceMm : (axis.spans[train.elements.findIndex(({ id }) => id === at)]?.toMm ?? 0),
        acrossMm: 0,
        words: `${nameOf(train, at)} carries ${massKg.toFixed(2)} of ${maxKg} kg`,
        bad: true
      }))
    ];
  }
});

/** A shape of the filled train where it lies on the rail, whose gaps are closed. */
function asDrawn(facts: Facts, shape: Shape): Shape {
  const moved = ([alongMm, acrossMm]: ShapePoint): ShapePoint => [facts.drawnAt(alongMm), acrossMm];
  switch (shape.kind) {
    case 'box':
      return { ...shape, fromMm: facts.drawnAt(shape.fromMm), toMm: facts.drawnAt(shape.toMm) };
    case 'outline':
      return { ...shape, start: moved(shape.start), runs: shape.runs.map((run) => ({ ...run, to: moved(run.to) })) };
  }
}

/** A layer is calculated of the filled train, and drawn on the rail as it is. */
function onRail(layer: RailLayer): RailLayer {
  return {
    ...layer,
    shapes: (facts, fieldMm) => {
      const shapes = layer.shapes(facts, fieldMm);
      return facts.filled ? shapes.map((shape) => asDrawn(facts, shape)) : shapes;
    },
    stops: (facts, fieldMm) =>
      layer.stops(facts, fieldMm).map((stop) => ({ ...stop, alongMm: facts.drawnAt(stop.alongMm) }))
  };
}

/** Every layer there is, in the order they are switched on. */
export const RAIL_LAYERS: readonly RailLayer[] = [lightLayer, guideLayer, loadLayer];
