import { Facts } from '../check/facts.ts';
import type { Finding } from '../check/finding.ts';
import { addedErrors, changed } from '../check/remedies.ts';
import { Assessment } from '../check/report.ts';
import { jointAperture, jointsOf } from '../joint/joints.ts';
import { counterpart, facesJoin, portInWords } from '../joint/mate.ts';
import { canBeMade } from '../train/kinds.ts';
import {
  findElement,
  isBody,
  type BodyElement,
  type CameraElement,
  type Fastener,
  type Port,
  type Train
} from '../train/model.ts';
import { apply, OperationError, type Operation } from '../train/operations.ts';
import { formatLength, plainMm, type LengthUnit } from '../why/wording.ts';
import { beamLimitOf } from './beam.ts';
import {
  boreOf,
  diameterOf,
  LONGEST_MM,
  madeFor,
  WALL_MM,
  WORKSHOP_MM,
  type BoltedFlange,
  type RingSpec,
  type ScrewHoles
} from './ring.ts';

/** What is otherwise about a train in one variant of it. */
export interface VariantChange {
  /** Ids of what is not in it. */
  without: readonly string[];
  /** Another camera in place of the train’s own. */
  camera?: CameraElement;
}

/** How a face is made, where that is said: anything else follows from what it joins. */
export interface FaceAsked {
  port?: Port;
  screws?: ScrewHoles;
  /** Of a bayonet: the flange that is bolted on. */
  flange?: { thicknessMm: number; bolts: { count: number; circleMm: number } };
}

/** What somebody asks of a part to have made. */
export interface MadeAsked {
  /** Half-width the workshop keeps, mm; of an ordinary lathe where not stated. */
  toleranceMm?: number;
  clearMm?: number;
  outerMm?: number;
  sky?: FaceAsked;
  camera?: FaceAsked;
}

/** A part made to measure, tried in its train. */
export interface MadePart {
  /** What is turned. */
  spec: RingSpec;
  /** As it is in the train: with its flanges, and their bayonets for faces. */
  element: BodyElement;
  /** Error of the train with it, mm. */
  residualMm: number;
  /** What it makes wrong that was not. */
  faults: readonly Finding[];
}

type Side = 'sky' | 'camera';
const SIDES: readonly Side[] = ['sky', 'camera'];

/** Why no part can be named. */
export interface NotMade {
  say: (unit: LengthUnit) => string;
  /** Face whose bayonet needs a flange that is not stated. */
  needsFlange?: Side;
}

/** A part to have made, or what is missing to name it. */
export type MadeAnswer = ({ ok: true } & MadePart) | ({ ok: false } & NotMade);

/** Most variants on one sheet. */
export const MOST_VARIANTS = 5;

/** A length is made to so much, mm. */
const MADE_MM = 0.01;

/** A length to try a place with, mm: its figure does not matter, what becomes of the error does. */
const TRIED_MM = 10;

const refused = (message: string): NotMade & { ok: false } => ({ ok: false, say: () => message });

/** A variant of a train with the place open; undefined where there is no such train. */
function opened(train: Train, place: string, { without, camera }: VariantChange): Train | undefined {
  const own = train.elements.at(-1);
  const operations: Operation[] = [
    ...without.filter((id) => id !== place).map((id): Operation => ({ op: 'remove', id })),
    ...(camera && own ? [{ op: 'replace' as const, id: own.id, element: { ...camera, id: own.id } }] : []),
    { op: 'replace', id: place, element: { id: place, kind: 'gap', name: 'Gap' } }
  ];
  try {
    return operations.reduce(apply, train);
  } catch (error) {
    if (error instanceof OperationError) return undefined;
    throw error;
  }
}

/** One face of a part: as asked for, as the part had it where that joins, or made for its neighbour. */
function faceFor(
  neighbour: Port,
  { port: asked }: FaceAsked,
  before: Port | undefined,
  joins: (port: Port) => boolean
): Port | undefined {
  if (asked) return asked;
  if (before && !before.assumed && joins(before)) return before;
  return 'bayonet' in neighbour ? counterpart(neighbour) : madeFor(neighbour);
}

/** A face as a lathe makes it: of a bayonet, the bolt circle of its flange; undefined where none is stated. */
function asTurned(face: Port, { flange }: FaceAsked): { port: Port; flange?: BoltedFlange } | undefined {
  if (!('bayonet' in face)) return { port: face };
  if (!flange) return undefined;
  const { thicknessMm, bolts } = flange;
  return { port: { bolts }, flange: { bayonet: face.bayonet, gender: face.gender, thicknessMm } };
}

