import { closest, distance } from 'fastest-levenshtein';
import { genderOf } from '../joint/spelled.ts';
import { parseThread } from '../joint/thread.ts';
import { decimal } from '../units.ts';
import { KINDS, cameraPort, skyPort, type Gender, type Port } from '../train/model.ts';
import { STATE_WORDS, locationSteps, measuredOf, type Part } from './part.ts';

/** Where a part is used: once for every element of a train that refers to it. */
export interface PartUse {
  partId: string;
  trainId: string;
  trainName: string;
  /** Which copy stands there; undefined where the train does not say. */
  copy: number | undefined;
  /** The train is put together, so the part is in it and nowhere else. */
  assembled: boolean;
}

/** Ways to narrow a list down, beside words. */
export interface PartFilter {
  kind?: string;
  /** Designation of a thread on either face. */
  thread?: string;
  state?: string;
  /** The place itself or one inside it. */
  location?: string;
  trainId?: string;
  measured?: 'yes' | 'no';
}

interface Face {
  designation: string;
  diameter: string;
  gender: string;
}

interface Entry {
  part: Part;
  text: string;
  words: ReadonlySet<string>;
  lengths: readonly number[];
  faces: readonly Face[];
  location: string;
  trains: readonly PartUse[];
}

/** A drawer prepared for being searched at every keystroke. */
export interface DrawerIndex {
  entries: readonly Entry[];
  /** Names of places and their parts, lower case, longest first. */
  places: readonly string[];
  /** Names of trains that use parts, lower case. */
  trains: readonly string[];
}

const plain = (text: string): string => text.toLowerCase().replaceAll('×', 'x').replaceAll('″', '"');

function faceOf(port: Port | undefined): Face[] {
  if (!port || !('thread' in port)) return [];
  const thread = parseThread(port.thread);
  const designation = plain(thread?.designation ?? port.thread);
  return [{ designation, diameter: designation.split(/[x-]/)[0]!, gender: port.gender }];
}

function entryOf(part: Part, trains: readonly PartUse[]): Entry {
  const { element, partId, location, state, owned } = part;
  const faces = [...faceOf(skyPort(element)), ...faceOf(cameraPort(element))];
  const others = [skyPort(element), cameraPort(element)].map((port) => {
    if (!port) return '';
    if ('bayonet' in port) return `bayonet ${port.bayonet}`;
    if ('slip' in port) return `slip ${port.slip}`;
    return 'clamp' in port ? `clamp ${port.clamp}` : '';
  });
  const text = plain(
    [
      partId,
      element.name,
      KINDS[element.kind].words,
      location,
      STATE_WORDS[state],
      owned ? '' : 'to buy',
      element.note ?? '',
      ...faces.map(({ designation, gender }) => `${designation} ${gender}`),
      ...others
    ].join(' \n')
  );
  const measured = measuredOf(part);
  return {
    part,
    text,
    words: new Set(text.split(/[^\p{L}\p{N}.]+/u)),
    lengths: measured ? [element.lengthMm, measured.lengthMm] : [element.lengthMm],
    faces,
    location: location.toLowerCase(),
    trains
  };
}

/** Parts are replaced, never changed, so what was made of one holds for as long as its uses stay the same. */
const remembered = new WeakMap<Part, Entry>();

const sameUses = (a: readonly PartUse[], b: readonly PartUse[]): boolean =>
  a.length === b.length &&
  a.every((use, index) => {
    const other = b[index]!;
    return use.trainId === other.trainId && use.trainName === other.trainName && use.assembled === other.assembled;
  });

/**
 * Prepares a drawer for searching.
 *
 * @param uses where its parts are used
 */
