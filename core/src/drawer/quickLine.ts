import { plainSigns } from '../joint/signs.ts';
import { parseThread, pitchChoices, threadQuestion } from '../joint/thread.ts';
import { KINDS, type Gender, type Port, type ThreadPort } from '../train/model.ts';
import { is, refuse, tokensOf, withReplaced, type QuickKind, type Refusal, type Token } from './quickTokens.ts';

/** A part that a line asks for. */
export interface QuickEntry {
  kind: QuickKind;
  lengthMm: number;
  /** Half-width that is stated with the length, mm. */
  toleranceMm?: number;
  quantity: number;
  /** Of a filter, which adds no length: its glass. */
  glassMm?: number;
  outerMm?: number;
  sky?: Port;
  camera?: Port;
}

export type QuickReading = { ok: true; entries: QuickEntry[] } | Refusal;

const MOST_QUANTITY = 999;

/** Which thread was meant, where its pitch is missing or it says none. */
function threadRefusal(line: string, { thread, from, to }: Token & { is: 'thread' }): Refusal | undefined {
  const pitches = pitchChoices(thread);
  if (parseThread(thread) || pitches.length === 1) return undefined;
  const choices = pitches.map((each) => ({ label: each, line: withReplaced(line, from, to, each) }));
  return refuse(`${threadQuestion(thread) ?? `“${thread}” is no thread`}${choices.length > 0 ? '?' : '.'}`, choices);
}

const GENDER_PAIRS: readonly [string, string][] = [
  ['f–m', 'female to the sky, male to the camera'],
  ['m–f', 'male to the sky, female to the camera'],
  ['f–f', 'female on both sides'],
  ['m–m', 'male on both sides']
];

type Faces = { sky?: Port; camera?: Port };

export const isFace = (token: Token): token is Token & { is: 'thread' | 'bayonet' | 'bolts' } =>
  token.is === 'thread' || token.is === 'bayonet' || token.is === 'bolts';

/** Faces of a part of which one at least is no thread, sky side first, each with the gender behind it. */
function mixedFaces(line: string, tokens: readonly Token[], kind: QuickKind | undefined): Faces | Refusal {
  const named = tokens.filter(isFace);
  if (named.length > 2) return refuse('A part has two faces, and this names more of them.');
  const found: Port[] = [];
  for (const [at, token] of named.entries()) {
    const next = named[at + 1];
    const gender = tokens
      .filter(is('gender'))
      .find(({ from }) => from >= token.to && (next === undefined || from < next.from))?.gender;
    if (token.is === 'bolts') found.push({ bolts: { count: token.count, circleMm: token.circleMm } });
    else if (token.is === 'bayonet') {
      // A lens and a body have females, what stands between them males (common practice, no source).
      const usual = kind === 'camera' ? 'female' : 'male';
      found.push({ bayonet: token.bayonet, gender: gender ?? usual, ...(gender ? {} : { assumed: true }) });
    } else {
      const refusal = threadRefusal(line, token);
      if (refusal) return refusal;
      if (!gender) return askGender(line, token, `Is ${designationOf(token)} male or female?`);
      found.push(threadFace(token, gender));
    }
  }
  const [one, two] = found;
  if (two) return { sky: one!, camera: two };
  if (kind === 'camera') return { sky: one! };
  const words = line.slice(named[0]!.from, named[0]!.to);
  return refuse(`On which side is ${words}? Name both faces, sky side first, as in M48×0.75 f, ${words}.`);
}

const designationOf = ({ thread }: { thread: string }): string =>
  parseThread(thread)?.designation ?? pitchChoices(thread)[0]!;

const threadFace = (thread: { thread: string }, gender: Gender): ThreadPort => ({
  thread: designationOf(thread),
  gender,
  // The only pitch in use is taken, and marked.
  ...(parseThread(thread.thread) ? {} : { assumed: true })
});

/** Which gender a face has, with a button for each. */
const askGender = (line: string, thread: Token & { is: 'thread' }, message: string): Refusal =>
  refuse(
    message,
    (['female', 'male'] as const).map((gender) => ({
      label: gender,
      line: withReplaced(line, thread.to, thread.to, ` ${gender}`)
    }))
  );

