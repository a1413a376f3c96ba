import { facesOf, isFace, readQuickLine, type QuickEntry } from '../drawer/quickLine.ts';
import { elementOfEntry } from '../drawer/quickPart.ts';
import { bayonetIn, MOST_QUICK, is, tokensOf } from '../drawer/quickTokens.ts';
import { flangeOf } from '../joint/flange.ts';
import {
  KINDS,
  type BodyElement,
  type CameraElement,
  type ElementKind,
  type Host,
  type SolidElement,
  type Train
} from '../train/model.ts';
import { begunCorrector, isUnnamed, unnamedHost } from './begun.ts';
import { LENS_MOUNTS, usualBayonet, usualHostFace } from './catalogue.ts';
import { namesCorrector, readCorrectorLine, type CorrectorReading } from './correctorLine.ts';
import { mayBeHost, readHostLine, type HostReading } from './hostLine.ts';

/** An answer to a question: its button, and the notes with it. */
export interface NoteChoice {
  label: string;
  text: string;
}

/** What a piece of somebody's notes was understood as. */
export type NoteMeaning =
  | { is: 'host'; host: HostReading }
  | { is: 'corrector'; corrector: CorrectorReading; faces: Faces }
  | { is: 'camera'; camera: QuickEntry; name: string }
  | { is: 'parts'; entries: readonly QuickEntry[]; name: string }
  | { is: 'note' }
  | { is: 'question'; message: string };

export type NotePiece = NoteMeaning & { text: string; choices: readonly NoteChoice[] };

export interface NotesReading {
  pieces: readonly NotePiece[];
  /** Pieces stood in the order from the camera to the telescope. */
  turned: boolean;
  /** What a train cannot do without and no piece says. */
  missing: readonly ('host' | 'camera')[];
}

/** No notes are longer, letters and pieces. */
export const MOST_NOTE_CHARS = 4000;
const MOST_PIECES = 60;

/** A piece that is only kept begins with this. */
const KEPT = '#';

/** Between pieces: a new line, a comma that is none of a number, a sign between blanks. */
const SEPARATOR = /[\n;|]|,(?!\d)|(?<!\d),|\s(?:->|→|>|\+|and|und|et)\s/gi;
const BULLET = /^\s*(?:[-*•–]|\d+[.)](?=\s))\s*/;
const LENGTH_ALONE = /^[\d.,]+\s*(?:mm)?(?:\s*[x×*]\s*\d+)?$/i;

/** Kinds there may be several of in a row. */
const REPEATED: ReadonlySet<ElementKind> = new Set(['spacer', 'shim', 'extension-tube']);
/** Kinds a length with a name may be of. */
const LIKELY: readonly Exclude<ElementKind, 'gap'>[] = [
  'spacer',
  'adapter',
  'filter-wheel',
  'filter-drawer',
  'off-axis-guider',
  'rotator',
  'camera'
];

interface Chunk {
  from: number;
  text: string;
}

/** The notes cut where one thing ends and another begins. */
function chunksOf(text: string): Chunk[] {
  const chunks: Chunk[] = [];
  let from = 0;
  const put = (to: number): void => {
    const raw = text.slice(from, to);
    const skipped = BULLET.exec(raw)?.[0].length ?? 0;
    const trimmed = raw.slice(skipped).trim();
    if (trimmed === '') return;
    const begins = from + raw.indexOf(trimmed, skipped);
    const last = chunks.at(-1);
    if (last && goesOn(last.text, trimmed)) last.text = text.slice(last.from, begins + trimmed.length);
    else chunks.push({ from: begins, text: trimmed });
  };
  for (const { index, 0: sign } of text.matchAll(SEPARATOR)) {
    put(index);
    from = index + sign.length;
  }
  put(text.length);
  return chunks;
}

/** Whether a length alone belongs to what stands before it: a thing without one, or rings in a row. */
function goesOn(before: string, text: string): boolean {
  if (!LENGTH_ALONE.test(text) || before.startsWith(KEPT) || mayBeHost(before)) return false;
  if (!/\d/.test(before)) return true;
  const reading = readQuickLine(before, true);
  return reading.ok && reading.entries.every(({ kind }) => REPEATED.has(kind));
}