const kindBetween = (sky: Port, camera: Port): 'spacer' | 'adapter' | 'bayonet-adapter' => {
  if ('bayonet' in sky || 'bayonet' in camera) return 'bayonet-adapter';
  return 'thread' in sky && 'thread' in camera && diameterOf(sky) === diameterOf(camera) ? 'spacer' : 'adapter';
};

const NAMES = { spacer: 'Ring', adapter: 'Adapter', 'bayonet-adapter': 'Bayonet adapter' } as const;

/** Everything about a part but its length. */
type Blank = Omit<RingSpec, 'lengthMm'> & { faces: { sky: Port; camera: Port } };

/** Both faces and the diameters of a part for an open place. */
function blankAt(
  open: Train,
  place: string,
  own: BodyElement | undefined,
  asked: MadeAsked
): Blank | (NotMade & { ok: false }) {
  const joints = jointsOf(open).filter(({ skyId, cameraId }) => skyId === place || cameraId === place);
  const above = joints.find(({ cameraId }) => cameraId === place)?.sky;
  const below = joints.find(({ skyId }) => skyId === place)?.camera;
  if (!above || !below) {
    return refused(`What it joins on its ${above ? 'camera' : 'sky'} side has no known face: state it first.`);
  }
  const [askedSky, askedCamera] = [asked.sky ?? {}, asked.camera ?? {}];
  const sky = faceFor(above, askedSky, own?.sky, (port) => facesJoin(above, port));
  const camera = faceFor(below, askedCamera, own?.camera, (port) => facesJoin(port, below));
  if (!sky || !camera) return refused('A face of it cannot be made: it joins a thread that is not known.');
  const turned = { sky: asTurned(sky, askedSky), camera: asTurned(camera, askedCamera) };
  if (!turned.sky || !turned.camera) {
    const needsFlange = turned.sky ? 'camera' : 'sky';
    const words = portInWords(needsFlange === 'sky' ? sky : camera);
    return {
      ...refused(
        `A lathe makes no bayonet: a flange with a ${words} is bolted on. State how thick the flange is, and its screws.`
      ),
      needsFlange
    };
  }
  const ports = [turned.sky.port, turned.camera.port];
  const beside = joints.flatMap((joint) => jointAperture(open, joint)?.clearMm ?? []);
  const neededMm = beamLimitOf(new Facts(open))?.neededIn(place);
  const screws = bySide((side) => asked[side]?.screws);
  const flanges = bySide((side) => turned[side]?.flange);
  return {
    faces: { sky, camera },
    toleranceMm: asked.toleranceMm ?? WORKSHOP_MM,
    sky: turned.sky.port,
    camera: turned.camera.port,
    clearMm: asked.clearMm ?? Number(Math.min(...ports.map(boreOf), ...beside).toFixed(1)),
    outerMm: asked.outerMm ?? own?.outerMm ?? Math.ceil(Math.max(...ports.map(diameterOf)) + 2 * WALL_MM),
    ...(neededMm === undefined ? {} : { neededMm: Number(neededMm.toFixed(1)) }),
    ...(screws && { screws }),
    ...(flanges && { flanges })
  };
}

/** What there is of both sides; undefined where there is nothing of either. */
function bySide<T>(of: (side: Side) => T | undefined): Partial<Record<Side, T>> | undefined {
  const known = SIDES.flatMap((side) => {
    const value = of(side);
    return value === undefined ? [] : [[side, value] as const];
  });
  return known.length === 0 ? undefined : (Object.fromEntries(known) as Partial<Record<Side, T>>);
}

/** A part as an element of its train. */
function elementOf(id: string, { faces, toleranceMm, clearMm, outerMm }: Blank, lengthMm: number): BodyElement {
  const kind = kindBetween(faces.sky, faces.camera);
  const name = `${NAMES[kind]} ${plainMm(lengthMm)} made to measure`;
  return { id, kind, name, lengthMm, toleranceMm, ...faces, clearMm, outerMm };
}

/**
 * The part that brings a train to its back focus, made to measure for one place of it.
 *
 * @param place id of a gap, or of the part that it takes the place of: its faces are kept where they join
 * @param change what is otherwise in this variant of the train
 */
