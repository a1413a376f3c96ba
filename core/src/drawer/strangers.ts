import { facesAlike } from '../joint/mate.ts';
import { KINDS } from '../train/kinds.ts';
import {
  cameraPort,
  correctorOf,
  glassOf,
  isBody,
  isSolid,
  lengthOf,
  partIdOf,
  partIdsOf,
  seatOf,
  skyPort,
  type Element,
  type Glass,
  type Port,
  type SolidElement,
  type Train
} from '../train/model.ts';
import { turnedRound } from '../joint/fit.ts';
import { filterKey } from '../sky/channels.ts';
import { filterGlass } from './filterGlass.ts';
import { partLength, placedPart, type Part } from './part.ts';

/** A part of one’s own that can stand where another’s stands. */
export interface Substitute {
  part: Part;
  reversed: boolean;
  /** How much longer it is than theirs, mm. */
  longerMm: number;
}

/** What has a number of its own inside of an element, and where it stands there. */
export interface Inside {
  of: 'glass' | 'tubes';
  at: number;
  name: string;
  /** Thickness of a filter, length of a tube, mm. */
  lengthMm: number;
}

/** A part of somebody else’s train that is not in this drawer. */
export interface StrangersPart {
  /** What tells it from the others: the id of its element, and its place in that where it is inside of one. */
  key: string;
  element: SolidElement;
  /** A filter or a tube in an element that is itself of this drawer; undefined of an element. */
  inside?: Inside;
  /** Its number where it comes from; undefined where it has none. */
  number: string | undefined;
  /** This drawer has another part of that number. */
  isNamesake: boolean;
  /** What there is instead, the nearest in length first. */
  substitutes: Substitute[];
}

/** Published lengths that are the same, mm. */
const SAME_MM = 0.005;
/** Rings this far from theirs are another choice, no substitute (common practice, no source), mm. */
const FARTHEST_MM = 5;
/** Correctors whose back focus differs by more are not exchanged, mm. */
const SAME_BACK_FOCUS_MM = 0.5;
const MOST_SUBSTITUTES = 5;
/** No note is longer. */
const MOST_NOTE_CHARS = 4000;

/** Whether two faces are the same; one that is not known may be any. */
const mayBe = (own: Port | undefined, theirs: Port | undefined): boolean => !own || !theirs || facesAlike(own, theirs);

const sameFaces = (theirs: Element, own: Element): boolean =>
  mayBe(skyPort(own), skyPort(theirs)) && mayBe(cameraPort(own), cameraPort(theirs));

/** Whether a part of this drawer is the one a train means, whatever was measured of it since. */
const isIt = (theirs: SolidElement, { element }: Part): boolean =>
  element.kind === theirs.kind && Math.abs(element.lengthMm - theirs.lengthMm) <= SAME_MM && sameFaces(theirs, element);

/** Whether a part does what another does. */
function doesTheSame(theirs: SolidElement, { element }: Part): boolean {
  const bothFill = KINDS[element.kind].fills && KINDS[theirs.kind].fills;
  if (element.kind !== theirs.kind && !bothFill) return false;
  if (element.kind === 'shim' || theirs.kind === 'shim') return element.kind === theirs.kind;
  const [asked, own] = [correctorOf(theirs), correctorOf(element)];
  if (!asked || !own) return asked === own;
  return Math.abs((asked.backFocusMm ?? 0) - (own.backFocusMm ?? 0)) <= SAME_BACK_FOCUS_MM;
}

function substituteFor(theirs: SolidElement, part: Part): Substitute | undefined {
  const { element, owned, state } = part;
  if (!owned || state === 'set-aside' || !doesTheSame(theirs, part)) return undefined;
  const longerMm = partLength(part) - lengthOf(theirs);
  if (KINDS[theirs.kind].fills && Math.abs(longerMm) > FARTHEST_MM) return undefined;
  if (sameFaces(theirs, element)) return { part, reversed: false, longerMm };
  const round = isBody(element) && element.reversible === true && sameFaces(theirs, turnedRound(element));
  return round ? { part, reversed: true, longerMm } : undefined;
}

/**
 * Parts of a train that has numbers of a drawer, which are not those of this one: unknown here, or of the same number
 * and something else.
 *
 * @returns none where every numbered part is in this drawer, or none has a number
 */
export function strangersParts(train: Train, parts: readonly Part[]): StrangersPart[] {
  const solid = train.elements.filter(isSolid);
  if (!solid.some((element) => partIdsOf(element).length > 0)) return [];
  const byId = new Map(parts.map((part) => [part.partId, part]));
  return solid.flatMap((element): StrangersPart[] => {
    const number = partIdOf(element);
    const namesake = number === undefined ? undefined : byId.get(number);
    if (number === undefined || (namesake && isIt(element, namesake))) return strangersInside(element, parts, byId);
    const substitutes = nearest(parts.flatMap((part) => substituteFor(element, part) ?? []));
    return [{ key: element.id, element, number, isNamesake: namesake !== undefined, substitutes }];
  });
}

const nearest = (substitutes: readonly Substitute[]): Substitute[] =>
  [...substitutes].sort((a, b) => Math.abs(a.longerMm) - Math.abs(b.longerMm)).slice(0, MOST_SUBSTITUTES);

/** What a filter lets through, as it tells filters apart. */
const lets = ({ passband, name }: Pick<Glass, 'passband' | 'name'>): string => filterKey(passband ?? name ?? '');

/** A filter of this drawer for one that lets the same through and is as large, as far as both say so. */
function filterFor(theirs: Glass, part: Part): Substitute | undefined {
  const own = part.owned && part.state !== 'set-aside' ? filterGlass(part) : undefined;
  if (!own || lets(own) !== lets(theirs)) return undefined;
  if (own.format !== undefined && theirs.format !== undefined && own.format !== theirs.format) return undefined;
  return { part, reversed: false, longerMm: own.thicknessMm - theirs.thicknessMm };
}

