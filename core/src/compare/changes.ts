import { movedBetween } from '../train/merge.ts';
import { differingKeys, sameJson } from '../train/sameJson.ts';
import { isSolid, lengthOf, type Element, type Train } from '../train/model.ts';
import { formatLength, listed, type LengthUnit } from '../why/wording.ts';

/** What became otherwise from one state of a train to a later one: plain, so that it can be sent. */
export type TrainChange =
  | { what: 'added' | 'gone' | 'moved'; name: string }
  | { what: 'renamed'; name: string; was: string }
  | { what: 'length'; name: string; wasMm: number; isMm: number }
  | { what: 'set'; name: string; keys: string[] }
  | { what: 'train'; key: string };

/** Keys of an element, in words. */
const KEY_WORDS: Readonly<Record<string, string>> = {
  kind: 'kind',
  toleranceMm: 'tolerance',
  measured: 'reading',
  sky: 'sky face',
  camera: 'camera face',
  seat: 'seat',
  adjust: 'dial',
  corrector: 'back focus',
  glass: 'glass',
  designSlot: 'slot in the beam',
  holder: 'holder',
  pickoff: 'pick-off',
  sensor: 'sensor',
  detachable: 'what is on it',
  massG: 'mass',
  clearMm: 'clear diameter',
  note: 'note',
  sources: 'sources',
  partId: 'part of the drawer',
  copy: 'copy',
  fasteners: 'screws',
  cables: 'cables',
  rotatorDeg: 'angle',
  attached: 'what hangs on it',
  minMm: 'lower end',
  maxMm: 'upper end'
};

/** Keys of the train itself, in words. */
const TRAIN_WORDS: Readonly<Record<string, string>> = {
  name: 'name of the train',
  note: 'note of the train',
  host: 'telescope or lens',
  glassRule: 'rule for glass',
  assembly: 'assembly steps',
  focusing: 'first light',
  tuning: 'experiments',
  packing: 'packing list',
  nights: 'nights',
  flats: 'flats',
  framing: 'framing',
  sag: 'sag tests',
  groups: 'readings of several parts together',
  nightC: 'temperature',
  cornerLightPercent: 'light in the corners'
};

/** Keys that say nothing by themselves, or are told apart. */
const QUIET = new Set(['id', 'name', 'lengthMm', 'lodestone', 'elements']);

const changedKeys = (from: object, to: object): string[] => differingKeys(from, to, QUIET);

function changesOf(from: Element, to: Element): TrainChange[] {
  const { name } = to;
  const found: TrainChange[] = [];
  if (from.name !== name) found.push({ what: 'renamed', name, was: from.name });
  const [wasMm, isMm] = [from, to].map((element) => (isSolid(element) ? lengthOf(element) : undefined));
  const isLength = wasMm !== undefined && isMm !== undefined && Math.abs(wasMm - isMm) > 1e-9;
  if (isLength) found.push({ what: 'length', name, wasMm, isMm });
  const keys = changedKeys(from, to)
    // A reading, or a piece, that moved the length is told by it.
    .filter((key) => !isLength || (key !== 'measured' && key !== 'detachable'))
    .map((key) => KEY_WORDS[key] ?? 'details');
  // A published length that a reading overrules moves nothing.
  if (isSolid(from) && isSolid(to) && !isLength && from.lengthMm !== to.lengthMm) keys.unshift('published length');
  if (keys.length > 0) found.push({ what: 'set', name, keys: [...new Set(keys)] });
  return found;
}

/** What changed from one state of a train to another, in the order of the train: host and parts, then what is kept with it. */
export function changesBetween(from: Train, to: Train): TrainChange[] {
  const had = new Map(from.elements.map((element) => [element.id, element]));
  const has = new Set(to.elements.map(({ id }) => id));
  const moved = movedBetween(from, to);
  return [
    ...(sameJson(from.host, to.host) ? [] : [{ what: 'train', key: 'host' } as const]),
    ...from.elements.filter(({ id }) => !has.has(id)).map(({ name }) => ({ what: 'gone', name }) as const),
    ...to.elements.flatMap((element): TrainChange[] => {
      const before = had.get(element.id);
      if (!before) return [{ what: 'added', name: element.name }];
      const all = changesOf(before, element);
      return moved.has(element.id) ? [{ what: 'moved', name: element.name }, ...all] : all;
    }),
    ...changedKeys(from, to)
      .filter((key) => key !== 'host')
      .map((key) => ({ what: 'train', key }) as const),
    ...(from.name === to.name ? [] : [{ what: 'train', key: 'name' } as const])
  ];
}

/** Whether a change is one of the train itself, not of what is written down with it. */
export const isOfParts = (change: TrainChange): boolean => change.what !== 'train' || change.key === 'host';

/** A change as a line of a history, without a full stop. */
export function changeInWords(change: TrainChange, unit: LengthUnit): string {
  switch (change.what) {
    case 'added':
      return `${change.name} added`;
    case 'gone':
      return `${change.name} removed`;
    case 'moved':
      return `${change.name} moved`;
    case 'renamed':
      return `${change.was} renamed to ${change.name}`;
    case 'length':
      return `${change.name} ${formatLength(change.wasMm, unit)} to ${formatLength(change.isMm, unit)}`;
    case 'set':
      return `${change.name}: ${listed(change.keys)}`;
    case 'train':
      return TRAIN_WORDS[change.key] ?? change.key;
  }
}
