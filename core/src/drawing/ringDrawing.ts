import type { RingSpec } from '../finder/ring.ts';
import { formatWithin, plainMm } from '../why/wording.ts';
import { drawRing, drawWall, extentOf, flangesInWords, overallMm, type Placed } from './drawRing.ts';
import type { Drawing, View } from './shapes.ts';
import { arrow, diameter, SCALES, Sheet, SHEET, titleBlock } from './sheet.ts';
import { drilledIn, holesOf, turnedFaces, type TurnedFace } from './turned.ts';

const AXIS_Y = 118;
const LEFT_X = 46;

/** Room for the whole ring, mm on the sheet. */
const ROOM = { along: 62, across: 92 };

/** Room for its wall enlarged; less where its screw holes are seen from the front as well. */
const DETAIL = { left: 176, base: 88, along: 84, across: 62 };
const DETAIL_OVER_FRONT = { left: 176, base: 146, along: 84, across: 24 };

/** Room for the front, mm on the sheet. */
const FRONT = { x: 240, y: 84, across: 62 };

const inWords = (mm: number): string => String(Number(mm.toFixed(2)));

/**
 * The workshop drawing of a ring on A4: half in section, half from outside (ISO 128, from memory), threads as ISO 6410
 * draws them, its wall enlarged with depths and undercuts, bolted faces from the front, callouts, tolerance and material.
 */
export function ringDrawing(spec: RingSpec, title: string): Drawing {
  const { lengthMm, clearMm, outerMm, toleranceMm } = spec;
  const { s, c } = turnedFaces(spec);
  const { tip, end } = extentOf(spec);
  const whole = end - tip;
  const scale = SCALES.find((each) => outerMm * each <= ROOM.across && whole * each <= ROOM.along) ?? SCALES.at(-1)!;
  const sheet = new Sheet();
  const { line, text } = sheet;
  const x = (mm: number): number => LEFT_X + (mm - tip) * scale;
  const y = (mm: number): number => AXIS_Y + mm * scale;
  drawRing(sheet, spec, { x, y });

  // The length, from shoulder to shoulder: what the ring is made for.
  const outer = outerMm / 2;
  const above = y(outer) + 14;
  lengthAbove(sheet, [x(0), x(lengthMm)], y(outer), above);
  text([x(0), above + 3], `${formatWithin(lengthMm, toleranceMm, 'mm')}, shoulder to shoulder`);
  const flanges = Object.values(flangesInWords(spec));
  if (flanges.length > 0) {
    const [from, to] = [x(tip), x(end)];
    lengthAbove(sheet, [from, to], y(outer), above + 10);
    text([from, above + 13], `${plainMm(overallMm(spec))} with ${flanges.join(' and ')}`);
  }

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

  const fromFront = front(sheet, spec);
  const detail = enlarged(sheet, spec, scale, { x, y }, fromFront ? DETAIL_OVER_FRONT : DETAIL);
  sheet.view = 'sheet';
  titleBlock(sheet, title, scale);
  const part = { scale, x: x(0), y: AXIS_Y };
  const views = { part, ...(fromFront && { front: fromFront }), ...(detail && { detail }) };
  return { ...SHEET, shapes: sheet.shapes, views };
}

/** A dimension over the part, its extension lines from the part’s edge. */
export function lengthAbove({ line }: Sheet, [from, to]: readonly [number, number], edge: number, at: number): void {
  for (const x of [from, to]) line('dimension', x, edge + 1, x, at + 1.5);
  line('dimension', from, at, to, at);
  arrow(line, from, at, 1);
  arrow(line, to, at, -1);
}

/** A part with screw holes from its bolted face; nothing where it has none. */
function front(sheet: Sheet, spec: RingSpec): View | undefined {
  const faces = (['sky', 'camera'] as const).flatMap((side) => {
    const holes = drilledIn(spec, side);
    return holes ? [{ side, holes }] : [];
  });
  if (faces.length === 0) return undefined;
  const scale = SCALES.find((each) => spec.outerMm * each <= FRONT.across) ?? SCALES.at(-1)!;
  sheet.view = 'front';
  for (const radius of [spec.outerMm / 2, spec.clearMm / 2]) sheet.circle('outline', FRONT.x, FRONT.y, radius * scale);
  faces.forEach(({ holes: { count, circleMm, drillMm, headMm } }, set) => {
    const reach = (circleMm / 2) * scale;
    sheet.circle('thin', FRONT.x, FRONT.y, reach);
    for (let hole = 0; hole < count; hole++) {
      // The second face's holes stand between those of the first.
      const angle = ((hole + set / 2) / count) * 2 * Math.PI + Math.PI / 2;
      const [x, y] = [FRONT.x + reach * Math.cos(angle), FRONT.y + reach * Math.sin(angle)];
      sheet.circle('outline', x, y, (drillMm / 2) * scale);
      if (headMm > 0) sheet.circle('thin', x, y, (headMm / 2) * scale);
    }
  });
  const reach = (spec.outerMm / 2) * scale;
  sheet.line('centre', FRONT.x - reach - 4, FRONT.y, FRONT.x + reach + 4, FRONT.y);
  sheet.line('centre', FRONT.x, FRONT.y - reach - 4, FRONT.x, FRONT.y + reach + 4);
  const sides = faces.map(({ side }) => side).join(' and ');
  sheet.text([FRONT.x, FRONT.y - FRONT.across / 2 - 7], `${sides} side, holes equally spaced`, 'middle');
  sheet.scale([FRONT.x + reach * 0.75 + 3, FRONT.y + reach * 0.75 + 1], scale, 'start', '');
  return { scale, x: FRONT.x, y: FRONT.y };
}

function callout(sheet: Sheet, at: [number, number], to: [number, number], words: string): void {
  sheet.line('dimension', ...at, to[0], to[1] + 1);
  sheet.text([to[0] - 2, to[1] - 3], words);
}

/** The wall once more, larger, with what is too small to be dimensioned on the whole; nothing where that would not help. */
function enlarged(sheet: Sheet, spec: RingSpec, scale: number, whole: Placed, room: typeof DETAIL): View | undefined {
  const { lengthMm, clearMm, outerMm } = spec;
  const { s, c } = turnedFaces(spec);
  const { skyHole, cameraHole } = holesOf(spec, s, c);
  const [tip, end] = [s.male ? -s.depth : 0, lengthMm + (c.male ? c.depth : 0)];
  const [bore, outer] = [clearMm / 2, outerMm / 2];
  const larger = SCALES.find((each) => (end - tip) * each <= room.along && (outer - bore) * each <= room.across);
  if (larger === undefined || larger <= scale) return undefined;
  const x = (mm: number): number => room.left + (mm - tip) * larger;
  const y = (mm: number): number => room.base + (mm - bore) * larger;
  const reach = Math.hypot((end - tip) / 2, (outer - bore) / 2) * scale;
  const [midX, midY] = [whole.x((tip + end) / 2), whole.y((bore + outer) / 2)];
  sheet.circle('dimension', midX, midY, reach);
  sheet.text([midX - reach * 0.75 - 3, midY + reach * 0.75 + 1], 'A', 'end', 0, 4.5);
  sheet.view = 'detail';
  drawWall(sheet, spec, { x, y });
  const top = y(outer);
  sheet.text([room.left, top + 24], 'A', 'start', 0, 4.5);
  sheet.scale([room.left + 8, top + 24], larger, 'start', '', 4.5);
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