export function indexDrawer(parts: readonly Part[], uses: readonly PartUse[] = []): DrawerIndex {
  const usesOf = new Map<string, PartUse[]>();
  for (const use of uses) usesOf.set(use.partId, [...(usesOf.get(use.partId) ?? []), use]);
  const entries = parts.map((part) => {
    const trains = usesOf.get(part.partId) ?? [];
    const known = remembered.get(part);
    if (known && sameUses(known.trains, trains)) return known;
    const entry = entryOf(part, trains);
    remembered.set(part, entry);
    return entry;
  });
  const places = new Set(
    parts.flatMap(({ location }) => [location, ...locationSteps(location)].map((place) => place.toLowerCase()))
  );
  places.delete('');
  return {
    entries,
    places: [...places].sort((a, b) => b.length - a.length),
    trains: [...new Set(uses.map(({ trainName }) => trainName.toLowerCase()))]
  };
}

type Test = (entry: Entry) => boolean;

/** Words of two or three letters, and most letters, say other things too in a search. */
const genderIn = (token: string): Gender | undefined =>
  token.length > 3 || token === 'f' || token === 'm' ? genderOf(token) : undefined;
const NUMBER = /^\d+(?:[.,]\d+)?(?:mm)?$/;
/** `10–20`, `>10`, `<5`, `>=7.5mm`: lengths between two ends. */
const RANGE = /^(\d+(?:[.,]\d+)?)(?:mm)?(?:-|–|\.\.)(\d+(?:[.,]\d+)?)(?:mm)?$/;
const BEYOND = /^([<>])=?(\d+(?:[.,]\d+)?)(?:mm)?$/;

function rangeTest(token: string): Test | undefined {
  const range = RANGE.exec(token);
  const beyond = BEYOND.exec(token);
  if (!range && !beyond) return undefined;
  const [least, most] = range
    ? [decimal(range[1]!), decimal(range[2]!)]
    : beyond![1] === '>'
      ? [decimal(beyond![2]!), Infinity]
      : [-Infinity, decimal(beyond![2]!)];
  return ({ lengths }) => lengths.some((each) => each >= least - 1e-9 && each <= most + 1e-9);
}

/** A reading of 16.48 is still what somebody calls a 16.5. */
const LENGTH_SLACK_MM = 0.05;

function threadTest(token: string, gender: string | undefined): Test | undefined {
  const designation = parseThread(token)?.designation;
  const wanted = designation === undefined ? token.replace(',', '.') : plain(designation);
  if (designation === undefined && !/^m\d+(?:\.\d+)?(?:x[\d.]*)?$/.test(wanted)) return undefined;
  return ({ faces }) =>
    faces.some(
      (face) =>
        (face.designation === wanted ||
          face.diameter === wanted ||
          (wanted.includes('x') && face.designation.startsWith(wanted))) &&
        (gender === undefined || face.gender === gender)
    );
}

function numberTest(token: string): Test {
  const text = token.replace('mm', '').replace(',', '.');
  const length = Number(text);
  const whole = !text.includes('.');
  return ({ lengths, words }) =>
    words.has(text) ||
    lengths.some((each) => Math.abs(each - length) <= LENGTH_SLACK_MM || (whole && Math.floor(each) === length));
}

/** Reads a query into tests that must all hold. */
function testsOf(query: string, index: DrawerIndex): Test[] {
  const tests: Test[] = [];
  let rest = ` ${plain(query).trim().replace(/\s+/g, ' ')} `;
  const inTrain = / in (.+?) $/.exec(rest);
  if (inTrain && index.trains.some((name) => name.includes(inTrain[1]!))) {
    const name = inTrain[1]!;
    tests.push(({ trains }) => trains.some(({ trainName }) => trainName.toLowerCase().includes(name)));
    rest = rest.slice(0, inTrain.index + 1);
  }
  // A place of several words, “tin 2”, is one thing, not two.
  for (const place of index.places) {
    if (place.includes(' ') && rest.includes(` ${place} `)) {
      tests.push(
        ({ location }) => location === place || locationSteps(location).includes(place) || location.startsWith(place)
      );
      rest = rest.replace(` ${place} `, ' ');
    }
  }
  // The list itself writes “10.00 mm”.
  const tokens = rest
    .replace(/(\d) mm\b/g, '$1mm')
    .split(' ')
    .filter(Boolean);
  for (let at = 0; at < tokens.length; at++) {
    const token = tokens[at]!;
    const gender = genderIn(tokens[at + 1] ?? '');
    const thread = threadTest(token, gender);
    const range = rangeTest(token);
    if (range) tests.push(range);
    else if (thread) {
      tests.push(thread);
      if (gender !== undefined) at++;
    } else if (NUMBER.test(token)) tests.push(numberTest(token));
    else if (genderIn(token) && at > 0) {
      tests.push(({ faces }) => faces.some((face) => face.gender === genderIn(token)));
    } else tests.push(({ text }) => text.includes(token));
  }
  return tests;
}