type Faces = Pick<BodyElement, 'sky' | 'camera'>;

/** What says something of a face. */
const OF_FACES: ReadonlySet<string> = new Set(['thread', 'gender', 'joiner', 'bayonet', 'bolts', 'lock-ring']);

/** Faces of a corrector: of one thread the camera’s. @returns a question where a gender or a pitch is missing */
function correctorFaces(text: string): Faces | Meant {
  const found = tokensOf(text, true);
  if ('ok' in found) return {};
  const tokens = found.tokens.filter(({ is: what }) => OF_FACES.has(what));
  const named = tokens.filter(isFace);
  if (named.length === 0) return {};
  // One face is what a camera has as well: its only one. It is the corrector’s last.
  const isUnsaid = named.length === 1 && !tokens.some(is('gender'));
  const end = { from: text.length, to: text.length };
  // Most are male (common practice, no source).
  const said: typeof tokens = isUnsaid ? [...tokens, { is: 'gender', gender: 'male', ...end }] : tokens;
  const faces = facesOf(text, said, named.length === 1 ? 'camera' : 'corrector');
  if ('ok' in faces) return ask(faces.message.replace('the camera’s ', ''), faces.choices);
  if (faces.camera || !faces.sky) return faces;
  return { camera: isUnsaid ? { ...faces.sky, assumed: true } : faces.sky };
}

/** A chunk without its threads and their genders. */
function withoutFaces(text: string): string {
  const found = tokensOf(text, true);
  if ('ok' in found) return text;
  return found.tokens
    .filter(({ is: what }) => OF_FACES.has(what))
    .reduceRight((rest, { from, to }) => rest.slice(0, from) + rest.slice(to), text)
    .replace(/\s+/g, ' ')
    .trim();
}

/** What of a chunk says nothing of a part, a maker’s or a model’s name, and whether it says its kind. */
function wordsOf(text: string): { name: string; saysKind: boolean } {
  const found = tokensOf(text, true);
  return 'ok' in found
    ? { name: '', saysKind: false }
    : { name: found.others, saysKind: found.tokens.some(is('kind')) };
}

type Meant = NoteMeaning & { choices?: readonly { label: string; line: string }[] };

/** What the other pieces say. */
interface Around {
  hasHost: boolean;
  likely: readonly Exclude<ElementKind, 'gap'>[];
}

const ask = (message: string, choices: readonly { label: string; line: string }[] = []): Meant => ({
  is: 'question',
  message,
  choices
});

/** A camera body by its bayonet: `DSLR 44.0`. */
function cameraBody(text: string): Meant | undefined {
  const named = bayonetIn(text);
  const left = named && text.replace(named.text, ' ').replace(/(?<!\p{L})(?:body|camera|cam)(?!\p{L})/giu, ' ');
  if (!named || /\S/.test(left!)) return undefined;
  const sky = usualBayonet(named.bayonet);
  const lengthMm = flangeOf(sky);
  return lengthMm === undefined
    ? undefined
    : { is: 'camera', camera: { kind: 'camera', lengthMm, quantity: 1, sky }, name: `Body ${named.text.trim()}` };
}

