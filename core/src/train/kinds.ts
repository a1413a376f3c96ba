import type { Element, Host } from './generated/types.ts';

export type ElementKind = Element['kind'];

/** What is true of everything of one kind. */
export interface Kind {
  /** The words people use. */
  words: string;
  /** It only takes up length: a gap is filled with it, and something as long may stand in its place (handbook §4). */
  fills: boolean;
  /** It holds filters, and another holder may stand in its place. */
  holds: boolean;
  /** A plain ring: as wide as its threads, where nothing else is said. */
  ring: boolean;
  /** Outer radius drawn where none is stated, mm: a guess (common practice, no source). */
  outerRadiusMm: number;
  /** Place in the order practitioners keep, from the corrector on; undefined: stands anywhere (handbook §3). */
  order: number | undefined;
}

type Given = Partial<Omit<Kind, 'words' | 'outerRadiusMm'>>;

const kind = (words: string, outerRadiusMm: number, given: Given = {}): Kind => ({
  words,
  outerRadiusMm,
  fills: false,
  holds: false,
  ring: false,
  order: undefined,
  ...given
});

/** Every kind, in the order a chooser offers them. */
export const KINDS: Readonly<Record<ElementKind, Kind>> = {
  corrector: kind('corrector', 34, { order: 0 }),
  spacer: kind('spacer', 28, { fills: true, ring: true }),
  adapter: kind('adapter', 30, { fills: true, ring: true }),
  'variable-spacer': kind('variable spacer', 31, { fills: true }),
  shim: kind('shim', 26, { fills: true }),
  'extension-tube': kind('extension tube', 32, { fills: true, ring: true }),
  rotator: kind('rotator', 42),
  'tilt-plate': kind('tilt plate', 39, { order: 4 }),
  focuser: kind('focuser', 45),
  'adaptive-optics': kind('adaptive optics', 45, { order: 1 }),
  'off-axis-guider': kind('off-axis guider', 38, { order: 2 }),
  'filter-wheel': kind('filter wheel', 60, { holds: true, order: 3 }),
  'filter-drawer': kind('filter drawer', 40, { holds: true, order: 3 }),
  filter: kind('filter', 26, { order: 3 }),
  'bayonet-adapter': kind('bayonet adapter', 33, { fills: true }),
  camera: kind('camera', 40, { order: 5 }),
  gap: kind('gap', 26)
};

export const ELEMENT_KINDS = Object.keys(KINDS) as readonly ElementKind[];

export function isElementKind(word: string): word is ElementKind {
  return Object.hasOwn(KINDS, word);
}

/** Whether something can be made to measure in place of an element: a gap, or what only takes up length. */
export const canBeMade = (element: Element): boolean =>
  element.kind === 'gap' ||
  (KINDS[element.kind].fills && element.kind !== 'shim' && !('corrector' in element && element.corrector));

/** Every kind with its words, for a chooser. */
export const KIND_CHOICES: readonly (readonly [ElementKind, string])[] = ELEMENT_KINDS.map((each) => [
  each,
  KINDS[each].words
]);

/** Every kind of host with its words, in the order a chooser offers them. */
export const HOST_KIND_WORDS: Readonly<Record<Host['kind'], string>> = {
  refractor: 'refractor',
  newtonian: 'Newtonian',
  'schmidt-cassegrain': 'Schmidt-Cassegrain',
  'two-mirror': 'two-mirror',
  petzval: 'Petzval',
  'camera-lens': 'camera lens',
  other: 'other'
};

export const isHostKind = (word: string): word is Host['kind'] => Object.hasOwn(HOST_KIND_WORDS, word);