function filterTests({ kind, thread, state, location, trainId, measured }: PartFilter): Test[] {
  const tests: Test[] = [];
  if (kind !== undefined) tests.push(({ part }) => part.element.kind === kind);
  if (thread !== undefined) {
    const wanted = plain(thread);
    tests.push(({ faces }) => faces.some(({ designation }) => designation === wanted));
  }
  if (state !== undefined) {
    tests.push(({ part }) => (state === 'to-buy' ? !part.owned : part.owned && part.state === state));
  }
  if (location !== undefined) {
    tests.push(({ part }) => part.location === location || part.location.startsWith(`${location} / `));
  }
  if (trainId !== undefined) tests.push(({ trains }) => trains.some((use) => use.trainId === trainId));
  if (measured !== undefined) tests.push(({ lengths }) => lengths.length > 1 === (measured === 'yes'));
  return tests;
}

export type SortKey = 'partId' | 'name' | 'length' | 'location' | 'kind' | 'price' | 'mass';

const collator = new Intl.Collator('en', { numeric: true, sensitivity: 'base' });
const KEYS: Readonly<Record<SortKey, (part: Part) => string | number>> = {
  partId: ({ partId }) => partId,
  name: ({ element }) => element.name,
  length: (part) => measuredOf(part)?.lengthMm ?? part.element.lengthMm,
  location: ({ location }) => (location === '' ? '\uFFFF' : location),
  kind: ({ element }) => KINDS[element.kind].words,
  price: ({ price }) => price ?? Infinity,
  mass: ({ element }) => element.massG ?? Infinity
};

/** Puts parts in order; numbers inside names count as numbers. Equal ones keep the order of their numbers. */
export function sortParts(parts: readonly Part[], key: SortKey, descending = false): Part[] {
  const sign = descending ? -1 : 1;
  return parts
    .map((part) => ({ part, by: KEYS[key](part) }))
    .sort(
      (a, b) =>
        sign *
          (typeof a.by === 'number' && typeof b.by === 'number'
            ? a.by - b.by || 0
            : collator.compare(String(a.by), String(b.by))) || collator.compare(a.part.partId, b.part.partId)
    )
    .map(({ part }) => part);
}

/**
 * The parts that match a query and a filter, in the order of the drawer; one whose number is the query comes first.
 *
 * Words must all occur; `m48 f` asks for a female M48 of any pitch; `16.5` for a length, published or measured;
 * `tin 2` for a place; `in Heron` for use in a train.
 */
export function searchParts(index: DrawerIndex, query: string, filter: PartFilter = {}): Part[] {
  const tests = [...filterTests(filter), ...testsOf(query, index)];
  const found = index.entries.filter((entry) => tests.every((test) => test(entry))).map(({ part }) => part);
  const exact = query.trim().toLowerCase();
  const first = found.findIndex(({ partId }) => partId.toLowerCase() === exact);
  return first > 0 ? [found[first]!, ...found.toSpliced(first, 1)] : found;
}

/** How many letters a word may be wrong in, by its length: short ones are other words at once. */
const wrongLetters = (word: string): number => (word.length >= 7 ? 2 : word.length >= 4 ? 1 : 0);

/**
 * The query with words that nothing in the drawer has exchanged for the nearest that something has; undefined where
 * there is no word so near. Numbers and threads are taken as they were typed.
 */
