import type { Drawing, DrawnLine, DrawnText, LineStyle, ViewName } from './shapes.ts';

/** A4, lying. */
export const SHEET = { width: 297, height: 210 };

/** Height of capitals where nothing else is said, mm. */
export const TEXT_MM = 3.2;

/** Room for the title, left of the scale, mm; and how much of its size a letter is wide at most (from memory). */
const TITLE_ROOM_MM = 225;
const LETTER_SHARE = 0.72;

/** Scales a drawing may have (ISO 5455, from memory). */
export const SCALES = [10, 5, 2, 1, 0.5, 0.2, 0.1];

/** Lines and texts being put on a sheet. */
export class Sheet {
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
    anchor: DrawnText['anchor'] = 'start',
    turnDeg = 0,
    size = TEXT_MM
  ): void => {
    this.shapes.push({ kind: 'text', view: this.view, x, y, size, anchor, turnDeg, text });
  };

  /** The scale of what it stands beside. */
  scale(
    [x, y]: readonly [number, number],
    scale: number,
    anchor: DrawnText['anchor'],
    before: string,
    size = TEXT_MM
  ): void {
    const text = `${before}${scale >= 1 ? `${scale}:1` : `1:${1 / scale}`}`;
    this.shapes.push({ kind: 'text', view: this.view, x, y, size, anchor, turnDeg: 0, text, isScale: true });
  }

  /** A circle as short lines: a drawing has nothing else. */
  circle(style: LineStyle, x: number, y: number, radius: number): void {
    const steps = Math.max(24, 4 * Math.ceil(2 * Math.sqrt(radius)));
    const at = (step: number): [number, number] => {
      const angle = (2 * Math.PI * step) / steps;
      return [x + radius * Math.cos(angle), y + radius * Math.sin(angle)];
    };
    for (let step = 0; step < steps; step++) this.line(style, ...at(step), ...at(step + 1));
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

const TITLE_LEADING_MM = 5.5;
const TITLE_SIZES = [4.5, 3.2] as const;

/** How wide a text may come out, in its own size: letters of the East are as wide as they are high. */
const widthInSizes = (text: string): number =>
  [...text].reduce((sum, letter) => sum + (letter.codePointAt(0)! >= 0x1100 ? 1.45 : LETTER_SHARE), 0);

/** A text in lines no wider than there is room, mm. */
export function wrapped(text: string, size: number, roomMm: number): string[] {
  const lines = [''];
  for (const word of text.split(/(?<=\s)/).flatMap((each) => (each.length > 20 ? [...each] : [each]))) {
    if (widthInSizes(lines.at(-1)! + word.trimEnd()) * size <= roomMm) lines[lines.length - 1] += word;
    else lines.push(word);
  }
  return lines.map((each) => each.trim());
}

/** A title in one large line, or in as many small ones as it takes. */
function titleLines(title: string): { size: number; texts: string[] } {
  const [large, small] = TITLE_SIZES;
  if (widthInSizes(title) * large <= TITLE_ROOM_MM) return { size: large, texts: [title] };
  return { size: small, texts: wrapped(title, small, TITLE_ROOM_MM) };
}

/**
 * The frame of a sheet, with its title, its scale and what a workshop has to know of every part.
 *
 * @returns where the title block ends, mm
 */
export function titleBlock(sheet: Sheet, title: string, scale: number): number {
  const { line, text } = sheet;
  const { size, texts } = titleLines(title);
  const topMm = 34 + (texts.length - 1) * TITLE_LEADING_MM;
  const [right, top] = [SHEET.width - FRAME_MM, SHEET.height - FRAME_MM];
  line('outline', FRAME_MM, FRAME_MM, right, FRAME_MM);
  line('outline', FRAME_MM, top, right, top);
  line('outline', FRAME_MM, FRAME_MM, FRAME_MM, top);
  line('outline', right, FRAME_MM, right, top);
  line('outline', FRAME_MM, topMm, right, topMm);
  texts.forEach((words, index) => text([15, topMm - 8 - index * TITLE_LEADING_MM], words, 'start', 0, size));
  text([15, 19], 'Aluminium alloy, turned, black anodised inside and out, no burrs, threads free of coating build-up.');
  text([15, 13.5], 'All lengths in mm. Threads are not part of the length. 60° thread profile, tolerance 6g/6H.');
  sheet.scale([SHEET.width - 15, topMm - 8], scale, 'end', 'Scale ');
  return topMm;
}

/** Between the edge of the paper and the frame, mm. */
export const FRAME_MM = 10;

export function arrow(
  line: (style: LineStyle, x1: number, y1: number, x2: number, y2: number) => void,
  x: number,
  y: number,
  to: 1 | -1
): void {
  line('dimension', x, y, x + 2.4 * to, y + 0.8);
  line('dimension', x, y, x + 2.4 * to, y - 0.8);
}

export function diameter(
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

/** Lines at 45° where they lie inside an outline and outside what is cut out of it. */
export function hatch(
  outlines: readonly (readonly (readonly [number, number])[])[],
  x: (mm: number) => number,
  y: (mm: number) => number,
  line: (style: LineStyle, x1: number, y1: number, x2: number, y2: number) => void
): void {
  const loops = outlines.map((outline) => outline.map(([along, radius]) => [x(along), y(radius)] as const));
  const offsets = loops.flat().map(([px, py]) => py - px);
  for (let c = Math.ceil(Math.min(...offsets) / HATCH_MM) * HATCH_MM; c < Math.max(...offsets); c += HATCH_MM) {
    const crossings: number[] = [];
    for (const points of loops) {
      points.forEach(([ax, ay], index) => {
        const [bx, by] = points[(index + 1) % points.length]!;
        const [a, b] = [ay - ax - c, by - bx - c];
        if (a > 0 === b > 0) return;
        crossings.push(ax + ((bx - ax) * a) / (a - b));
      });
    }
    crossings.sort((a, b) => a - b);
    for (let at = 0; at + 1 < crossings.length; at += 2) {
      line('hatch', crossings[at]!, crossings[at]! + c, crossings[at + 1]!, crossings[at + 1]! + c);
    }
  }
}
