import { existsSync } from 'node:fs';
import { createRequire } from 'node:module';

const require = createRequire(import.meta.url);

/** Scripts of the label font, each in a file of its own; the first that has a letter draws it. */
const SCRIPTS = ['latin', 'latin-ext', 'greek', 'cyrillic'] as const;

/**
 * Fonts that the setup brings from Debian's packages for all other scripts, the finer one first; where they are not
 * there, their letters become dots.
 */
const FURTHER = [
  '/usr/share/fonts/truetype/droid/DroidSansFallbackFull.ttf',
  '/usr/share/fonts/opentype/unifont/unifont.otf'
] as const;

type Weight = 400 | 600;

interface Face {
  file: string;
  /** Width of a letter, em; undefined where the face does not draw it. */
  widthOf(letter: string): number | undefined;
}

interface FontFile {
  unitsPerEm: number;
  characterSet: number[];
  glyphForCodePoint(codePoint: number): { advanceWidth: number };
}

const fileOf = (script: string, weight: Weight): string =>
  require.resolve(`@fontsource/inter/files/inter-${script}-${weight}-normal.woff`);

function readFace(file: string): Face {
  const { openSync } = require('fontkit') as { openSync(path: string): FontFile };
  const font = openSync(file);
  const drawn = new Set(font.characterSet);
  const widths = new Map<string, number | undefined>();
  return {
    file,
    widthOf(letter) {
      if (!widths.has(letter)) {
        const code = letter.codePointAt(0)!;
        widths.set(letter, drawn.has(code) ? font.glyphForCodePoint(code).advanceWidth / font.unitsPerEm : undefined);
      }
      return widths.get(letter);
    }
  };
}

const faces = new Map<Weight, readonly Face[]>();

function facesOf(weight: Weight): readonly Face[] {
  const known = faces.get(weight) ?? SCRIPTS.map((script) => readFace(fileOf(script, weight)));
  faces.set(weight, known);
  return known;
}

/** Read when the first letter wants them: they are large. */
let further: readonly Face[] | undefined;
const furtherFaces = (): readonly Face[] => (further ??= FURTHER.filter((file) => existsSync(file)).map(readFace));

/** Letters that one face draws, and how wide they are together, em. */
interface Run {
  face: Face;
  text: string;
  em: number;
}

/** Stands for letters that no face has. */
const UNKNOWN = '·';

/** A text as runs of one face each, as far as it fits. */
function runsOf(text: string, weight: Weight, most = Infinity): Run[] {
  const known = facesOf(weight);
  const runs: Run[] = [];
  let used = 0;
  for (const letter of text) {
    const has = (each: Face): boolean => each.widthOf(letter) !== undefined;
    const face = known.find(has) ?? furtherFaces().find(has) ?? known[0]!;
    const em = face.widthOf(letter) ?? face.widthOf(UNKNOWN) ?? 0;
    const drawn = face.widthOf(letter) === undefined ? UNKNOWN : letter;
    used += em;
    if (used > most) break;
    const last = runs.at(-1);
    if (last?.face === face) {
      last.text += drawn;
      last.em += em;
    } else runs.push({ face, text: drawn, em });
  }
  return runs;
}

/** A line of text, cut to a width, in whatever font has its letters; letters none has become a middle dot. */
export function line(
  doc: PDFKit.PDFDocument,
  text: string,
  x: number,
  y: number,
  size: number,
  weight: Weight,
  width: number
) {
  doc.fontSize(size);
  let at = x;
  for (const { face, text: drawn, em } of runsOf(text, weight, width / size)) {
    // Without ligatures and kerning a run is as wide as its letters are.
    doc.font(face.file).text(drawn, at, y, { lineBreak: false, features: [] });
    at += em * size;
  }
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
export const widthOf = (text: string, size: number, weight: Weight): number =>
  size * runsOf(text, weight).reduce((em, run) => em + run.em, 0);
