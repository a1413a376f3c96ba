import { shortestRing, type RingSpec } from '../finder/ring.ts';
import { minorDiameter, parseThread } from '../joint/thread.ts';
import type { Port } from '../train/model.ts';
import { formatWithin } from '../why/wording.ts';
import type { Drawing, DrawnLine, LineStyle, View, ViewName } from './shapes.ts';

/** A4, lying. */
const SHEET = { width: 297, height: 210 };
const AXIS_Y = 118;
const LEFT_X = 46;
const TEXT_MM = 3.2;

/** Room for the title, left of the scale, mm; and how much of its size a letter is wide at most (from memory). */
const TITLE_ROOM_MM = 225;
const LETTER_SHARE = 0.72;

/** Scales a drawing may have (ISO 5455, from memory). */
const SCALES = [10, 5, 2, 1, 0.5, 0.2, 0.1];

/** Room for the whole ring, and for its wall enlarged, mm on the sheet. */
const ROOM = { along: 62, across: 92 };
const DETAIL = { left: 176, base: 88, along: 84, across: 62 };

/** A face as the workshop sees it, mm. */
interface TurnedFace {
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
function turnedFace(port: Port): TurnedFace {
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

/** How both faces of a ring are turned, each male with its undercut where the wall has room for one. */
function turnedFaces({ sky, camera, clearMm }: RingSpec): { s: TurnedFace; c: TurnedFace } {
  const withUndercut = (port: Port): TurnedFace => {
    const face = turnedFace(port);
    const pitchMm = 'thread' in port ? parseThread(port.thread)?.pitchMm : undefined;
    if (!face.male || pitchMm === undefined) return face;
    const width = UNDERCUT.width * pitchMm;
    const diameter = face.major - UNDERCUT.less * pitchMm;
    const leavesWall = (diameter - clearMm) / 2 >= UNDERCUT_LEAVES.wallMm;
    const leavesThread = face.depth - width >= UNDERCUT_LEAVES.turns * pitchMm;
    return leavesWall && leavesThread ? { ...face, undercut: { width, diameter } } : face;
  };
  return { s: withUndercut(sky), c: withUndercut(camera) };
}

/** How deep the hole of each face goes, mm: no deeper than the ring is long, and two of them never meet. */
function holesOf({ lengthMm }: RingSpec, s: TurnedFace, c: TurnedFace): { skyHole: number; cameraHole: number } {
  const room = lengthMm - 0.5;
  const share = (own: number, other: number, otherMale: boolean): number =>
    otherMale ? Math.min(own, lengthMm) : Math.min(own, (room * own) / Math.max(own + other, 1e-9));
  return {
    skyHole: s.male ? 0 : share(s.depth, c.depth, c.male),
    cameraHole: c.male ? 0 : share(c.depth, s.depth, s.male)
  };
}

/** Outline of the upper half of the cut ring: points (along, radius) in mm, sky side at 0, closed. */
export function profileOf(spec: RingSpec): [number, number][] {
  const { lengthMm, clearMm, outerMm } = spec;
  const { s, c } = turnedFaces(spec);
  const { skyHole, cameraHole } = holesOf(spec, s, c);
  const bore = clearMm / 2;
  const outer = outerMm / 2;
  /** From the tip of a male to the shoulder; `out` is the way the thread points. */
  const male = ({ depth, major, undercut }: TurnedFace, shoulder: number, out: -1 | 1): [number, number][] => {
    const groove: [number, number][] = undercut
      ? [
          [shoulder + out * undercut.width, major / 2],
          [shoulder + out * undercut.width, undercut.diameter / 2],
          [shoulder, undercut.diameter / 2]
        ]
      : [[shoulder, major / 2]];
    return [[shoulder + out * depth, bore], [shoulder + out * depth, major / 2], ...groove, [shoulder, outer]];
  };
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

/** Lines and texts being put on a sheet. */
class Sheet {
  readonly shapes: Drawing['shapes'] = [];
  /** What is put on it belongs to this. */
  view: ViewName = 'part';

  line = (style: LineStyle, x1: number, y1: number, x2: number, y2: number): void => {
    const drawn: DrawnLine = { kind: 'line', view: this.view, style, x1, y1, x2, y2 };
    this.shapes.push(drawn);
  };

  text = (
    [x, y]: readonly [number, number],
    text: string,
    anchor: 'start' | 'middle' | 'end' = 'start',
    turnDeg = 0,
    size = TEXT_MM
  ): void => {
    this.shapes.push({ kind: 'text', view: this.view, x, y, size, anchor, turnDeg, text });
  };

  /** The scale of what it stands beside. */
  scale(
    [x, y]: readonly [number, number],
    scale: number,
    anchor: 'start' | 'end',
    before: string,
    size = TEXT_MM
  ): void {
    const text = `${before}${scale >= 1 ? `${scale}:1` : `1:${1 / scale}`}`;
    this.shapes.push({ kind: 'text', view: this.view, x, y, size, anchor, turnDeg: 0, text, isScale: true });
  }

  /** A narrow circle, as it marks what is drawn larger elsewhere. */
  circle(x: number, y: number, radius: number): void {
    const steps = 36;
    const at = (step: number): [number, number] => {
      const angle = (2 * Math.PI * step) / steps;
      return [x + radius * Math.cos(angle), y + radius * Math.sin(angle)];
    };
    for (let step = 0; step < steps; step++) this.line('dimension', ...at(step), ...at(step + 1));
  }

  /** A dimension along the axis between two places, at a height; `from` is where its extension lines begin. */
  along(x1: number, x2: number, y: number, from: number, words: string): void {
    const beyond = y > from ? 1.5 : -1.5;
    for (const x of [x1, x2]) this.line('dimension', x, from + beyond / 2, x, y + beyond);
    const isNarrow = x2 - x1 < NARROW_MM;
    // In a narrow place the arrows come from outside, and the figure stands beside them.
    if (isNarrow) {
      this.line('dimension', x1 - 5, y, x2 + 5, y);
      arrow(this.line, x1, y, -1);
      arrow(this.line, x2, y, 1);
      this.text([x2 + 6.5, y - TEXT_MM / 2], words);
    } else {
      this.line('dimension', x1, y, x2, y);
      arrow(this.line, x1, y, 1);
      arrow(this.line, x2, y, -1);
      const fits = x2 - x1 > words.length * TEXT_MM * LETTER_SHARE + 3;
      if (fits) this.text([(x1 + x2) / 2, y + 1], words, 'middle');
      else this.text([x2 + 3, y - TEXT_MM / 2], words);
    }
  }
}

/** Narrower than this there is no room for two arrows inside, mm on the sheet. */
const NARROW_MM = 7;

/** The cut wall of a ring, with its threads, at a scale. */
function drawWall(sheet: Sheet, spec: RingSpec, x: (mm: number) => number, y: (mm: number) => number): void {
  const { lengthMm } = spec;
  const { s, c } = turnedFaces(spec);
  const { skyHole, cameraHole } = holesOf(spec, s, c);
  const profile = profileOf(spec);
  profile.forEach(([along, radius], index) => {
    const [nextAlong, nextRadius] = profile[(index + 1) % profile.length]!;
    sheet.line('outline', x(along), y(radius), x(nextAlong), y(nextRadius));
  });
  hatch(profile, x, y, sheet.line);
  // The root of a male and the crest of a female, in thin lines (ISO 6410-1, from memory).
  const thread = (radius: number, from: number, to: number): void =>
    sheet.line('thin', x(from), y(radius), x(to), y(radius));
  if (s.male) thread(s.minor / 2, -s.depth, -(s.undercut?.width ?? 0));
  else thread(s.major / 2, 0, skyHole);
  if (c.male) thread(c.minor / 2, lengthMm + (c.undercut?.width ?? 0), lengthMm + c.depth);
  else thread(c.major / 2, lengthMm - cameraHole, lengthMm);
}

const inWords = (mm: number): string => String(Number(mm.toFixed(2)));

/**
 * The workshop drawing of a ring on A4: half in section, half from outside (ISO 128, from memory), threads as ISO 6410
 * draws them, its wall enlarged with depths and undercuts, thread callouts, tolerance and material.
 */
export function ringDrawing(spec: RingSpec, title: string): Drawing {
  const { lengthMm, clearMm, outerMm, toleranceMm } = spec;
  const { s, c } = turnedFaces(spec);
  const [tip, end] = [s.male ? -s.depth : 0, lengthMm + (c.male ? c.depth : 0)];
  const whole = end - tip;
  const scale = SCALES.find((each) => outerMm * each <= ROOM.across && whole * each <= ROOM.along) ?? SCALES.at(-1)!;
  const sheet = new Sheet();
  const { line, text } = sheet;
  const x = (mm: number): number => LEFT_X + (mm - tip) * scale;
  const y = (mm: number): number => AXIS_Y + mm * scale;

  // Above the axis: cut, and the edges of the bore seen behind it. Below: from outside.
  drawWall(sheet, spec, x, y);
  const { skyHole, cameraHole } = holesOf(spec, s, c);
  const bore = clearMm / 2;
  for (const [along, radius] of [
    [tip, s.male ? bore : Math.max(bore, s.minor / 2)],
    [skyHole, bore],
    [lengthMm - cameraHole, bore],
    [end, c.male ? bore : Math.max(bore, c.minor / 2)]
  ] as const) {
    const isEdge = along === tip || along === end || (along === skyHole ? skyHole > 0 : cameraHole > 0);
    if (isEdge) line('outline', x(along), y(radius), x(along), y(0));
  }
  const outer = outerMm / 2;
  /** Steps of a male from its tip to the shoulder, along and radius. */
  const steps = ({ depth, major, undercut }: TurnedFace, shoulder: number, out: -1 | 1): [number, number][] => [
    [shoulder + out * depth, major / 2],
    ...(undercut
      ? ([
          [shoulder + out * undercut.width, major / 2],
          [shoulder + out * undercut.width, undercut.diameter / 2],
          [shoulder, undercut.diameter / 2]
        ] as [number, number][])
      : ([[shoulder, major / 2]] as [number, number][])),
    [shoulder, outer]
  ];
  const outside: [number, number][] = [
    ...(s.male ? steps(s, 0, -1) : ([[0, outer]] as [number, number][])),
    ...(c.male ? steps(c, lengthMm, 1).reverse() : ([[lengthMm, outer]] as [number, number][]))
  ];
  outside.forEach(([along, radius], index) => {
    const next = outside[index + 1];
    if (next) line('outline', x(along), y(-radius), x(next[0]), y(-next[1]));
  });
  // Seen from outside every edge goes on to the axis; the root of a male is a thin line.
  const edges = new Map<number, number>();
  for (const [along, radius] of outside) edges.set(along, Math.max(radius, edges.get(along) ?? 0));
  for (const [along, radius] of edges) line('outline', x(along), y(0), x(along), y(-radius));
  const root = (face: TurnedFace, shoulder: number, out: -1 | 1): void => {
    const from = shoulder + out * (face.undercut?.width ?? 0);
    line('thin', x(from), y(-face.minor / 2), x(shoulder + out * face.depth), y(-face.minor / 2));
  };
  if (s.male) root(s, 0, -1);
  if (c.male) root(c, lengthMm, 1);
  line('centre', x(tip) - 8, y(0), x(end) + 8, y(0));

  // The length, from shoulder to shoulder: what the ring is made for.
  const above = y(outer) + 14;
  line('dimension', x(0), y(outer) + 1, x(0), above + 1.5);
  line('dimension', x(lengthMm), y(outer) + 1, x(lengthMm), above + 1.5);
  line('dimension', x(0), above, x(lengthMm), above);
  arrow(line, x(0), above, 1);
  arrow(line, x(lengthMm), above, -1);
  text([x(0), above + 3], `${formatWithin(lengthMm, toleranceMm, 'mm')}, shoulder to shoulder`);

  // Diameters, right of the part.
  const right = x(end) + 14;
  diameter(line, text, x(lengthMm), right, y(outer), y(-outer), `Ø${outerMm}`);
  diameter(line, text, x(end), right + 12, y(clearMm / 2), y(-clearMm / 2), `Ø${clearMm} clear`);

  // Thread callouts with leaders.
  const callY = y(-outer) - 10;
  const cameraAt: [number, number] = [x(lengthMm + (c.male ? c.depth / 2 : 0)), y(-c.major / 2)];
  callout(sheet, cameraAt, [x(end) + 6, callY], `camera side: ${c.callout}`);
  const skyAt: [number, number] = [x(s.male ? -s.depth / 2 : 0), y(-s.major / 2)];
  callout(sheet, skyAt, [x(tip) - 8, callY - 8], `sky side: ${s.callout}`);

  const detail = enlarged(sheet, spec, scale, { x, y });
  sheet.view = 'sheet';

  // The frame, with what the workshop has to know.
  const lines = titleLines(title);
  const blockTop = 34 + (lines.texts.length - 1) * TITLE_LEADING_MM;
  line('outline', 10, 10, SHEET.width - 10, 10);
  line('outline', 10, SHEET.height - 10, SHEET.width - 10, SHEET.height - 10);
  line('outline', 10, 10, 10, SHEET.height - 10);
  line('outline', SHEET.width - 10, 10, SHEET.width - 10, SHEET.height - 10);
  line('outline', 10, blockTop, SHEET.width - 10, blockTop);
  lines.texts.forEach((words, index) =>
    text([15, blockTop - 8 - index * TITLE_LEADING_MM], words, 'start', 0, lines.size)
  );
  text([15, 19], 'Aluminium alloy, turned, black anodised inside and out, no burrs, threads free of coating build-up.');
  text([15, 13.5], 'All lengths in mm. Threads are not part of the length. 60° thread profile, tolerance 6g/6H.');
  sheet.scale([SHEET.width - 15, blockTop - 8], scale, 'end', 'Scale ');
  const part = { scale, x: x(0), y: AXIS_Y };
  return { ...SHEET, shapes: sheet.shapes, views: detail ? { part, detail } : { part } };
}

function callout(sheet: Sheet, at: [number, number], to: [number, number], words: string): void {
  sheet.line('dimension', ...at, to[0], to[1] + 1);
  sheet.text([to[0] - 2, to[1] - 3], words);
}

/** The wall once more, larger, with what is too small to be dimensioned on the whole; nothing where that would not help. */
function enlarged(
  sheet: Sheet,
  spec: RingSpec,
  scale: number,
  whole: { x: (mm: number) => number; y: (mm: number) => number }
): View | undefined {
  const { lengthMm, clearMm, outerMm } = spec;
  const { s, c } = turnedFaces(spec);
  const { skyHole, cameraHole } = holesOf(spec, s, c);
  const [tip, end] = [s.male ? -s.depth : 0, lengthMm + (c.male ? c.depth : 0)];
  const [bore, outer] = [clearMm / 2, outerMm / 2];
  const larger = SCALES.find((each) => (end - tip) * each <= DETAIL.along && (outer - bore) * each <= DETAIL.across);
  if (larger === undefined || larger <= scale) return undefined;
  const x = (mm: number): number => DETAIL.left + (mm - tip) * larger;
  const y = (mm: number): number => DETAIL.base + (mm - bore) * larger;
  const reach = Math.hypot((end - tip) / 2, (outer - bore) / 2) * scale;
  const [midX, midY] = [whole.x((tip + end) / 2), whole.y((bore + outer) / 2)];
  sheet.circle(midX, midY, reach);
  sheet.text([midX - reach * 0.75 - 3, midY + reach * 0.75 + 1], 'A', 'end', 0, 4.5);
  sheet.view = 'detail';
  drawWall(sheet, spec, x, y);
  const top = y(outer);
  sheet.text([DETAIL.left, top + 24], 'A', 'start', 0, 4.5);
  sheet.scale([DETAIL.left + 8, top + 24], larger, 'start', '', 4.5);
  // Depths of the holes above; lengths of the males and their undercuts below.
  if (skyHole > 0) sheet.along(x(0), x(skyHole), top + 7, top, `${inWords(skyHole)} deep`);
  if (cameraHole > 0) sheet.along(x(lengthMm - cameraHole), x(lengthMm), top + 14, top, `${inWords(cameraHole)} deep`);
  const foot = y(bore);
  let row = foot - 7;
  const below = (from: number, to: number, words: string): void => {
    sheet.along(x(from), x(to), row, foot, words);
    row -= 7;
  };
  const groove = ({ undercut }: TurnedFace): string =>
    undercut ? `undercut ${inWords(undercut.width)}, Ø${inWords(undercut.diameter)}` : '';
  if (s.male) below(tip, 0, `${inWords(s.depth)} long`);
  if (c.male) below(lengthMm, end, `${inWords(c.depth)} long`);
  if (s.undercut) below(-s.undercut.width, 0, groove(s));
  if (c.undercut) below(lengthMm, lengthMm + c.undercut.width, groove(c));
  return { scale: larger, x: x(0), y: y(0) };
}

const TITLE_LEADING_MM = 5.5;
const TITLE_SIZES = [4.5, 3.2] as const;

/** How wide a text may come out, in its own size: letters of the East are as wide as they are high. */
const widthInSizes = (text: string): number =>
  [...text].reduce((sum, letter) => sum + (letter.codePointAt(0)! >= 0x1100 ? 1.45 : LETTER_SHARE), 0);

/** A title in one large line, or in as many small ones as it takes. */
function titleLines(title: string): { size: number; texts: string[] } {
  const [large, small] = TITLE_SIZES;
  if (widthInSizes(title) * large <= TITLE_ROOM_MM) return { size: large, texts: [title] };
  const texts = [''];
  for (const word of title.split(/(?<=\s)/).flatMap((each) => (each.length > 20 ? [...each] : [each]))) {
    if (widthInSizes(texts.at(-1)! + word) * small <= TITLE_ROOM_MM) texts[texts.length - 1] += word;
    else texts.push(word);
  }
  return { size: small, texts: texts.map((each) => each.trim()) };
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
