import type { RingSpec } from '../finder/ring.ts';
import { profileOf } from './turned.ts';
import type { Drawing, DrawnLine, DrawnText, LineStyle, ViewName } from './shapes.ts';

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
/** A place in a file that is measured from, not looked at. */
const fine = (mm: number): string => String(Number(mm.toFixed(6)));

/** Capitals are about 0.72 of a font's size. */
export const FONT_PER_CAPITAL = 1 / 0.72;

const svgLine = (height: number, { x1, y1, x2, y2, style }: DrawnLine): string => {
  const { width, dash } = LINES[style];
  const dashes = dash.length === 0 ? '' : ` stroke-dasharray="${dash.join(' ')}"`;
  return `<line x1="${fine(x1)}" y1="${fine(height - y1)}" x2="${fine(x2)}" y2="${fine(height - y2)}" stroke-width="${width}"${dashes}/>`;
};

const svgText = (height: number, { x, y, size, anchor, turnDeg, text }: DrawnText): string => {
  const [left, down] = [short(x), short(height - y)];
  const turn = turnDeg === 0 ? '' : ` transform="rotate(${-turnDeg} ${left} ${down})"`;
  return `<text x="${left}" y="${down}" font-size="${short(size * FONT_PER_CAPITAL)}" text-anchor="${anchor}"${turn}>${escaped(text)}</text>`;
};

const VIEWS: readonly ViewName[] = ['sheet', 'part', 'front', 'detail'];

/** A drawing as SVG, in millimetres of its sheet; lines and texts of each view in groups of their own. */
export function writeSvg({ width, height, shapes }: Drawing): string {
  const group = (attributes: string, body: readonly string[]): string[] =>
    body.length === 0 ? [] : [`<g ${attributes}>`, ...body, '</g>'];
  const lines = shapes.filter((shape) => shape.kind === 'line');
  const texts = shapes.filter((shape) => shape.kind === 'text');
  return [
    '<?xml version="1.0" encoding="UTF-8"?>',
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}mm" height="${height}mm" viewBox="0 0 ${width} ${height}">`,
    `<rect width="${width}" height="${height}" fill="#ffffff"/>`,
    ...VIEWS.flatMap((view) => [
      ...(Object.keys(LINES) as LineStyle[]).flatMap((style) =>
        group(
          `id="${view}-${style}" stroke="#000000" fill="none" stroke-linecap="round"`,
          lines.filter((line) => line.view === view && line.style === style).map((line) => svgLine(height, line))
        )
      ),
      ...group(
        `id="${view}-text" fill="#000000" font-family="sans-serif"`,
        texts.filter((text) => text.view === view).map((text) => svgText(height, text))
      )
    ]),
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

const TEXT_HEIGHT_MM = 2.5;
const DXF_JUSTIFY = { start: 0, middle: 1, end: 2 } as const;

/** Dashes of a line as DXF has them: drawn parts are positive, gaps negative. */
const DXF_CENTRE = LINES.centre.dash.map((mm, at) => (at % 2 === 0 ? mm : -mm));

/** Layers a shape may lie on: of each view, its kinds of line and its texts. */
const layerOf = (shape: Drawing['shapes'][number]): string => {
  const own = shape.kind === 'line' ? shape.style : 'text';
  return (shape.view === 'part' ? own : `${shape.view}_${own}`).toUpperCase();
};

/**
 * A drawing as DXF (AutoCAD release 12 group codes, from memory), in millimetres: the part 1:1, its axis at y = 0 and the
 * shoulder of its sky side at x = 0, one layer a kind of line. Its front and the detail stand apart, 1:1 as well, and the
 * sheet around them, each on layers of its own.
 */
export function writeDxf({ shapes, views }: Drawing): string {
  const { part } = views;
  const onPart = (x: number, y: number): [number, number] => [(x - part.x) / part.scale, (y - part.y) / part.scale];
  const placed = (view: ViewName, x: number, y: number): [number, number] => {
    const own = view === 'sheet' ? undefined : views[view];
    if (!own) return onPart(x, y);
    const [fromX, fromY] = onPart(own.x, own.y);
    return [fromX + (x - own.x) / own.scale, fromY + (y - own.y) / own.scale];
  };
  const scaleOf = (view: ViewName): number => (view === 'sheet' ? part : (views[view] ?? part)).scale;

  const pairs: (string | number)[] = [];
  const put = (...more: (string | number)[]): void => void pairs.push(...more);
  const section = (name: string, body: () => void): void => {
    put(0, 'SECTION', 2, name);
    body();
    put(0, 'ENDSEC');
  };
  const table = (name: string, count: number, body: () => void): void => {
    put(0, 'TABLE', 2, name, 70, count);
    body();
    put(0, 'ENDTAB');
  };
  const layers = [...new Set(shapes.map(layerOf))];
  section('HEADER', () => put(9, '$ACADVER', 1, 'AC1009', 9, '$INSUNITS', 70, 4));
  section('TABLES', () => {
    table('LTYPE', 2, () => {
      put(0, 'LTYPE', 2, 'CONTINUOUS', 70, 0, 3, 'Solid', 72, 65, 73, 0, 40, 0);
      const whole = LINES.centre.dash.reduce((sum, mm) => sum + mm, 0) / part.scale;
      put(0, 'LTYPE', 2, 'CENTRE', 70, 0, 3, 'Long dash, short dash', 72, 65, 73, DXF_CENTRE.length, 40, short(whole));
      for (const dash of DXF_CENTRE) put(49, short(dash / part.scale));
    });
    table('LAYER', layers.length, () => {
      for (const layer of layers)
        put(0, 'LAYER', 2, layer, 70, 0, 62, 7, 6, layer === 'CENTRE' ? 'CENTRE' : 'CONTINUOUS');
    });
    table('STYLE', 1, () =>
      put(0, 'STYLE', 2, 'STANDARD', 70, 0, 40, 0, 41, 1, 50, 0, 71, 0, 42, TEXT_HEIGHT_MM, 3, 'txt', 4, '')
    );
  });
  section('ENTITIES', () => {
    for (const shape of shapes) {
      if (shape.kind === 'line') {
        const [x1, y1] = placed(shape.view, shape.x1, shape.y1);
        const [x2, y2] = placed(shape.view, shape.x2, shape.y2);
        put(0, 'LINE', 8, layerOf(shape), 10, fine(x1), 20, fine(y1), 30, 0, 11, fine(x2), 21, fine(y2), 31, 0);
      } else if (!shape.isScale) {
        const [x, y] = placed(shape.view, shape.x, shape.y).map(fine) as [string, string];
        put(0, 'TEXT', 8, layerOf(shape), 10, x, 20, y, 30, 0, 40, fine(shape.size / scaleOf(shape.view)));
        put(1, dxfText(shape.text), 50, shape.turnDeg, 72, DXF_JUSTIFY[shape.anchor], 11, x, 21, y, 31, 0);
      }
    }
  });
  put(0, 'EOF');
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
