import { shortestRing, type RingSpec } from '../finder/ring.ts';
import { minorDiameter, parseThread } from '../joint/thread.ts';
import type { Port } from '../train/model.ts';
import type { Drawing, DrawnLine, LineStyle } from './shapes.ts';

/** A4, lying. */
const SHEET = { width: 297, height: 210 };
const AXIS_Y = 112;
const LEFT_X = 104;
const TEXT_MM = 3.2;

/** Room for the title, left of the scale, mm; and how many letters of a size stand in as many millimetres as that size. */
const TITLE_ROOM_MM = 220;
const LETTER_SHARE = 1.8;

/** Scales a drawing may have (ISO 5455, from memory). */
const SCALES = [10, 5, 2, 1, 0.5, 0.2];

/** A face as the workshop sees it, mm. */
interface TurnedFace {
  /** Male: length beyond the shoulder; female: depth from it. */
  depth: number;
  male: boolean;
  /** Diameter of the thread, and of its root (male) or hole (female). */
  major: number;
  minor: number;
  callout: string;
}

const USUAL_DEPTH_MM = 4;

/** How a port is turned; a face that is no thread is a plain spigot or socket of its size. */
export function turnedFace(port: Port): TurnedFace {
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
      ? `${port.bolts.count} bolts on ${port.bolts.circleMm}`
      : 'slip' in port
        ? `slip fit ${port.slip}`
        : '';
  return { depth: 0, male: false, major, minor: major, callout };
}

/** A face with the depth it is drawn with, where none is stated. */
const withDepth = (port: Port): Port =>
  'thread' in port && port.lengthMm === undefined ? { ...port, lengthMm: USUAL_DEPTH_MM } : port;

/** Why a ring cannot be turned from its blank; undefined where it can. */
export function ringFault({ lengthMm, sky, camera, clearMm, outerMm }: RingSpec): string | undefined {
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
  return undefined;
}

/** Outline of the upper half of the cut ring: points (along, radius) in mm, sky side at 0, closed. */
export function profileOf({ lengthMm, sky, camera, clearMm, outerMm }: RingSpec): [number, number][] {
  const [s, c] = [turnedFace(sky), turnedFace(camera)];
  const bore = clearMm / 2;
  const outer = outerMm / 2;
  const points: [number, number][] = [];
  if (s.male) points.push([-s.depth, bore], [-s.depth, s.major / 2], [0, s.major / 2], [0, outer]);
  else points.push([0, Math.max(bore, s.minor / 2)], [0, outer]);
  points.push([lengthMm, outer]);
  if (c.male) points.push([lengthMm, c.major / 2], [lengthMm + c.depth, c.major / 2], [lengthMm + c.depth, bore]);
  else points.push([lengthMm, Math.max(bore, c.minor / 2)]);
  // Holes are no deeper than the ring is long, and two of them never meet.
  const room = lengthMm - 0.5;
  const share = (own: number, other: number, otherMale: boolean): number =>
    otherMale ? Math.min(own, lengthMm) : Math.min(own, (room * own) / Math.max(own + other, 1e-9));
  const cameraHole = c.male ? 0 : share(c.depth, s.depth, s.male);
  const skyHole = s.male ? 0 : share(s.depth, c.depth, c.male);
  if (!c.male && c.minor / 2 > bore) points.push([lengthMm - cameraHole, c.minor / 2], [lengthMm - cameraHole, bore]);
  if (!s.male && s.minor / 2 > bore) points.push([skyHole, bore], [skyHole, s.minor / 2]);
  return points;
}

/**
 * The workshop drawing of a ring: half in section, half from outside, dimensioned, with thread callouts, tolerance and
 * material, on A4.
 */
