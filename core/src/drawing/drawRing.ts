import type { BoltedFlange, RingSpec } from '../finder/ring.ts';
import { plainMm } from '../why/wording.ts';
import { hatch, type Sheet } from './sheet.ts';
import { drilledIn, holesOf, profileOf, stepsOf, turnedFaces, type TurnedFace } from './turned.ts';

/** From a part to its sheet: mm along the axis, and from it. */
export interface Placed {
  x: (mm: number) => number;
  y: (mm: number) => number;
}

type Outline = readonly (readonly [number, number])[];

/** Where a part begins and ends with its threads and flanges, mm from the shoulder of its sky face. */
export function extentOf(spec: RingSpec): { tip: number; end: number } {
  const { s, c } = turnedFaces(spec);
  return {
    tip: -(spec.flanges?.sky?.thicknessMm ?? (s.male ? s.depth : 0)),
    end: spec.lengthMm + (spec.flanges?.camera?.thicknessMm ?? (c.male ? c.depth : 0))
  };
}

/** Its length with what is bolted to it, mm. */
export const overallMm = ({ lengthMm, flanges }: RingSpec): number =>
  lengthMm + (flanges?.sky?.thicknessMm ?? 0) + (flanges?.camera?.thicknessMm ?? 0);

/** The flanges of a part in words: what each is, and how thick. */
export function flangesInWords({ flanges }: RingSpec): { sky?: string; camera?: string } {
  const inWords = ({ bayonet, gender, thicknessMm }: BoltedFlange): string =>
    `bayonet ${bayonet} ${gender}, ${plainMm(thicknessMm)} thick`;
  return {
    ...(flanges?.sky && { sky: inWords(flanges.sky) }),
    ...(flanges?.camera && { camera: inWords(flanges.camera) })
  };
}

/** Holes of bolted faces, cut along their axes: each with its head, from the bolted face to the other one. */
function screwHoles(spec: RingSpec): Outline[] {
  const { lengthMm } = spec;
  const { s, c } = turnedFaces(spec);
  const { skyHole, cameraHole } = holesOf(spec, s, c);
  const [sky, camera] = [drilledIn(spec, 'sky'), drilledIn(spec, 'camera')];
  // Where both circles are alike the holes stand between each other: one of them is cut.
  const isSame = sky && camera && Math.abs(sky.circleMm - camera.circleMm) < sky.drillMm + camera.drillMm;
  const cut = (side: 'sky' | 'camera'): Outline[] => {
    const holes = side === 'sky' ? sky : camera;
    if (!holes || (side === 'camera' && isSame)) return [];
    const [opposite, deepMm] = side === 'sky' ? [c, cameraHole] : [s, skyHole];
    // A hole that comes out inside the other face's thread ends there.
    const isInside = !opposite.male && deepMm > 0 && holes.circleMm < opposite.minor;
    const toMm = Math.min(holes.depthMm, lengthMm - (isInside ? deepMm : 0));
    const at = (mm: number): number => (side === 'sky' ? mm : lengthMm - mm);
    const [middle, drill, head] = [holes.circleMm / 2, holes.drillMm / 2, holes.headMm / 2];
    const sinksMm = spec.screws?.[side]?.hole === 'countersunk' ? Math.min(head - drill, toMm) : 0;
    const outward: [number, number][] =
      sinksMm > 0
        ? [
            [at(toMm - sinksMm), drill],
            [at(toMm), drill + sinksMm]
          ]
        : [[at(toMm), drill]];
    return [
      [
        [at(0), middle - drill],
        ...outward.map(([along, radius]) => [along, middle - radius] as const),
        ...outward.toReversed().map(([along, radius]) => [along, middle + radius] as const),
        [at(0), middle + drill]
      ]
    ];
  };
  return [...cut('sky'), ...cut('camera')];
}