export function nearestQuery(index: DrawerIndex, query: string): string | undefined {
  const known = new Set(index.entries.flatMap(({ words }) => [...words]).filter((word) => /^\p{L}{3,}$/u.test(word)));
  let isOther = false;
  const words = query
    .trim()
    .split(/\s+/)
    .map((typed) => {
      const word = plain(typed);
      const may = wrongLetters(word);
      if (!/^\p{L}+$/u.test(word) || may === 0 || index.entries.some(({ text }) => text.includes(word))) return typed;
      if (known.size === 0) return typed;
      const near = closest(word, [...known]);
      // Two letters that changed places are one slip, and count as two.
      const swapped = distance([...word].sort().join(''), [...near].sort().join('')) === 0;
      if (distance(word, near) > (swapped ? Math.max(may, 2) : may)) return typed;
      isOther = true;
      return near;
    });
  return isOther ? words.join(' ') : undefined;
}

/** How many of the given parts fall under each choice of each facet. */
export function facetsOf(
  parts: readonly Part[]
): Record<'kind' | 'thread' | 'state' | 'measured', Map<string, number>> {
  const facets = { kind: new Map(), thread: new Map(), state: new Map(), measured: new Map() } as ReturnType<
    typeof facetsOf
  >;
  const count = (map: Map<string, number>, key: string) => map.set(key, (map.get(key) ?? 0) + 1);
  for (const part of parts) {
    const { element } = part;
    count(facets.kind, element.kind);
    const threads = [skyPort(element), cameraPort(element)].flatMap((port) =>
      port && 'thread' in port ? [parseThread(port.thread)?.designation ?? port.thread] : []
    );
    for (const thread of new Set(threads)) count(facets.thread, thread);
    count(facets.state, part.owned ? part.state : 'to-buy');
    count(facets.measured, part.measurements.length > 0 || element.measured ? 'yes' : 'no');
  }
  return facets;
}

/** A place with how many parts lie in it, those in places inside it included. */
export interface Place {
  path: string;
  name: string;
  depth: number;
  count: number;
}

/** The tree of places, parents before what is in them. */
export function placesOf(parts: readonly Part[]): Place[] {
  const counts = new Map<string, number>();
  for (const { location } of parts) {
    const steps = locationSteps(location);
    steps.forEach((_step, depth) => {
      const path = steps.slice(0, depth + 1).join(' / ');
      counts.set(path, (counts.get(path) ?? 0) + 1);
    });
  }
  return [...counts]
    .sort(([a], [b]) => collator.compare(a, b))
    .map(([path, count]) => {
      const steps = locationSteps(path);
      return { path, name: steps.at(-1)!, depth: steps.length - 1, count };
    });
}

/**
 * How many parts a choice of each facet would leave, everything else that was asked for counted: what stands beside a
 * choice is what it leads to.
 */
export function facetsLeft(
  index: DrawerIndex,
  query: string,
  filter: PartFilter
): Record<keyof PartFilter, ReadonlyMap<string, number>> {
  const without = (key: keyof PartFilter): Part[] => {
    const { [key]: _own, ...others } = filter;
    return searchParts(index, query, others);
  };
  const inTrains = new Map<string, number>();
  const ofAnyTrain = new Set(without('trainId').map(({ partId }) => partId));
  for (const { part, trains } of index.entries) {
    if (!ofAnyTrain.has(part.partId)) continue;
    for (const trainId of new Set(trains.map((use) => use.trainId))) {
      inTrains.set(trainId, (inTrains.get(trainId) ?? 0) + 1);
    }
  }
  return {
    kind: facetsOf(without('kind')).kind,
    thread: facetsOf(without('thread')).thread,
    state: facetsOf(without('state')).state,
    measured: facetsOf(without('measured')).measured,
    location: new Map(placesOf(without('location')).map(({ path, count }) => [path, count])),
    trainId: inTrains
  };
}