/** Filters and tubes in an element of this drawer that have numbers, and are not what those mean here. */
function strangersInside(
  element: SolidElement,
  parts: readonly Part[],
  byId: ReadonlyMap<string, Part>
): StrangersPart[] {
  const stranger = (number: string, inside: Inside, substitutes: Substitute[]): StrangersPart => ({
    key: `${element.id}/${inside.of}/${inside.at}`,
    element,
    inside,
    number,
    isNamesake: byId.has(number),
    substitutes
  });
  const filters = (glassOf(element) ?? []).flatMap((plate, at): StrangersPart[] => {
    const { partId: number, thicknessMm, name = number } = plate;
    if (number === undefined || name === undefined) return [];
    const namesake = byId.get(number);
    const own = namesake && filterGlass(namesake);
    if (own && lets(own) === lets(plate) && Math.abs(own.thicknessMm - thicknessMm) <= SAME_MM) return [];
    const inside = { of: 'glass', at, name, lengthMm: thicknessMm } as const;
    return [stranger(number, inside, nearest(parts.flatMap((part) => filterFor(plate, part) ?? [])))];
  });
  const tubes = ((isBody(element) && element.pickoff?.tubes) || []).flatMap((tube, at): StrangersPart[] => {
    const { partId: number, lengthMm, name = number } = tube;
    if (number === undefined || name === undefined) return [];
    const namesake = byId.get(number);
    if (namesake && Math.abs(namesake.element.lengthMm - lengthMm) <= SAME_MM) return [];
    return [stranger(number, { of: 'tubes', at, name, lengthMm }, [])];
  });
  return [...filters, ...tubes];
}

/** A substitute that is as good as theirs, mm: within what rings of one length differ by (common practice, no source). */
const AS_GOOD_MM = 0.1;

/** For each part the nearest of one’s own that is as long, no copy of it twice; none where there is none. */
export function asGood(strangers: readonly StrangersPart[]): Map<string, Substitute> {
  const taken = new Map<string, number>();
  const chosen = new Map<string, Substitute>();
  for (const { key, substitutes } of strangers) {
    const found = substitutes.find(
      ({ part, longerMm }) => Math.abs(longerMm) <= AS_GOOD_MM && (taken.get(part.partId) ?? 0) < part.quantity
    );
    if (!found) continue;
    taken.set(found.part.partId, (taken.get(found.part.partId) ?? 0) + 1);
    chosen.set(key, found);
  }
  return chosen;
}

/** An element without the numbers of a drawer that is not here; the note keeps its own. */
function unnumbered(element: SolidElement, number: string | undefined): SolidElement {
  const { partId: _partId, copy: _copy, ...rest } = element as SolidElement & { partId?: string; copy?: number };
  const bare = rest as SolidElement;
  const glass = 'glass' in bare ? bare.glass?.map(({ partId: _filter, ...plate }) => plate) : undefined;
  const longer = [bare.note, number && `${number} in the drawer it comes from.`].filter(Boolean).join('\n');
  const note = longer.length <= MOST_NOTE_CHARS ? longer : bare.note;
  return { ...bare, ...(glass ? { glass } : {}), ...(note ? { note } : {}) } as SolidElement;
}

/** An element with filters of one’s own for those of somebody else inside of it; what stays theirs has no number. */
function withInside(
  element: SolidElement,
  inside: readonly StrangersPart[],
  chosen: ReadonlyMap<string, Substitute>
): SolidElement {
  const own = (of: Inside['of'], at: number) => inside.find((each) => each.inside?.of === of && each.inside.at === at);
  const glass = glassOf(element)?.map((plate, at): Glass => {
    const stranger = own('glass', at);
    if (!stranger) return plate;
    const { partId: _number, ...bare } = plate;
    const found = chosen.get(stranger.key);
    const filter = found && filterGlass(found.part, plate.slot);
    if (!filter) return bare;
    const { fromSkyMm, counted } = plate;
    return {
      ...filter,
      ...(fromSkyMm === undefined ? {} : { fromSkyMm }),
      ...(counted === undefined ? {} : { counted })
    };
  });
  const changed = glass ? ({ ...element, glass } as SolidElement) : element;
  if (!isBody(changed) || !changed.pickoff?.tubes) return changed;
  const tubes = changed.pickoff.tubes.map((tube, at) => {
    if (!own('tubes', at)) return tube;
    const { partId: _number, ...bare } = tube;
    return bare;
  });
  return { ...changed, pickoff: { ...changed.pickoff, tubes: tubes as typeof changed.pickoff.tubes } };
}

/**
 * A train with parts of one’s own for those of somebody else; what stays theirs has no number of this drawer.
 *
 * @param chosen by the key of the part
 */
export function withSubstitutes(
  train: Train,
  strangers: readonly StrangersPart[],
  chosen: ReadonlyMap<string, Substitute>
): Train {
  const theirs = new Map(strangers.map((each) => [each.key, each]));
  const elements = train.elements.map((element): Element => {
    const stranger = theirs.get(element.id);
    const inside = strangers.filter((each) => each.inside && each.element.id === element.id);
    if (!stranger) return inside.length > 0 && isSolid(element) ? withInside(element, inside, chosen) : element;
    const own = chosen.get(stranger.key);
    if (!own) return unnumbered(stranger.element, stranger.number);
    const placed = placedPart(own.part, { id: element.id, reversed: own.reversed });
    const seat = seatOf(element);
    return seat && placed.kind !== 'shim' ? { ...placed, seat } : placed;
  });
  return { ...train, elements };
}
