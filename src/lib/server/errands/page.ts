import { line, widthOf } from './pdf.ts';
import { decoration, newPdf, type Piece } from './structure.ts';

const MARGIN = 40;
/** Room kept at the foot, points. */
const FOOT = 46;
const LEADING = 1.35;

/** Text that is cut at spaces so that it fits; a word that is too long by itself is cut inside. */
export function wrapped(text: string, size: number, weight: 400 | 600, most: number): string[] {
  const lines: string[] = [];
  let current = '';
  const fits = (candidate: string): boolean => widthOf(candidate, size, weight) <= most;
  for (const word of text.split(/\s+/).filter(Boolean)) {
    const next = current === '' ? word : `${current} ${word}`;
    if (fits(next)) {
      current = next;
      continue;
    }
    if (current !== '') lines.push(current);
    current = '';
    for (const letter of word) {
      if (current !== '' && !fits(current + letter)) {
        lines.push(current);
        current = '';
      }
      current += letter;
    }
  }
  if (current !== '') lines.push(current);
  return lines;
}

/** A sheet that is filled from the top, and goes on on the next. */
export class Page {
  readonly doc: PDFKit.PDFDocument;
  readonly finished: Promise<Uint8Array>;
  y = MARGIN;
  readonly left = MARGIN;
  readonly #root: Piece;
  /** The table that rows are put into, while nothing else comes between. */
  #table: Piece | undefined;

  constructor(title: string, layout: 'portrait' | 'landscape' = 'portrait') {
    const { doc, finished, root } = newPdf(title, { size: 'A4', layout });
    this.doc = doc;
    this.finished = finished;
    this.#root = root;
  }

  get width(): number {
    return this.doc.page.width - 2 * MARGIN;
  }

  /** What is left of this sheet, points. */
  get roomLeft(): number {
    return this.doc.page.height - FOOT - this.y;
  }

  /** Makes sure of so much room, on a new sheet where it is not left on this one. */
  room(points: number): void {
    if (this.y + points <= this.doc.page.height - FOOT) return;
    this.doc.addPage();
    this.y = MARGIN;
  }

  gap(points: number): void {
    this.y += points;
  }

  /** The title of the whole, read out and found as one. */
  title(text: string): void {
    this.say(text, 17, 600, 0, 'H1');
  }

  /** A mark in the list beside the sheets that leads here. */
  bookmark(text: string): void {
    this.doc.outline.addItem(text);
  }

  /** A picture in a frame of its own. @param alt what it shows, in words */
  figure(alt: string, ink: () => void): void {
    this.#table = undefined;
    this.#root.within('Figure', alt).draw(ink);
  }

  /** A text over as many lines as it needs. @param indent from the left margin, points */
  say(text: string, size = 9.5, weight: 400 | 600 = 400, indent = 0, kind: 'H1' | 'H2' | 'P' = 'P'): void {
    this.#table = undefined;
    const piece = this.#root.within(kind);
    for (const part of wrapped(text, size, weight, this.width - indent)) {
      this.room(size * LEADING);
      piece.draw(() => {
        this.doc.fillColor('#000000');
        line(this.doc, part, this.left + indent, this.y, size, weight, this.width - indent + 1);
      });
      this.y += size * LEADING;
    }
  }

  rule(): void {
    decoration(this.doc, () =>
      this.doc
        .lineWidth(0.3)
        .strokeColor('#999999')
        .moveTo(this.left, this.y)
        .lineTo(this.left + this.width, this.y)
        .stroke()
    );
    this.y += 4;
  }

  /** A row of cells, each over as many lines as it needs; the row is never torn apart. */
  row(cells: readonly string[], widths: readonly number[], weight: 400 | 600 = 400, size = 8.5): void {
    const lines = cells.map((cell, at) => wrapped(cell, size, weight, widths[at]! - 8));
    const height = Math.max(1, ...lines.map(({ length }) => length)) * size * LEADING + 4;
    this.room(height);
    this.rule();
    const top = this.y;
    this.#table ??= this.#root.within('Table');
    const row = this.#table.within('TR');
    let x = this.left;
    for (const [at, cell] of lines.entries()) {
      row.within(weight === 600 ? 'TH' : 'TD').draw(() => {
        this.doc.fillColor('#000000');
        cell.forEach((part, index) => line(this.doc, part, x, top + index * size * LEADING, size, weight, widths[at]!));
      });
      x += widths[at]!;
    }
    this.y = top + height - 4;
  }

  end(): Promise<Uint8Array> {
    this.doc.end();
    return this.finished;
  }
}