/** The cut wall of a ring, with its threads, at a scale. */
export function drawWall(sheet: Sheet, spec: RingSpec, { x, y }: Placed): void {
  const { lengthMm } = spec;
  const { s, c } = turnedFaces(spec);
  const { skyHole, cameraHole } = holesOf(spec, s, c);
  const profile = profileOf(spec);
  const outlines = [profile, ...screwHoles(spec)];
  for (const outline of outlines) {
    outline.forEach(([along, radius], index) => {
      const [nextAlong, nextRadius] = outline[(index + 1) % outline.length]!;
      sheet.line('outline', x(along), y(radius), x(nextAlong), y(nextRadius));
    });
  }
  hatch(outlines, x, y, sheet.line);
  for (const side of ['sky', 'camera'] as const) {
    const middle = drilledIn(spec, side)?.circleMm;
    if (middle !== undefined) sheet.line('centre', x(0) - 2, y(middle / 2), x(lengthMm) + 2, y(middle / 2));
  }
  // The root of a male and the crest of a female, in thin lines (ISO 6410-1, from memory).
  const thread = (radius: number, from: number, to: number): void =>
    sheet.line('thin', x(from), y(radius), x(to), y(radius));
  if (s.male) thread(s.minor / 2, -s.depth, -(s.undercut?.width ?? 0));
  else if (skyHole > 0) thread(s.major / 2, 0, skyHole);
  if (c.male) thread(c.minor / 2, lengthMm + (c.undercut?.width ?? 0), lengthMm + c.depth);
  else if (cameraHole > 0) thread(c.major / 2, lengthMm - cameraHole, lengthMm);
}

/** A part as it is drawn: the upper half cut, the lower one from outside (ISO 128, from memory). */
export function drawRing(sheet: Sheet, spec: RingSpec, placed: Placed): void {
  const { x, y } = placed;
  const { line } = sheet;
  const { lengthMm, clearMm, outerMm } = spec;
  const { s, c } = turnedFaces(spec);
  const [first, last] = [s.male ? -s.depth : 0, lengthMm + (c.male ? c.depth : 0)];

  // Above the axis: cut, and the edges of the bore seen behind it. Below: from outside.
  drawWall(sheet, spec, placed);
  const { skyHole, cameraHole } = holesOf(spec, s, c);
  const bore = clearMm / 2;
  for (const [along, radius] of [
    [first, s.male ? bore : Math.max(bore, s.minor / 2)],
    [skyHole, bore],
    [lengthMm - cameraHole, bore],
    [last, c.male ? bore : Math.max(bore, c.minor / 2)]
  ] as const) {
    const isEdge = along === first || along === last || (along === skyHole ? skyHole > 0 : cameraHole > 0);
    if (isEdge) line('outline', x(along), y(radius), x(along), y(0));
  }
  const outer = outerMm / 2;
  const outside: [number, number][] = [
    ...(s.male ? stepsOf(s, 0, -1, outer) : ([[0, outer]] as [number, number][])),
    ...(c.male ? stepsOf(c, lengthMm, 1, outer).reverse() : ([[lengthMm, outer]] as [number, number][]))
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
  drawFlanges(sheet, spec, placed);
  const { tip, end } = extentOf(spec);
  line('centre', x(tip) - 8, y(0), x(end) + 8, y(0));
}

/** What is bolted to it, as a neighbour is drawn: in chain lines, both halves. */
function drawFlanges(sheet: Sheet, spec: RingSpec, { x, y }: Placed): void {
  for (const side of ['sky', 'camera'] as const) {
    const flange = spec.flanges?.[side];
    if (!flange) continue;
    const face = side === 'sky' ? 0 : spec.lengthMm;
    const away = side === 'sky' ? -flange.thicknessMm : spec.lengthMm + flange.thicknessMm;
    for (const half of [1, -1]) {
      const [inner, outer] = [(half * spec.clearMm) / 2, (half * spec.outerMm) / 2];
      sheet.line('centre', x(face), y(outer), x(away), y(outer));
      sheet.line('centre', x(away), y(outer), x(away), y(inner));
      sheet.line('centre', x(away), y(inner), x(face), y(inner));
    }
  }
}
