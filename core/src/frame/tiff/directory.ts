import { FrameError } from '../frame.ts';

/** Tags that are read (TIFF 6.0, §8 and §14 to §19; predictor 3: Adobe Photoshop TIFF Technical Note 3). */
const TAGS = {
  subfileType: 254,
  width: 256,
  height: 257,
  bits: 258,
  compression: 259,
  photometric: 262,
  fillOrder: 266,
  stripOffsets: 273,
  orientation: 274,
  samples: 277,
  rowsPerStrip: 278,
  stripBytes: 279,
  planar: 284,
  predictor: 317,
  tileWidth: 322,
  tileHeight: 323,
  tileOffsets: 324,
  tileBytes: 325,
  extraSamples: 338,
  sampleFormat: 339
} as const;

export type TagName = keyof typeof TAGS;

/** Numbers of the tags that a directory has. */
export type Directory = Readonly<Partial<Record<TagName, readonly number[]>>>;

/** Bytes a value has, and how it is read, by the type of a field: BYTE, SHORT, LONG, LONG8. */
const FIELD_TYPES: ReadonlyMap<
  number,
  { size: number; read: (view: DataView, at: number, little: boolean) => number }
> = new Map([
  [1, { size: 1, read: (view: DataView, at: number) => view.getUint8(at) }],
  [3, { size: 2, read: (view: DataView, at: number, little: boolean) => view.getUint16(at, little) }],
  [4, { size: 4, read: (view: DataView, at: number, little: boolean) => view.getUint32(at, little) }],
  [16, { size: 8, read: (view: DataView, at: number, little: boolean) => Number(view.getBigUint64(at, little)) }]
]);

/** More pictures than this in one file are not looked through. */
const MOST_PICTURES = 100;
/** So many fields a directory may have: TIFF knows some hundred tags. */
const MOST_FIELDS = 4096;

const NAMES = new Map<number, TagName>(Object.entries(TAGS).map(([name, tag]) => [tag, name as TagName]));

/** How a file writes its numbers, and where the first directory stands. */
interface Layout {
  view: DataView;
  little: boolean;
  /** BigTIFF: places of eight bytes. */
  isBig: boolean;
}

const endsIn = (what: string): FrameError => new FrameError(`TIFF: the file ends in ${what}.`);

function place({ view, little, isBig }: Layout, at: number, what: string): number {
  if (at + (isBig ? 8 : 4) > view.byteLength) throw endsIn(what);
  return isBig ? Number(view.getBigUint64(at, little)) : view.getUint32(at, little);
}

function readDirectory(layout: Layout, at: number, which: number): { directory: Directory; next: number } {
  const { view, little, isBig } = layout;
  const what = `the list of picture ${which}`;
  const [countSize, fieldSize, inline] = isBig ? [8, 20, 8] : [2, 12, 4];
  if (at + countSize > view.byteLength) throw endsIn(what);
  const count = isBig ? Number(view.getBigUint64(at, little)) : view.getUint16(at, little);
  if (count > MOST_FIELDS) throw new FrameError(`TIFF: ${what} has ${count} entries.`);
  const end = at + countSize + count * fieldSize;
  if (end > view.byteLength) throw endsIn(what);
  const directory: Partial<Record<TagName, number[]>> = {};
  for (let field = at + countSize; field < end; field += fieldSize) {
    const name = NAMES.get(view.getUint16(field, little));
    if (!name) continue;
    const type = FIELD_TYPES.get(view.getUint16(field + 2, little));
    if (!type) throw new FrameError(`TIFF: ${name} of picture ${which} is no whole number.`);
    const values = isBig ? Number(view.getBigUint64(field + 4, little)) : view.getUint32(field + 4, little);
    const bytes = values * type.size;
    const valuesAt = field + (isBig ? 12 : 8);
    const from = bytes <= inline ? valuesAt : place(layout, valuesAt, what);
    if (!(from + bytes <= view.byteLength)) throw endsIn(`${name} of picture ${which}`);
    directory[name] = Array.from({ length: values }, (_, index) => type.read(view, from + index * type.size, little));
  }
  return { directory, next: end + (isBig ? 8 : 4) <= view.byteLength ? place(layout, end, what) : 0 };
}

/**
 * Lists of all pictures of a TIFF or BigTIFF file, in their order.
 *
 * @throws FrameError where the file ends before they do, or they run in a circle
 */
export function readDirectories(bytes: Uint8Array): { little: boolean; directories: Directory[] } {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 8) throw endsIn('its first line');
  const little = view.getUint16(0) === 0x4949;
  const isBig = view.getUint16(2, little) === 43;
  const layout: Layout = { view, little, isBig };
  if (isBig && (bytes.length < 16 || view.getUint16(4, little) !== 8)) {
    throw new FrameError('TIFF: its places are not of eight bytes, as those of BigTIFF are.');
  }
  const directories: Directory[] = [];
  const seen = new Set<number>();
  for (let at = place(layout, isBig ? 8 : 4, 'its first line'); at !== 0;) {
    if (seen.has(at)) throw new FrameError('TIFF: the lists of its pictures run in a circle.');
    if (directories.length === MOST_PICTURES)
      throw new FrameError(`TIFF: it holds more than ${MOST_PICTURES} pictures.`);
    seen.add(at);
    const { directory, next } = readDirectory(layout, at, directories.length + 1);
    directories.push(directory);
    at = next;
  }
  return { little, directories };
}
