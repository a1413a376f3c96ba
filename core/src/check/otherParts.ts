import { partLength, placedPart, type Part } from '../drawer/part.ts';
import { counterpart, facesJoin } from '../joint/mate.ts';
import {
  KINDS,
  glassOf,
  isBody,
  isShim,
  lengthOf,
  type BodyElement,
  type Port,
  type SolidElement,
  type Train
} from '../train/model.ts';
import { formatLength } from '../why/wording.ts';
import type { Proposal } from './finding.ts';

/** Parts of the drawer that are tried in one place: each costs a whole check. */
const MOST_TRIED = 8;

/** Clear aperture that light meets in a part: its own, or that of its narrowest filter, mm. */
const clearOf = (element: BodyElement): number =>
  Math.min(
    element.clearMm ?? Infinity,
    ...(glassOf(element) ?? []).map(({ clearMm, thicknessMm }) => (thicknessMm > 0 ? (clearMm ?? Infinity) : Infinity))
  );

/**
 * Parts of the drawer in place of one that takes light: of the same kind, wider, and held by the same neighbours.
 *
 * @param id of the element that takes it
 */
export function widerParts(train: Train, id: string, parts: readonly Part[]): Proposal[] {
  const index = train.elements.findIndex((element) => element.id === id);
  const element = train.elements[index];
  if (!element || !isBody(element) || element.corrector) return [];
  const clearMm = clearOf(element);
  return parts
    .flatMap((part): { part: Part; wideMm: number }[] => {
      const other = part.element;
      if (!isBody(other) || other.kind !== element.kind || part.partId === element.partId) return [];
      const wideMm = clearOf(other);
      return Number.isFinite(wideMm) && wideMm > clearMm ? [{ part, wideMm }] : [];
    })
    .sort((a, b) => b.wideMm - a.wideMm)
    .slice(0, MOST_TRIED)
    .map(({ part, wideMm }): Proposal => {
      const where = part.location === '' ? '' : `, ${part.location}`;
      return {
        action: () => `Put ${part.partId} in its place`,
        sentence: (unit) =>
          `${part.partId} (${part.element.name}${where}) leaves ${formatLength(wideMm, unit, unit === 'mm' ? 1 : 3)} clear where ${element.name} leaves ${formatLength(clearMm, unit, unit === 'mm' ? 1 : 3)}.`,
        operation: { op: 'replace', id, element: { ...placedPart(part, { id }), ...seated(element) } }
      };
    });
}

/** What an element's place has of its own, whatever stands there. */
const seated = ({ seat }: BodyElement): Pick<BodyElement, 'seat'> => (seat ? { seat } : {});

/**
 * The same parts in another order: everything that only takes up length on one side of an element, moved to its other
 * side. That leaves the length alone, and changes how far the element is from the sensor.
 */
export function partsAcross(train: Train, id: string, toward: 'sky' | 'camera'): Proposal[] {
  const { elements } = train;
  const at = elements.findIndex((element) => element.id === id);
  if (at < 0) return [];
  const from = toward === 'sky' ? elements.slice(at + 1) : elements.slice(0, at);
  const next = elements[at + 1];
  return from
    .filter((element): element is SolidElement => isShim(element) || (isBody(element) && isPlain(element)))
    .slice(0, MOST_TRIED)
    .flatMap((element): Proposal[] => {
      const before = toward === 'sky' ? id : next?.id;
      if (before === undefined) return [];
      const side = toward === 'sky' ? 'sky' : 'camera';
      return [
        {
          action: () => `Move ${element.name} to the ${side} side`,
          sentence: (unit) =>
            `${element.name} (${formatLength(lengthOf(element), unit)}) on the ${side} side of ${elements[at]!.name} leaves the length as it is.`,
          operation: { op: 'move', id: element.id, before },
          keepsLength: true
        }
      ];
    });
}

const isPlain = ({ corrector, pickoff, glass, adjust }: BodyElement): boolean =>
  !corrector && !pickoff && !adjust && (glass ?? []).length === 0;

/** More tubes than this are not put before a guide camera. */
const MOST_TUBES = 2;

/** Rings of a kind that are tried together. */
const MOST_RINGS = 40;

/**
 * Rings of the drawer that carry a guide camera farther out, fewest first, and of those what leaves its helical nearest
 * the middle of its travel.
 *
 * @param port what the guide camera screws to
 * @param leastMm and mostMm what they have to come to together, mm
 * @returns some ways, each one or two rings
 */
export function tubesFor(port: Port, leastMm: number, mostMm: number, parts: readonly Part[]): Part[][] {
  const rings = parts
    .filter(({ element }) => {
      if (!isBody(element) || !KINDS[element.kind].fills || !isPlain(element)) return false;
      return facesJoin(port, element.sky) && facesJoin(element.camera, counterpart(port));
    })
    .sort((a, b) => partLength(a) - partLength(b))
    .slice(0, MOST_RINGS);
  const middleMm = (leastMm + mostMm) / 2;
  const sumOf = (way: readonly Part[]): number => way.reduce((sum, part) => sum + partLength(part), 0);
  const fits = (way: readonly Part[]): boolean => sumOf(way) >= leastMm - HAIR_MM && sumOf(way) <= mostMm + HAIR_MM;
  const ones = rings.map((ring) => [ring]);
  const pairs = rings.flatMap((ring, at) => {
    const others = ring.quantity > 1 ? rings.slice(at) : rings.slice(at + 1);
    return others.map((other) => [ring, other]);
  });
  return [...ones, ...pairs]
    .filter((way) => way.length <= MOST_TUBES && fits(way))
    .sort((a, b) => a.length - b.length || Math.abs(sumOf(a) - middleMm) - Math.abs(sumOf(b) - middleMm))
    .slice(0, MOST_OFFERED);
}

/** Ways that are offered of a kind. */
const MOST_OFFERED = 3;

const HAIR_MM = 1e-9;