export function ringDrawing(spec: RingSpec, title: string): Drawing {
  const { lengthMm, sky, camera, clearMm, outerMm, toleranceMm } = spec;
  const [s, c] = [turnedFace(sky), turnedFace(camera)];
  const whole = lengthMm + (s.male ? s.depth : 0) + (c.male ? c.depth : 0);
  const scale = SCALES.find((each) => outerMm * each <= 105 && whole * each <= 110) ?? 0.1;
  const shapes: Drawing['shapes'] = [];
  const x = (mm: number): number => LEFT_X + (mm + (s.male ? s.depth : 0)) * scale;
  const y = (mm: number): number => AXIS_Y + mm * scale;
  const line = (style: LineStyle, x1: number, y1: number, x2: number, y2: number): void => {
    const drawn: DrawnLine = { kind: 'line', style, x1, y1, x2, y2 };
    shapes.push(drawn);
  };
  const text = (
    at: [number, number],
    words: string,
    anchor: 'start' | 'middle' | 'end' = 'start',
    turnDeg = 0,
    size = TEXT_MM
  ): void => {
    shapes.push({ kind: 'text', x: at[0], y: at[1], size, anchor, turnDeg, text: words });
  };

  // Above the axis: cut. Below: from outside.
  const profile = profileOf(spec);
  profile.forEach(([along, radius], index) => {
    const [nextAlong, nextRadius] = profile[(index + 1) % profile.length]!;
    line('outline', x(along), y(radius), x(nextAlong), y(nextRadius));
  });
  hatch(profile, x, y, line);
  const outside: [number, number][] = [
    [s.male ? -s.depth : 0, s.male ? s.major / 2 : outerMm / 2],
    ...(s.male
      ? ([
          [0, s.major / 2],
          [0, outerMm / 2]
        ] as [number, number][])
      : []),
    [lengthMm, outerMm / 2],
    ...(c.male
      ? ([
          [lengthMm, c.major / 2],
          [lengthMm + c.depth, c.major / 2]
        ] as [number, number][])
      : [])
  ];
  outside.forEach(([along, radius], index) => {
    const next = outside[index + 1];
    if (next) line('outline', x(along), y(-radius), x(next[0]), y(-next[1]));
  });
  line('outline', x(outside[0]![0]), y(0), x(outside[0]![0]), y(-outside[0]![1]));
  line('outline', x(outside.at(-1)![0]), y(0), x(outside.at(-1)![0]), y(-outside.at(-1)![1]));
  line('centre', x(s.male ? -s.depth : 0) - 8, y(0), x(lengthMm + (c.male ? c.depth : 0)) + 8, y(0));
  // Threads: thin lines at the root of a male, at the crest of a female (ISO 6410, from memory).
  if (s.male) line('thin', x(-s.depth), y(s.minor / 2), x(0), y(s.minor / 2));
  else line('thin', x(0), y(s.major / 2), x(Math.min(s.depth, lengthMm)), y(s.major / 2));
  if (c.male) line('thin', x(lengthMm), y(c.minor / 2), x(lengthMm + c.depth), y(c.minor / 2));
  else line('thin', x(lengthMm), y(c.major / 2), x(lengthMm - Math.min(c.depth, lengthMm)), y(c.major / 2));

  // The length, from shoulder to shoulder.
  const above = y(outerMm / 2) + 16;
  line('dimension', x(0), y(outerMm / 2) + 2, x(0), above + 2);
  line('dimension', x(lengthMm), y(outerMm / 2) + 2, x(lengthMm), above + 2);
  line('dimension', x(0), above, x(lengthMm), above);
  arrow(line, x(0), above, 1);
  arrow(line, x(lengthMm), above, -1);
  text([x(lengthMm) + 4, above - 1], `${lengthMm.toFixed(2)} ±${toleranceMm.toFixed(2)}, shoulder to shoulder`);

  // Diameters, right of the part.
  const right = x(lengthMm + (c.male ? c.depth : 0)) + 22;
  diameter(line, text, x(lengthMm), right, y(outerMm / 2), y(-outerMm / 2), `Ø${outerMm}`);
  diameter(line, text, x(lengthMm), right + 12, y(clearMm / 2), y(-clearMm / 2), `Ø${clearMm} clear`);

  // Thread callouts with leaders.
  const callY = y(-outerMm / 2) - 14;
  line('dimension', x(s.male ? -s.depth / 2 : 0), y(-s.major / 2), x(0) - 14, callY + 1);
  text([x(0) - 14, callY - 4], `sky side: ${s.callout}`, 'middle');
  line('dimension', x(lengthMm + (c.male ? c.depth / 2 : 0)), y(-c.major / 2), x(lengthMm) + 26, callY - 8);
  text([x(lengthMm) + 26, callY - 13], `camera side: ${c.callout}`, 'middle');

  // The frame, with what the workshop has to know.
  line('outline', 10, 10, SHEET.width - 10, 10);
  line('outline', 10, SHEET.height - 10, SHEET.width - 10, SHEET.height - 10);
  line('outline', 10, 10, 10, SHEET.height - 10);
  line('outline', SHEET.width - 10, 10, SHEET.width - 10, SHEET.height - 10);
  line('outline', 10, 34, SHEET.width - 10, 34);
  // A long title gets smaller, and then loses its end, before it meets the scale.
  const titleMm = Math.max(2.6, Math.min(4.5, (TITLE_ROOM_MM / Math.max(title.length, 1)) * LETTER_SHARE));
  const letters = Math.floor((TITLE_ROOM_MM * LETTER_SHARE) / titleMm);
  text([15, 26], title.length > letters ? `${title.slice(0, letters - 1)}…` : title, 'start', 0, titleMm);
  text([15, 19], 'Aluminium alloy, turned, black anodised inside and out, no burrs, threads free of coating build-up.');
  text([15, 13.5], 'All lengths in mm. Threads are not part of the length. 60° thread profile, tolerance 6g/6H.');
  text([SHEET.width - 15, 26], `Scale ${scale >= 1 ? `${scale}:1` : `1:${1 / scale}`}`, 'end');
  return { ...SHEET, shapes };
}

