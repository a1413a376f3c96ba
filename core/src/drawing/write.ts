import type { RingSpec } from '../finder/ring.ts';
import { profileOf } from './ringDrawing.ts';
import type { Drawing, LineStyle } from './shapes.ts';

/** Width and dashes of each line, mm (ISO 128, from memory). */
export const LINES: Readonly<Record<LineStyle, { width: number; dash: readonly number[] }>> = {
  outline: { width: 0.5, dash: [] },
  thin: { width: 0.18, dash: [] },
  hatch: { width: 0.13, dash: [] },
  dimension: { width: 0.18, dash: [] },
  centre: { width: 0.18, dash: [6, 1.5, 0.8, 1.5] }
};

/** One line of text: control characters have no meaning in a drawing, and one of their own in its file. */
// eslint-disable-next-line no-control-regex
const oneLine = (text: string): string => text.replace(/[\u0000-\u001f\u007f-\u009f\u2028\u2029]+/g, ' ');

const escaped = (text: string): string =>
  oneLine(text).replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;');

const short = (mm: number): string => String(Number(mm.toFixed(3)));

/** Capitals are about 0.72 of a font's size. */
const FONT_PER_CAPITAL = 1 / 0.72;

/** A drawing as SVG, in millimetres. */
export function writeSvg({ width, height, shapes }: Drawing): string {
  const body = shapes.map((shape) => {
    if (shape.kind === 'line') {
      const { width: stroke, dash } = LINES[shape.style];
      const dashes = dash.length === 0 ? '' : ` stroke-dasharray="${dash.join(' ')}"`;
      return `<line x1="${short(shape.x1)}" y1="${short(height - shape.y1)}" x2="${short(shape.x2)}" y2="${short(height - shape.y2)}" stroke-width="${stroke}"${dashes}/>`;
    }
    const [x, y] = [short(shape.x), short(height - shape.y)];
    const turn = shape.turnDeg === 0 ? '' : ` transform="rotate(${-shape.turnDeg} ${x} ${y})"`;
    return `<text x="${x}" y="${y}" font-size="${short(shape.size * FONT_PER_CAPITAL)}" text-anchor="${shape.anchor}"${turn}>${escaped(shape.text)}</text>`;
  });
  return [
    '<?xml version="1.0" encoding="UTF-8"?>',
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}mm" height="${height}mm" viewBox="0 0 ${width} ${height}">`,
    `<rect width="${width}" height="${height}" fill="#ffffff"/>`,
    '<g stroke="#000000" fill="none" stroke-linecap="round">',
    ...body.filter((each) => each.startsWith('<line')),
    '</g>',
    '<g fill="#000000" font-family="sans-serif">',
    ...body.filter((each) => each.startsWith('<text')),
    '</g>',
    '</svg>',
    ''
  ].join('\n');
}

/** Signs that DXF writes in a way of its own; others outside ASCII as \\U+XXXX. */
const dxfText = (text: string): string =>
  [
    ...oneLine(text)
      .replaceAll('Ø', '%%c')
      .replaceAll('±', '%%p')
      .replaceAll('°', '%%d')
      .replaceAll('×', 'x')
      .replaceAll('″', '"')
  ]
    .map((letter) => {
      const code = letter.codePointAt(0)!;
      return code < 128 ? letter : `\\U+${code.toString(16).toUpperCase().padStart(4, '0')}`;
    })
    .join('');

const DXF_JUSTIFY = { start: 0, middle: 1, end: 2 } as const;

/** A drawing as DXF (AutoCAD release 12 group codes, from memory), in millimetres, one layer a kind of line. */
export function writeDxf({ shapes }: Drawing): string {
  const pairs: (string | number)[] = [
    0,
    'SECTION',
    2,
    'HEADER',
    9,
    '$ACADVER',
    1,
    'AC1009',
    9,
    '$INSUNITS',
    70,
    4,
    0,
    'ENDSEC'
  ];
  pairs.push(0, 'SECTION', 2, 'ENTITIES');
  for (const shape of shapes) {
    if (shape.kind === 'line') {
      pairs.push(0, 'LINE', 8, shape.style.toUpperCase());
      pairs.push(10, short(shape.x1), 20, short(shape.y1), 30, 0, 11, short(shape.x2), 21, short(shape.y2), 31, 0);
    } else {
      pairs.push(0, 'TEXT', 8, 'TEXT', 10, short(shape.x), 20, short(shape.y), 30, 0, 40, short(shape.size));
      pairs.push(1, dxfText(shape.text), 50, shape.turnDeg, 72, DXF_JUSTIFY[shape.anchor]);
      pairs.push(11, short(shape.x), 21, short(shape.y), 31, 0);
    }
  }
  pairs.push(0, 'ENDSEC', 0, 'EOF');
  const lines: string[] = [];
  for (let at = 0; at < pairs.length; at += 2) lines.push(String(pairs[at]).padStart(3), String(pairs[at + 1]));
  return `${lines.join('\r\n')}\r\n`;
}

const SIDES = 128;

/**
 * A ring as a solid for a 3D printer: its profile turned about the axis, threads as plain cylinders. A dummy to try a
 * spacing with, not a part to hang a camera from.
 *
 * @returns ASCII STL, mm
 */
export function writeStl(spec: RingSpec, name: string): string {
  const profile = profileOf(spec);
  const facets: string[] = [];
  const at = ([along, radius]: readonly [number, number], side: number): [number, number, number] => {
    const angle = (2 * Math.PI * (side % SIDES)) / SIDES;
    return [radius * Math.cos(angle), radius * Math.sin(angle), along];
  };
  const facet = (a: number[], b: number[], c: number[]): void => {
    const [u, v] = [
      [b[0]! - a[0]!, b[1]! - a[1]!, b[2]! - a[2]!],
      [c[0]! - a[0]!, c[1]! - a[1]!, c[2]! - a[2]!]
    ] as const;
    const n = [u[1]! * v[2]! - u[2]! * v[1]!, u[2]! * v[0]! - u[0]! * v[2]!, u[0]! * v[1]! - u[1]! * v[0]!];
    const size = Math.hypot(...n) || 1;
    const point = (p: number[]): string => `      vertex ${p.map((mm) => mm.toFixed(5)).join(' ')}`;
    facets.push(
      `  facet normal ${n.map((part) => (part / size).toFixed(6)).join(' ')}`,
      '    outer loop',
      point(a),
      point(b),
      point(c),
      '    endloop',
      '  endfacet'
    );
  };
  profile.forEach((point, index) => {
    const next = profile[(index + 1) % profile.length]!;
    for (let side = 0; side < SIDES; side++) {
      const [a, b, c, d] = [at(point, side), at(point, side + 1), at(next, side + 1), at(next, side)];
      facet(a, b, c);
      facet(a, c, d);
    }
  });
  const word = name.replace(/[^\w.-]+/g, '_') || 'ring';
  return [`solid ${word}`, ...facets, `endsolid ${word}`, ''].join('\n');
}