/** Faces of a part, from threads and the genders around them; what is missing is asked. */
export function facesOf(line: string, tokens: readonly Token[], kind: QuickKind | undefined): Faces | Refusal {
  const faces = tokens.some((token) => isFace(token) && token.is !== 'thread')
    ? mixedFaces(line, tokens, kind)
    : threadedFaces(line, tokens, kind);
  if ('ok' in faces || !tokens.some(is('lock-ring'))) return faces;
  const males = malesOf(faces);
  const [male] = males;
  if (!male || males.length > 1)
    return refuse('Which thread has the lock ring? Name it, as in M48×0.75 male lock ring.');
  male.lockRing = true;
  return faces;
}

/** Male threads of a part. */
const malesOf = ({ sky, camera }: Faces): ThreadPort[] =>
  [sky, camera].filter((face): face is ThreadPort => face !== undefined && 'thread' in face && face.gender === 'male');

function threadedFaces(line: string, tokens: readonly Token[], kind: QuickKind | undefined): Faces | Refusal {
  const threads = tokens.filter(is('thread'));
  const genders = tokens.filter(is('gender'));
  const [first, second] = threads;
  if (!first) return genders.length === 0 ? {} : refuse('Of which thread? As in M48×0.75 f–m 10.');
  if (threads.length > 2) return refuse('A part has two faces, and this names more threads.');
  if (genders.length > 2) return refuse('A part has two faces, and this names more of them.');
  for (const thread of threads) {
    const refusal = threadRefusal(line, thread);
    if (refusal) return refusal;
  }
  if (kind === 'shim') return {};
  if (second) {
    if (genders.length === 2)
      return { sky: threadFace(first, genders[0]!.gender), camera: threadFace(second, genders[1]!.gender) };
    // One stands behind the first thread unless a sign parts them.
    const [only] = genders;
    const parted = tokens.some(
      (token) => token.is === 'joiner' && token.from >= first.to && token.to <= (only?.from ?? 0)
    );
    const isFirst = only !== undefined && only.from < second.from && !parted;
    return isFirst
      ? askGender(line, second, `Is ${designationOf(second)} male or female?`)
      : askGender(line, first, `Is ${designationOf(first)} male or female?`);
  }
  if (kind === 'camera') {
    const [only] = genders;
    return only
      ? { sky: threadFace(first, only.gender) }
      : askGender(line, first, `Is the camera’s ${designationOf(first)} male or female?`);
  }
  if (genders.length === 2)
    return { sky: threadFace(first, genders[0]!.gender), camera: threadFace(first, genders[1]!.gender) };
  // The pair takes the place of what there is of it.
  const around = [first, ...genders].filter(({ from }) => from >= first.to).map(({ to }) => to);
  const to = Math.max(first.to, ...around);
  const before = genders.find(({ to: end }) => end <= first.from);
  return refuse(
    `Which way is ${designationOf(first)} cut on its two faces, sky side first?`,
    GENDER_PAIRS.map(([pair, words]) => {
      const answered = withReplaced(line, first.to, to, ` ${pair}`);
      return {
        label: `${pair}: ${words}`,
        line: before ? withReplaced(answered, before.from, before.to, '').trim() : answered
      };
    })
  );
}

/** Glass is thinner than any filter is wide, mm. */
const THICKEST_GLASS_MM = 20;
const USUAL_GLASS_MM = [1, 2, 3];

type Length = Token & { is: 'length' };

/** Diameter and glass of filters: `36 2mm` is one of them. */
function filtersOf(
  line: string,
  lengths: readonly Length[],
  across: number | undefined
): { glasses: readonly Length[]; outerMm: number | undefined } | Refusal {
  const wide = lengths.filter(({ mm }) => mm > THICKEST_GLASS_MM);
  if (wide.length === 0) return { glasses: lengths, outerMm: across };
  const glasses = lengths.filter((each) => !wide.includes(each));
  if (across !== undefined || wide.length > 1) return refuse('Filters of different size are entered line by line.');
  const [{ mm }] = wide as [Length];
  if (glasses.length > 0) return { glasses, outerMm: mm };
  return refuse(
    `How thick is the glass of the ${mm} mm filter?`,
    USUAL_GLASS_MM.map((thick) => ({ label: `${thick} mm`, line: `${line} ${thick} mm` }))
  );
}

/** Sets how far the male face of a part screws in. @returns what of a length is no length of the part, mm */
function screwIn(faces: Faces, figure: Token & { is: 'thread-length' }): number | Refusal {
  const males = malesOf(faces);
  const [male] = males;
  if (!male) return refuse('Which thread screws in? Name it, as in M48×0.75 f–m 12, thread 3.5.');
  if (males.length > 1) return refuse('Both faces are male: enter their threads with its settings.');
  male.lengthMm = figure.mm;
  return figure.within ? figure.mm : 0;
}

