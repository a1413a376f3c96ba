import { createRequire } from 'node:module';

const require = createRequire(import.meta.url);

/** Scripts of the label font, each in a file of its own; the first that has a letter draws it. */
const SCRIPTS = ['latin', 'latin-ext', 'greek', 'cyrillic'] as const;
const fontFile = (script: string, weight: number): string =>
  require.resolve(`@fontsource/inter/files/inter-${script}-${weight}-normal.woff`);

/** A line of text, cut to a width, in whatever font has its letters; letters none has become a middle dot. */
export function line(
  doc: PDFKit.PDFDocument,
  text: string,
  x: number,
  y: number,
  size: number,
  weight: number,
  width: number
) {
  doc.fontSize(size);
  let at = x;
  for (const letter of text) {
    const script = SCRIPTS.find((each) => hasLetter(fontFile(each, weight), letter));
    doc.font(fontFile(script ?? 'latin', weight));
    const drawn = script ? letter : '·';
    const wide = doc.widthOfString(drawn);
    if (at + wide > x + width) return;
    doc.text(drawn, at, y, { lineBreak: false });
    at += wide;
  }
}

const letters = new Map<string, ReadonlySet<number>>();

/** Whether a font file draws a letter. */
function hasLetter(file: string, letter: string): boolean {
  let known = letters.get(file);
  if (!known) {
    const fontkit = require('fontkit') as { openSync(path: string): { characterSet: number[] } };
    known = new Set(fontkit.openSync(file).characterSet);
    letters.set(file, known);
  }
  return known.has(letter.codePointAt(0)!);
}

/** Everything a document writes, once it is ended. */
export function finishedPdf(doc: PDFKit.PDFDocument): Promise<Uint8Array> {
  const chunks: Uint8Array[] = [];
  return new Promise((done, failed) => {
    doc.on('data', (chunk: Uint8Array) => chunks.push(chunk));
    doc.on('end', () => done(Buffer.concat(chunks)));
    doc.on('error', failed);
  });
}

/** Width of a text as {@link line} draws it, points. */
export function widthOf(doc: PDFKit.PDFDocument, text: string, size: number, weight: number): number {
  doc.fontSize(size);
  let width = 0;
  for (const letter of text) {
    const script = SCRIPTS.find((each) => hasLetter(fontFile(each, weight), letter));
    width += doc.font(fontFile(script ?? 'latin', weight)).widthOfString(script ? letter : '·');
  }
  return width;
}
