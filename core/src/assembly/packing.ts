import { partLength, type Part } from '../drawer/part.ts';
import { jointsOf } from '../joint/joints.ts';
import { facesJoin } from '../joint/mate.ts';
import { parseThread } from '../joint/thread.ts';
import { datumOf } from '../length/backFocus.ts';
import { detachablesOf } from '../train/detachable.ts';
import {
  HOST,
  KINDS,
  cablesOf,
  cameraPort,
  glassOf,
  isBody,
  isCamera,
  isShim,
  isSolid,
  lengthOf,
  nameOf,
  skyPort,
  standingIn,
  type Attached,
  type Train
} from '../train/model.ts';
import { formatLength, listedBriefly, type LengthUnit } from '../why/wording.ts';
import { assemblySheet, type AssemblyOrder } from './sheet.ts';

export type PackingGroup = 'parts' | 'filters' | 'rings' | 'tools' | 'cables' | 'caps' | 'joints';

/** Something that goes along, or that has to be looked at. */
export interface PackingItem {
  /** What it is ticked by. */
  key: string;
  group: PackingGroup;
  what: string;
  /** Where it lies; null where that is not known, or means nothing. */
  location: string | null;
}

export const PACKING_TITLES: Readonly<Record<PackingGroup, string>> = {
  parts: 'Parts',
  filters: 'Filters',
  rings: 'Rings, should the distance be another',
  tools: 'Tools',
  cables: 'Cables',
  caps: 'Caps and what else',
  joints: 'Joints that are not closed yet'
};

/** A corrector whose own uncertainty is not stated may be off by this, ± mm (common practice, no source). */
const USUAL_REACH_MM = 1;

/** More rings than these are not asked to be brought. */
const MOST_RINGS = 12;

/** Rings and shims of the drawer that make the train longer or shorter within what its corrector may be off by. */
function ringsFor(train: Train, parts: readonly Part[]): Part[] {
  const { corrector, index } = datumOf(train);
  const reachMm = Math.max(corrector?.uncertaintyMm ?? USUAL_REACH_MM, corrector?.toleranceMm ?? 0);
  const standing = standingIn(train);
  const behind = train.elements.slice(index + 1);
  const threads = jointsOf(train).flatMap(({ cameraIndex, pair }) => {
    const thread = cameraIndex > index && pair ? parseThread(pair.male.thread) : undefined;
    return thread ? [thread.diameterMm] : [];
  });
  return parts
    .filter((part) => {
      const { element, partId, quantity, owned, state } = part;
      if (!owned || state === 'set-aside' || quantity <= (standing.get(partId) ?? 0)) return false;
      if (isShim(element)) {
        const { clearMm } = element;
        return partLength(part) <= reachMm && clearMm !== undefined && threads.some((mm) => clearMm >= mm);
      }
      if (!isBody(element) || !KINDS[element.kind].fills) return false;
      return behind.some(
        (other) =>
          isBody(other) &&
          KINDS[other.kind].fills &&
          Math.abs(lengthOf(other) - partLength(part)) <= reachMm &&
          facesAlike(other, element)
      );
    })
    .sort((a, b) => partLength(a) - partLength(b))
    .slice(0, MOST_RINGS);
}

/** Whether one ring goes where another stands: what each of its faces joins, the other's joins too. */
function facesAlike(a: Parameters<typeof skyPort>[0], b: Parameters<typeof skyPort>[0]): boolean {
  const [skyA, skyB, cameraA, cameraB] = [skyPort(a), skyPort(b), cameraPort(a), cameraPort(b)];
  if (!skyA || !skyB || !cameraA || !cameraB) return false;
  const same = (p: typeof skyA, q: typeof skyA): boolean =>
    'thread' in p && 'thread' in q
      ? p.gender === q.gender && facesJoin(p, { ...q, gender: p.gender === 'male' ? 'female' : 'male' })
      : JSON.stringify(p) === JSON.stringify(q);
  return same(skyA, skyB) && same(cameraA, cameraB);
}

/** What stands or hangs on the train beside the beam: guide camera, the tubes before it, motor, bracket, heater. */
function hung({ host, elements }: Train, whereIs: (partId: string | undefined) => string | null): PackingItem[] {
  const item = (key: string, what: string, location: string | null = null): PackingItem => ({
    key,
    group: 'parts',
    what,
    location
  });
  const attached = (id: string, of: string, list: readonly Attached[] = []): PackingItem[] =>
    list.map(({ name }, index) => item(`attached ${id} ${index} ${name}`, `${name}, on ${of}`));
  return [
    ...attached(HOST, host.name, host.attached),
    ...elements.flatMap((element): PackingItem[] => {
      if (!isBody(element) && !isCamera(element)) return [];
      const { id, name: of } = element;
      const { guideCamera, tubes = [] } = (isBody(element) ? element.pickoff : undefined) ?? {};
      return [
        ...(guideCamera ? [item(`guide ${id}`, `${guideCamera.name ?? 'guide camera'}, on ${of}`)] : []),
        ...tubes.map(({ name, partId }, index) =>
          item(
            `tube ${id} ${index}`,
            [...(partId === undefined ? [] : [partId]), name ?? 'tube', 'before the guide camera'].join(', '),
            whereIs(partId)
          )
        ),
        ...attached(id, of, element.attached)
      ];
    })
  ];
}

