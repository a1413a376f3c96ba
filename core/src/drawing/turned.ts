import { shortestRing, type RingSpec } from '../finder/ring.ts';
import { drilledHoles, screwHoleFault, type DrilledHoles } from '../finder/screwHoles.ts';
import { minorDiameter, parseThread } from '../joint/thread.ts';
import type { Port } from '../train/model.ts';

/** A face as the workshop sees it, mm. */
export interface TurnedFace {
  /** Male: length beyond the shoulder; female: depth from it. */
  depth: number;
  male: boolean;
  /** Diameter of the thread, and of its root (male) or hole (female). */
  major: number;
  minor: number;
  callout: string;
  /** Groove behind a male thread, so that it can be cut up to the shoulder: width along, and its diameter, mm. */
  undercut?: { width: number; diameter: number };
}

const USUAL_DEPTH_MM = 4;

/** A thread undercut, in pitches: how wide, and how much less than the thread's diameter (DIN 76-1 short, from memory). */
const UNDERCUT = { width: 1.2, less: 1.6 };

/** Wall that an undercut leaves over the bore, and turns of thread that it leaves, at the least (common practice, no source). */
const UNDERCUT_LEAVES = { wallMm: 0.8, turns: 3 };

/** How a port is turned; a face that is no thread is a plain spigot or socket of its size. */
function turnedFace(port: Port, screws?: string): TurnedFace {
  if ('thread' in port) {
    const thread = parseThread(port.thread);
    const major = thread?.diameterMm ?? 48;
    const male = port.gender === 'male';
    const depth = port.lengthMm ?? USUAL_DEPTH_MM;
    const name = thread?.designation ?? port.thread;
    return {
      depth,
      male,
      major,
      minor: thread ? minorDiameter(thread) : major - 1,
      callout: `${name} ${male ? `male, ${depth} long` : `female, ${depth} deep`}`
    };
  }
  const major = 'bolts' in port ? port.bolts.circleMm : 50;
  const callout =
    'bolts' in port
      ? (screws ?? `${port.bolts.count} screws on Ø${port.bolts.circleMm}, size not stated`)
      : 'slip' in port
        ? `slip fit ${port.slip}`
        : '';
  return { depth: 0, male: false, major, minor: major, callout };
}

/** A face with the depth it is drawn with, where none is stated. */
const withDepth = (port: Port): Port =>
  'thread' in port && port.lengthMm === undefined ? { ...port, lengthMm: USUAL_DEPTH_MM } : port;

/** Why a ring cannot be turned from its blank; undefined where it can. */
export function ringFault(spec: RingSpec): string | undefined {
  const { lengthMm, sky, camera, clearMm, outerMm } = spec;
  if (clearMm >= outerMm) return 'a ring cannot be clear to its outer diameter';
  for (const [side, port] of [
    ['sky', sky],
    ['camera', camera]
  ] as const) {
    if ('thread' in port && !parseThread(port.thread)) {
      return `“${port.thread}” on its ${side} face is not a thread that can be cut`;
    }
    const { major, callout } = turnedFace(port);
    if (major > outerMm) return `its ${side} face (${callout}) is wider than its outer diameter, ${outerMm} mm`;
  }
  const shortestMm = shortestRing(withDepth(sky), withDepth(camera));
  if (lengthMm < shortestMm - 1e-9) {
    const faces = [turnedFace(sky).callout, turnedFace(camera).callout].join(' and ');
    return `with ${faces} it has to be ${Number(shortestMm.toFixed(2))} mm long at the least, or it falls into two; take shims or a step ring`;
  }
  return screwHoleFault(spec);
}

/** How both faces of a ring are turned, each male with its undercut where the wall has room for one. */
export function turnedFaces(spec: RingSpec): { s: TurnedFace; c: TurnedFace } {
  const { sky, camera, clearMm } = spec;
  const withUndercut = (port: Port, side: 'sky' | 'camera'): TurnedFace => {
    const face = turnedFace(port, drilledIn(spec, side)?.callout);
    const pitchMm = 'thread' in port ? parseThread(port.thread)?.pitchMm : undefined;
    if (!face.male || pitchMm === undefined) return face;
    const width = UNDERCUT.width * pitchMm;
    const diameter = face.major - UNDERCUT.less * pitchMm;
    const leavesWall = (diameter - clearMm) / 2 >= UNDERCUT_LEAVES.wallMm;
    const leavesThread = face.depth - width >= UNDERCUT_LEAVES.turns * pitchMm;
    return leavesWall && leavesThread ? { ...face, undercut: { width, diameter } } : face;
  };
  return { s: withUndercut(sky, 'sky'), c: withUndercut(camera, 'camera') };
}

/** Screw holes of one face of a ring; undefined where it has none, or nobody said which. */
export const drilledIn = (spec: RingSpec, side: 'sky' | 'camera'): DrilledHoles | undefined =>
  drilledHoles(spec[side], spec.screws?.[side], spec.lengthMm);

/** How deep the hole of each face goes, mm: no deeper than the ring is long, and two of them never meet. */
export function holesOf({ lengthMm }: RingSpec, s: TurnedFace, c: TurnedFace): { skyHole: number; cameraHole: number } {
  const room = lengthMm - 0.5;
  const share = (own: number, other: number, otherMale: boolean): number =>
    otherMale ? Math.min(own, lengthMm) : Math.min(own, (room * own) / Math.max(own + other, 1e-9));
  return {
    skyHole: s.male ? 0 : share(s.depth, c.depth, c.male),
    cameraHole: c.male ? 0 : share(c.depth, s.depth, s.male)
  };
}

/** Outside of a male from its tip to the shoulder, along and radius, mm; `out` is the way the thread points. */
export function stepsOf(
  { depth, major, undercut }: TurnedFace,
  shoulder: number,
  out: -1 | 1,
  outer: number
): [number, number][] {
  const groove: [number, number][] = undercut
    ? [
        [shoulder + out * undercut.width, major / 2],
        [shoulder + out * undercut.width, undercut.diameter / 2],
        [shoulder, undercut.diameter / 2]
      ]
    : [[shoulder, major / 2]];
  return [[shoulder + out * depth, major / 2], ...groove, [shoulder, outer]];
}

/** Outline of the upper half of the cut ring: points (along, radius) in mm, sky side at 0, closed. */
export function profileOf(spec: RingSpec): [number, number][] {
  const { lengthMm, clearMm, outerMm } = spec;
  const { s, c } = turnedFaces(spec);
  const { skyHole, cameraHole } = holesOf(spec, s, c);
  const bore = clearMm / 2;
  const outer = outerMm / 2;
  const male = (face: TurnedFace, shoulder: number, out: -1 | 1): [number, number][] => [
    [shoulder + out * face.depth, bore],
    ...stepsOf(face, shoulder, out, outer)
  ];
  const points: [number, number][] = s.male
    ? male(s, 0, -1)
    : [
        [0, Math.max(bore, s.minor / 2)],
        [0, outer]
      ];
  if (c.male) points.push(...male(c, lengthMm, 1).reverse());
  else points.push([lengthMm, outer], [lengthMm, Math.max(bore, c.minor / 2)]);
  if (!c.male && c.minor / 2 > bore) points.push([lengthMm - cameraHole, c.minor / 2], [lengthMm - cameraHole, bore]);
  if (!s.male && s.minor / 2 > bore) points.push([skyHole, bore], [skyHole, s.minor / 2]);
  return points;
}