function arrow(
  line: (style: LineStyle, x1: number, y1: number, x2: number, y2: number) => void,
  x: number,
  y: number,
  to: 1 | -1
): void {
  line('dimension', x, y, x + 2.4 * to, y + 0.8);
  line('dimension', x, y, x + 2.4 * to, y - 0.8);
}

function diameter(
  line: (style: LineStyle, x1: number, y1: number, x2: number, y2: number) => void,
  text: (at: [number, number], words: string, anchor?: 'start' | 'middle' | 'end', turnDeg?: number) => void,
  fromX: number,
  atX: number,
  top: number,
  bottom: number,
  words: string
): void {
  line('dimension', fromX + 2, top, atX + 2, top);
  line('dimension', fromX + 2, bottom, atX + 2, bottom);
  line('dimension', atX, top, atX, bottom);
  line('dimension', atX, top, atX - 0.8, top - 2.4);
  line('dimension', atX, top, atX + 0.8, top - 2.4);
  line('dimension', atX, bottom, atX - 0.8, bottom + 2.4);
  line('dimension', atX, bottom, atX + 0.8, bottom + 2.4);
  text([atX - 1.5, (top + bottom) / 2 + 8], words, 'middle', 90);
}

const HATCH_MM = 2.2;

/** Lines at 45° where they lie inside the profile. */
function hatch(
  profile: readonly [number, number][],
  x: (mm: number) => number,
  y: (mm: number) => number,
  line: (style: LineStyle, x1: number, y1: number, x2: number, y2: number) => void
): void {
  const points = profile.map(([along, radius]) => [x(along), y(radius)] as const);
  const offsets = points.map(([px, py]) => py - px);
  for (let c = Math.ceil(Math.min(...offsets) / HATCH_MM) * HATCH_MM; c < Math.max(...offsets); c += HATCH_MM) {
    const crossings: number[] = [];
    points.forEach(([ax, ay], index) => {
      const [bx, by] = points[(index + 1) % points.length]!;
      const [a, b] = [ay - ax - c, by - bx - c];
      if (a > 0 === b > 0) return;
      crossings.push(ax + ((bx - ax) * a) / (a - b));
    });
    crossings.sort((a, b) => a - b);
    for (let at = 0; at + 1 < crossings.length; at += 2) {
      line('hatch', crossings[at]!, crossings[at]! + c, crossings[at + 1]!, crossings[at + 1]! + c);
    }
  }
}