/**
 * Lengths that stand right behind the two genders of a line: `M48 f 5 m 3.5 10` is 10 long, its bore 5 deep, its thread 3.5.
 *
 * @returns undefined where not both have one: then a length is a part's own
 */
function lengthsOfThreads(line: string, tokens: readonly Token[]): [sky: Length, camera: Length] | undefined {
  const found = tokens.flatMap((token, at): Length[] => {
    const next = tokens[at + 1];
    return token.is === 'gender' && next?.is === 'length' && /^\s*$/.test(line.slice(token.to, next.from))
      ? [next]
      : [];
  });
  const [sky, camera] = found;
  const isPlain = found.every(({ quantity, toleranceMm }) => quantity === undefined && toleranceMm === undefined);
  return sky && camera && found.length === 2 && isPlain ? [sky, camera] : undefined;
}

/** Reads a line that asks for one kind. */
function readOneKind(line: string, tokens: readonly Token[], named: QuickKind | undefined): QuickReading {
  if (named === 'corrector') {
    return refuse('A corrector has a back focus beside its length: enter it with its settings.');
  }
  const faces = facesOf(line, tokens, named);
  if ('ok' in faces) return faces;
  const threads = named === 'camera' || named === 'shim' ? undefined : lengthsOfThreads(line, tokens);
  const said = tokens.filter(is('length')).filter((length) => !threads?.includes(length));
  if (threads && said.length === 0) {
    const [{ mm: one, from }, { mm: other }] = threads;
    const [first, second] = tokens.filter(is('gender'));
    const asLengths = `${line.slice(0, first!.to)} ${line.slice(second!.from, second!.to)} ${one}, ${other}`;
    return refuse(`Are ${one} and ${other} the lengths of its threads? Then its own length is missing.`, [
      ...(from < second!.from ? [{ label: `two parts of ${one} and ${other} mm`, line: asLengths }] : [])
    ]);
  }
  if (threads) {
    if (faces.sky && 'thread' in faces.sky) faces.sky.lengthMm = threads[0].mm;
    if (faces.camera && 'thread' in faces.camera) faces.camera.lengthMm = threads[1].mm;
  }
  if (said.length === 0) {
    return refuse(line === '' ? 'Type what it is: M48×0.75 f–m 10, 7.5, 16.5 ×2.' : 'Its length is missing.');
  }
  const [across, ...moreAcross] = tokens.filter(is('across'));
  const [screwed, ...moreScrewed] = tokens.filter(is('thread-length'));
  if (moreScrewed.length > 0) return refuse('Parts whose threads differ are entered line by line.');
  if (across && (named !== 'filter' || moreAcross.length > 0)) {
    return refuse('A diameter is said of a filter here; of other parts it is entered with their settings.');
  }
  const within = screwed ? screwIn(faces, screwed) : 0;
  if (typeof within === 'object') return within;
  const filters = named === 'filter' ? filtersOf(line, said, across?.mm) : undefined;
  if (filters && 'ok' in filters) return filters;
  const lengths = filters?.glasses ?? said;
  for (const { mm, quantity = 1, toleranceMm = 0 } of lengths) {
    if (!(quantity >= 1 && quantity <= MOST_QUANTITY)) return refuse(`${quantity} is not a number of parts.`);
    if (!(toleranceMm <= mm)) return refuse(`A tolerance of ${toleranceMm} mm is more than the whole part, ${mm} mm.`);
    if (!(within < mm)) return refuse(`A thread of ${within} mm is not within ${mm} mm.`);
  }
  const dash = tokens.find(
    (token, at) =>
      token.is === 'joiner' &&
      line[token.from] !== '/' &&
      tokens[at - 1]?.is === 'length' &&
      tokens[at + 1]?.is === 'length'
  );
  if (dash) {
    return refuse('Is this a range, or two lengths? A part that has a range is entered with its settings.', [
      { label: 'two lengths', line: withReplaced(line, dash.from, dash.to, ', ') }
    ]);
  }
  const { sky, camera } = faces;
  const kind = named ?? kindBetween(sky, camera);
  const entries = lengths.map(({ mm, quantity = 1, toleranceMm }): QuickEntry => ({
    kind,
    lengthMm: filters ? 0 : Number((mm - within).toFixed(4)),
    quantity,
    ...(filters ? { glassMm: mm } : {}),
    ...(filters?.outerMm === undefined ? {} : { outerMm: filters.outerMm }),
    ...(toleranceMm === undefined ? {} : { toleranceMm }),
    ...(sky ? { sky } : {}),
    ...(camera ? { camera } : {})
  }));
  return { ok: true, entries };
}