/** Pieces that are on go along with their parts; those that are off are brought as rings are, should it be too long or short. */
const piecesToPack = ({ host, elements }: Train, unit: LengthUnit): PackingItem[] =>
  [
    { id: HOST, of: host.name, pieces: host.detachable ?? [] },
    ...elements.map((element) => ({ id: element.id, of: element.name, pieces: detachablesOf(element) }))
  ].flatMap(({ id, of, pieces }) =>
    pieces.map(({ name, lengthMm, on, keptAt }, index): PackingItem => ({
      key: `piece ${id} ${index} ${name}`,
      group: on ? 'parts' : 'rings',
      what: on ? `${name}, on ${of}` : `${name} of ${of}, ${formatLength(lengthMm, unit)}`,
      location: on ? null : (keptAt ?? null)
    }))
  );

/**
 * Everything to bring for a train: its parts and filters with where they lie, rings for ± what the corrector may be off
 * by, tools, cables, caps, and which joints are not closed yet.
 *
 * @param isClosed whether a joint is closed, by its camera-side element
 */
export function packingList(
  train: Train,
  parts: readonly Part[],
  isClosed: (joint: string) => boolean,
  unit: LengthUnit,
  order: AssemblyOrder = 'camera'
): PackingItem[] {
  const byId = new Map(parts.map((part) => [part.partId, part]));
  const whereIs = (partId: string | undefined): string | null =>
    (partId !== undefined && byId.get(partId)?.location) || null;
  const solid = train.elements.filter(isSolid);
  const numbered = (name: string, partId: string | undefined): string =>
    partId === undefined ? name : `${partId}, ${name}`;
  const sheet = assemblySheet(train, unit, order);
  const open = sheet.flatMap(({ joint, parts: [gap] }) => (joint === null || isClosed(joint) ? [] : [{ joint, gap }]));
  return [
    { key: 'host', group: 'parts', what: train.host.name, location: null },
    ...solid.map(({ id, name, partId }): PackingItem => ({
      key: id,
      group: 'parts',
      what: numbered(name, partId),
      location: whereIs(partId)
    })),
    ...solid.flatMap((element) =>
      (glassOf(element) ?? []).flatMap(({ slot, name, passband, partId, thicknessMm, role }, at): PackingItem[] =>
        thicknessMm <= 0 || (slot === undefined && role !== 'filter')
          ? []
          : [
              {
                key: `${element.id} filter ${at}`,
                group: 'filters',
                what: [
                  passband ?? name ?? 'unnamed',
                  slot === undefined ? element.name : `slot ${slot} of ${element.name}`
                ].join(', '),
                location: whereIs(partId)
              }
            ]
      )
    ),
    ...hung(train, whereIs),
    ...piecesToPack(train, unit),
    ...ringsFor(train, parts).map((part): PackingItem => ({
      key: `ring ${part.partId}`,
      group: 'rings',
      what: `${part.partId}, ${part.element.name}, ${formatLength(partLength(part), unit)}`,
      location: part.location === '' ? null : part.location
    })),
    ...[...new Set(sheet.flatMap(({ tools }) => tools))].map((tool): PackingItem => ({
      key: `tool ${tool}`,
      group: 'tools',
      what: tool,
      location: null
    })),
    ...cablesOf(train).map(({ at, of, cable: { name } }, index, all): PackingItem => ({
      key: `cable ${at} ${index - all.findIndex((first) => first.at === at)} ${name}`,
      group: 'cables',
      what: `${name}, to ${of}`,
      location: null
    })),
    ...[...new Set(train.packing?.caps)].map((what): PackingItem => ({
      key: `cap ${what}`,
      group: 'caps',
      what,
      location: null
    })),
    ...(open.length === 0
      ? []
      : [
          {
            key: 'open joints',
            group: 'joints' as const,
            what: `${open.length} ${open.length === 1 ? 'joint is' : 'joints are'} to be closed there: before ${listedBriefly(open.map(({ joint }) => nameOf(train, joint)))}.`,
            location: null
          }
        ])
  ];
}