export function partToMake(
  train: Train,
  place: string,
  asked: MadeAsked = {},
  change: VariantChange = { without: [] }
): MadeAnswer {
  const old = findElement(train, place);
  if (!old || !canBeMade(old)) return refused('Choose a gap, a ring or an adapter: nothing else is made to measure.');
  const open = opened(train, place, change);
  if (!open) return refused('There is no such train: something that this variant changes is not in it.');
  if (open.elements.some(({ id, kind }) => kind === 'gap' && id !== place)) {
    return refused('Another gap is empty: fill it first.');
  }
  const blank = blankAt(open, place, isBody(old) ? old : undefined, asked);
  if ('ok' in blank) return blank;

  const before = new Assessment(open);
  const withLength = (lengthMm: number): Assessment | undefined =>
    changed(before, { op: 'replace', id: place, element: elementOf(place, blank, lengthMm) });
  const errorWith = (lengthMm: number): number | null | undefined => withLength(lengthMm)?.ledger.residualMm;

  // The length is the only unknown of a sum: tried twice, put right, and looked at as it will be.
  const [once, twice] = [errorWith(TRIED_MM), errorWith(2 * TRIED_MM)];
  if (once === undefined || twice === undefined) return refused('With these faces it is not a valid part.');
  if (once === null || twice === null) {
    return refused('No back focus is required here, so its length cannot be calculated.');
  }
  if (Math.abs(twice - once - TRIED_MM) > MADE_MM) {
    return refused('Its length does not change the back focus here. Choose a place behind the corrector.');
  }
  const flangesMm = SIDES.reduce((sum, side) => sum + (blank.flanges?.[side]?.thicknessMm ?? 0), 0);
  const wholeMm = TRIED_MM - once;
  const lengthMm = Number((Math.round(wholeMm / MADE_MM) * MADE_MM).toFixed(2));
  const turnedMm = Number((lengthMm - flangesMm).toFixed(4));
  if (turnedMm < MADE_MM) return tooLong(wholeMm - flangesMm, flangesMm > 0);
  if (turnedMm > LONGEST_MM) {
    return {
      ok: false,
      say: (unit) =>
        `It would be ${formatLength(turnedMm, unit)} long. More than ${formatLength(LONGEST_MM, unit, 0)} is not made in one piece.`
    };
  }
  const after = withLength(lengthMm);
  const residualMm = after?.ledger.residualMm ?? undefined;
  if (!after || residualMm === undefined) return refused('With these faces it is not a valid part.');
  const { faces: _faces, ...spec } = blank;
  return {
    ok: true,
    spec: { ...spec, lengthMm: turnedMm },
    element: elementOf(place, blank, lengthMm),
    residualMm,
    faults: addedErrors(before, after)
  };
}

/** Nothing is left for a part to be long. */
function tooLong(leftMm: number, hasFlanges: boolean): MadeAnswer {
  if (leftMm > -MADE_MM) return refused('The train has its back focus without it.');
  return {
    ok: false,
    say: (unit) =>
      `Without it the train is ${formatLength(-leftMm, unit)} too long${hasFlanges ? ', its flanges counted' : ''}.`
  };
}

/** Screws of a bolted face as the sheet of an assembly has them. */
function fastenersOf(spec: RingSpec, side: Side, covers: string | undefined): Fastener[] {
  const port = spec[side];
  const screws = spec.screws?.[side];
  // Screws of a flange hold it to the part before that is in hand.
  if (!screws || !('bolts' in port) || spec.flanges?.[side]) return [];
  const isThrough = screws.hole !== 'tapped';
  return [
    {
      thread: screws.thread,
      count: port.bolts.count,
      ...(isThrough ? { head: screws.hole === 'countersunk' ? 'countersunk' : 'cap' } : {}),
      // Their heads are at the other face: what joins there covers them.
      ...(isThrough && covers !== undefined ? { hiddenBy: covers } : {})
    }
  ];
}

/**
 * Puts a part made to measure into its place, and makes of the train what the variant is.
 *
 * @param note what the workshop was asked for
 */
export function madeOperation(
  train: Train,
  { element, spec }: MadePart,
  { without, camera }: VariantChange,
  note: string
): Operation {
  const own = train.elements.at(-1)!;
  const kept = train.elements.filter(({ id, kind }) => (id === element.id || kind !== 'gap') && !without.includes(id));
  const at = kept.findIndex(({ id }) => id === element.id);
  const [before, after] = [kept[at - 1], kept[at + 1]];
  const [toSky, toCamera] = [fastenersOf(spec, 'sky', after?.id), fastenersOf(spec, 'camera', before?.id)];
  const made: BodyElement = { ...element, note, ...(toSky.length > 0 ? { seat: { fasteners: toSky } } : {}) };
  return {
    op: 'batch',
    operations: [
      ...without.map((id): Operation => ({ op: 'remove', id })),
      ...(camera ? [{ op: 'replace' as const, id: own.id, element: { ...camera, id: own.id } }] : []),
      { op: 'replace', id: element.id, element: made },
      ...(after && toCamera.length > 0
        ? [{ op: 'set' as const, at: after.id, path: ['seat', 'fasteners'] as [string, string], to: toCamera }]
        : [])
    ]
  };
}