function meaningOf(text: string, { hasHost, likely }: Around): Meant {
  if (text.startsWith(KEPT)) return { is: 'note' };
  if (namesCorrector(text)) {
    const corrector = readCorrectorLine(withoutFaces(text)) ?? readCorrectorLine(text);
    if (!corrector) return ask('What back focus does it require? As in reducer 0.79x 58.3.');
    const faces = correctorFaces(text);
    return 'is' in faces ? faces : { is: 'corrector', corrector, faces };
  }
  const body = cameraBody(text);
  if (body) return body;
  if (!hasHost && mayBeHost(text)) {
    const line = readHostLine(text);
    if (line.ok) {
      const { otherwise } = line;
      if (!otherwise) return { is: 'host', host: line.host };
      return ask('Is this a telescope or a lens?', [
        { label: `lens, focal length ${otherwise.focalLengthMm} mm`, line: `lens ${text}` },
        { label: `telescope, aperture ${line.host.apertureMm} mm`, line: `telescope ${text}` }
      ]);
    }
  }
  if (!/\d/.test(text)) return ask(`“${text}” has no length. As in wheel 20, or spacer 10.`);
  const reading = readQuickLine(text, true);
  if (!reading.ok) {
    const bare = withoutFaces(text);
    const open =
      reading.choices.length > 0 && bare !== text && readQuickLine(bare, true).ok
        ? [{ label: 'faces not known yet', line: bare }]
        : [];
    return ask(reading.message, [...reading.choices, ...open]);
  }
  const { entries } = reading;
  const [first] = entries;
  const { name, saysKind } = wordsOf(text);
  if (name !== '' && !saysKind) {
    return ask(
      `What is “${name}”?`,
      likely.map((kind) => ({ label: KINDS[kind].words, line: `${KINDS[kind].words} ${text}` }))
    );
  }
  if (first && entries.length > 1 && !REPEATED.has(first.kind) && entries.every(({ kind }) => kind === first.kind)) {
    return ask(
      'Which of these is its length?',
      entries.map(({ lengthMm }) => ({
        label: `${lengthMm} mm`,
        line: `${name} ${KINDS[first.kind].words} ${lengthMm}`.trim()
      }))
    );
  }
  if (entries.length > 1 && entries.some(({ kind }) => kind === 'camera')) {
    return ask('Part the camera from the rest by a comma.');
  }
  if (first?.kind === 'camera') return { is: 'camera', camera: first, name };
  return { is: 'parts', entries, name };
}

/**
 * Reads somebody's notes of a train, in one line or several: `115 f/7, 0.79x reducer 58.3, OAG 17.2 M54 f–m, wheel
 * 21.6, cam 12.5`. Each piece says what it was understood as; what may mean two things, or nothing, is a question with
 * answers, one of which keeps the piece as a note. No letter is passed over: words that say nothing become names.
 *
 * @param text at most {@link MOST_NOTE_CHARS} letters and 60 pieces are looked at
 */
export function readNotes(text: string): NotesReading {
  const notes = text.slice(0, MOST_NOTE_CHARS);
  const pieces: NotePiece[] = [];
  const likely = /(?<!\p{L})cam(?:era)?(?!\p{L})/iu.test(notes) ? LIKELY.filter((kind) => kind !== 'camera') : LIKELY;
  // Where no comma parts anything, those in numbers are decimal ones.
  const commasPart = /,(?!\d)|(?<!\d),/.test(notes);
  const asWritten = (chunk: string): string =>
    commasPart || /\.\d/.test(chunk) ? chunk : chunk.replace(/(?<=\d),(?=\d)/g, '.');
  const chunks = chunksOf(notes);
  for (const chunk of chunks.slice(0, MOST_PIECES)) {
    const has = (what: NoteMeaning['is']): boolean => pieces.some((piece) => piece.is === what);
    let meant = meaningOf(asWritten(chunk.text), { hasHost: has('host'), likely });
    if (meant.is === 'camera' && has('camera')) meant = ask('These notes have a camera already.');
    if (meant.is === 'corrector' && has('corrector')) meant = ask('These notes have a corrector already.');
    const { choices = [], ...meaning } = meant;
    const instead = (line: string): string =>
      notes.slice(0, chunk.from) + line + notes.slice(chunk.from + chunk.text.length);
    const kept = { label: 'keep it as a note', text: instead(`${KEPT} ${chunk.text}`) };
    pieces.push({
      ...meaning,
      text: chunk.text,
      choices: [
        ...choices.map(({ label, line }) => ({ label, text: instead(line) })),
        ...(meaning.is === 'question' ? [kept] : [])
      ]
    });
  }
  const beyond = chunks[MOST_PIECES];
  if (beyond) {
    const message = `Notes may have ${MOST_PIECES} pieces; what follows is not read.`;
    pieces.push({ is: 'question', message, text: notes.slice(beyond.from).trim(), choices: [] });
  }
  const order = pieces.filter((piece) => piece.is !== 'note' && piece.is !== 'question');
  const at = (what: NoteMeaning['is']): number => order.findIndex((piece) => piece.is === what);
  const [camera, host, corrector] = [at('camera'), at('host'), at('corrector')];
  const turned = camera === 0 && order.length > 1 && (host > 0 || corrector > 0);
  const missing = (['host', 'camera'] as const).filter((what) => at(what) < 0);
  return { pieces, turned, missing };
}