/** What a part is whose kind nobody said: of two faces alike a ring. */
function kindBetween(sky: Port | undefined, camera: Port | undefined): QuickKind {
  if (!sky || !camera) return 'spacer';
  if ('bayonet' in sky || 'bayonet' in camera) return 'bayonet-adapter';
  return 'thread' in sky && 'thread' in camera && sky.thread === camera.thread ? 'spacer' : 'adapter';
}

const PARTED = /[,;]|\+|(?<!\p{L})(?:and|und|et|y|e)(?!\p{L})/iu;

/** What of a line is one thing, or several of one kind. */
interface Place {
  from: number;
  to: number;
  kinds: readonly QuickKind[];
  hasLength: boolean;
}

/** Places of a line, parted by commas; a length or a thread alone goes on with what stands before it. */
function placesOf(line: string, tokens: readonly Token[]): Place[] {
  const places: Place[] = [];
  let piece: Token[] = [];
  const end = (): void => {
    const [first] = piece;
    const last = places.at(-1);
    if (!first) return;
    const { to } = piece.at(-1)!;
    const kinds = piece.filter(is('kind')).map(({ kind }) => kind);
    const hasLength = piece.some(is('length'));
    const isAnother = kinds.length > 0 || (piece.some(isFace) && hasLength && last?.hasLength);
    if (last && !isAnother) [last.to, last.hasLength] = [to, last.hasLength || hasLength];
    else places.push({ from: first.from, to, kinds, hasLength });
    piece = [];
  };
  for (const [at, token] of tokens.entries()) {
    if (at > 0 && PARTED.test(line.slice(tokens[at - 1]!.to, token.from))) end();
    piece.push(token);
  }
  end();
  return places;
}

/** Kinds there may be several of in a row, of different threads. */
const REPEATED: ReadonlySet<QuickKind> = new Set(['spacer', 'extension-tube', 'adapter']);

/** Reads a line of several things, each as a line of its own. */
function readSeveral(line: string, places: readonly Place[], loose: boolean): QuickReading {
  const entries: QuickEntry[] = [];
  let kind: QuickKind | undefined;
  for (const { from, to, kinds } of places) {
    const [own, ...more] = kinds;
    if (more.length > 0 && more.some((each) => each !== own)) {
      return refuse(`Is this ${kinds.map((each) => KINDS[each].words).join(' or ')}? Several are parted by commas.`);
    }
    kind = own ?? (kind && REPEATED.has(kind) ? kind : undefined);
    const part = line.slice(from, to);
    const found = tokensOf(part, loose);
    const reading = 'ok' in found ? found : readOneKind(part, found.tokens, kind);
    if (!reading.ok) {
      const choices = reading.choices.map((choice) => ({ ...choice, line: withReplaced(line, from, to, choice.line) }));
      return refuse(reading.message, choices);
    }
    entries.push(...reading.entries);
  }
  return { ok: true, entries };
}

/**
 * Reads a line of shorthand: kind, threads with the face to the sky first, lengths, how many of each, in whatever order.
 * `M48×0.75 f–m 10, 7.5, 16.5 ×2` is three entries; `shims 0.1 ×3 0.3`, `M54×0.75 f – M48×0.75 m 4`, `20 mm wheel`,
 * `wheel 20, drawer 15, T-ring 11` and `M48 f–m 12 long, 3.5 of it screws in` (8.5 long) are others. A gender, a comma, a
 * count or a pitch that may mean two things is asked for, never guessed; the only pitch in use of a diameter is taken as
 * assumed; without a thread faces stay unknown.
 *
 * @param text at most 500 letters are looked at
 * @param loose passes over words that say nothing of a part: a maker’s, a model’s
 */
export function readQuickLine(text: string, loose = false): QuickReading {
  const line = plainSigns(text.slice(0, 500)).trim();
  const found = tokensOf(line, loose);
  if ('ok' in found) return found;
  const { tokens } = found;
  const places = placesOf(line, tokens);
  if (places.length > 1) return readSeveral(line, places, loose);
  const [kind, ...more] = new Set(tokens.filter(is('kind')).map(({ kind: each }) => each));
  return more.length > 0 ? readSeveral(line, places, loose) : readOneKind(line, tokens, kind);
}