function hostOf({ kind = 'refractor', apertureMm, focalLengthMm, bayonet, name }: HostReading, isAlone: boolean): Host {
  const mount = LENS_MOUNTS.find(({ camera }) => 'bayonet' in camera && camera.bayonet === bayonet);
  // Behind a lens, where nothing else sets it, the back focus is the flange distance of its bayonet.
  const asks = kind === 'camera-lens' && isAlone ? mount?.corrector : undefined;
  return {
    name: name || unnamedHost(kind),
    kind,
    apertureMm,
    focalLengthMm,
    camera: bayonet === undefined ? usualHostFace(kind) : usualBayonet(bayonet),
    ...(asks ? { corrector: asks } : {})
  };
}

const HOLDERS: ReadonlySet<ElementKind> = new Set(['filter-wheel', 'filter-drawer']);

/** Puts a bare filter into the next slot of the holder before it. @returns false where there is none */
function isPutIn(part: SolidElement, holder: SolidElement | undefined): boolean {
  if (part.kind !== 'filter' || part.sky || !part.glass || !holder || !HOLDERS.has(holder.kind)) return false;
  const body = holder as BodyElement;
  const [glass] = part.glass;
  body.glass = [...(body.glass ?? []), { ...glass!, name: part.name, slot: (body.glass?.length ?? 0) + 1 }];
  return true;
}

/** The train that notes describe. @returns undefined while something is missing or asked */
export function trainOfNotes({ pieces, turned, missing }: NotesReading, name?: string): Train | undefined {
  if (missing.length > 0 || pieces.some((piece) => piece.is === 'question')) return undefined;
  const ordered = turned ? pieces.toReversed() : pieces;
  let host: Host | undefined;
  let camera: CameraElement | undefined;
  let corrector: BodyElement | undefined;
  const parts: SolidElement[] = [];
  const kept: string[] = [];
  for (const piece of ordered) {
    if (piece.is === 'host') host = hostOf(piece.host, !pieces.some(({ is: what }) => what === 'corrector'));
    else if (piece.is === 'corrector') {
      const { name: called, ...asks } = piece.corrector;
      corrector = { ...begunCorrector(called, asks), ...piece.faces };
    } else if (piece.is === 'note') kept.push(piece.text.slice(KEPT.length).trim());
    else if (piece.is === 'camera') {
      camera = elementOfEntry(piece.camera, 'camera', piece.name || 'My camera') as CameraElement;
    } else if (piece.is === 'parts') {
      for (const entry of turned ? piece.entries.toReversed() : piece.entries) {
        const called = piece.name && `${piece.name} ${KINDS[entry.kind].words}`;
        for (let copy = 0; copy < Math.min(entry.quantity, MOST_QUICK); copy++) {
          const part = elementOfEntry(entry, `part-${parts.length + 1}`, called || undefined);
          if (!isPutIn(part, parts.at(-1))) parts.push(part);
        }
      }
    }
  }
  if (!host || !camera) return undefined;
  const note = kept.join('\n');
  return {
    lodestone: 'train/1',
    name: name?.trim() || (isUnnamed(host) ? 'New train' : host.name),
    host,
    elements: [...(corrector ? [corrector] : []), ...parts, camera],
    ...(note === '' ? {} : { note })
  };
}
