import { GOOD_TURNS, LEAST_TURNS } from '../joint/engagement.ts';
import { seatedInBore } from '../joint/bore.ts';
import { bottoming, engagement, lockTravel, sunkDepth, threadPair } from '../joint/seating.ts';
import { mate } from '../joint/mate.ts';
import { dialOf, type Dial } from '../length/settle.ts';
import type { Port, ThreadPort } from '../train/model.ts';
import { toUnits } from '../units.ts';

/** What a part, or a fixed neighbour, offers on its camera side. */
export interface OutFace {
  port: Port | undefined;
  /** Shims that stand on it already, mm. */
  looseMm: number;
  /** How far a male may reach in before it meets glass, mm. */
  glassMm: number;
  /** How wide its body is, mm; undefined where that is not known or does not matter. */
  bodyMm?: number | undefined;
  /** What is left of the bore round it, where it is a ring that has sunk into one. */
  bore?: { port: ThreadPort; leftMm: number } | undefined;
}

/** What a part, or a fixed neighbour, offers on its sky side. */
export interface InFace extends OutFace {
  /** An opening that was measured and overrules threads and shims, mm. */
  statedMm: number | undefined;
  /** A recess that was typed and overrules what the threads say; it is part of the part's length. */
  recessTyped: boolean;
  /** Length of the part, mm, where something of a bore may be left beside it. */
  lengthMm?: number | undefined;
  /** The bore that is left beside it where it stands so, as {@link boreKey} tells it: it stands nowhere else. */
  leaves?: string | undefined;
}

/** What is left of a bore, told so that equal ones are equal. */
export const boreKey = ({ port, leftMm }: { port: ThreadPort; leftMm: number }): string =>
  JSON.stringify([port, toUnits(leftMm)]);

/** What a part leaves of a bore it goes into; undefined where it goes into none, or fills it. */
export function boreLeftBy(above: OutFace, below: InFace): { port: ThreadPort; leftMm: number } | undefined {
  const { lengthMm } = below;
  if (lengthMm === undefined) return undefined;
  const { pair, into, openMm, sunkMm } = seatingOf(above, below);
  const leftMm = above.bore
    ? into!.rimMm > 0
      ? 0
      : above.bore.leftMm - (openMm - sunkMm) - lengthMm
    : pair?.sinks && pair.female === above.port
      ? sunkMm - openMm - lengthMm
      : 0;
  if (leftMm <= HAIR_MM) return undefined;
  return { port: above.bore?.port ?? (above.port as ThreadPort), leftMm };
}

/** How two faces seat, whether they hold or not. Lengths in mm. */
function seatingOf(above: OutFace, below: InFace) {
  const into = above.bore && seatedInBore(above.port, below.port, above.bore, below.bodyMm);
  const sky: Port | undefined = into?.port ?? above.port;
  const camera = below.port;
  const mating = sky && camera ? mate(sky, camera) : undefined;
  const looseMm = above.looseMm + below.looseMm;
  const bodies = { skyMm: above.bodyMm, cameraMm: below.bodyMm };
  const pair = mating && mating.joins !== false ? threadPair(sky, camera, () => bodies) : undefined;
  const bottomingMm = bottoming(pair);
  const rimMm = into?.rimMm ?? 0;
  const isInBore = into?.port !== undefined;
  // A ring without a shoulder sinks to the bottom of its bore: the joint takes length away.
  const sunkMm = below.recessTyped || isInBore ? 0 : (sunkDepth(pair) ?? 0);
  /** What lies between the shoulders beside what the thread makes of it. */
  const underMm = isInBore ? 0 : rimMm;
  const openMm =
    below.statedMm ?? (isInBore ? rimMm + Math.max(looseMm, bottomingMm) : Math.max(rimMm + looseMm, bottomingMm));
  return {
    into,
    sky,
    camera,
    mating,
    pair,
    looseMm,
    bottomingMm,
    sunkMm,
    openMm,
    underMm,
    rimMm: isInBore ? rimMm : 0
  };
}

/** How two faces close. Lengths in units. */
export interface Connector {
  /** Opening without shims of ours; undefined where the joint only closes with some. */
  plain: number | undefined;
  /** Room for shims of ours in a joint that stands plain: each adds its own thickness. 0: none may stand there. */
  room: number;
  /**
   * A joint whose thread would bottom, held open by shims: what stands there already, how much has to be added at
   * least, and at the most. Undefined where shims are not needed for that, or cannot do it.
   */
  held: { length: number; least: number; most: number } | undefined;
  /** Diameter that a shim has to clear, mm; 0 where that is not known. */
  boreMm: number;
  /** Length of thread that is engaged when it stands plain, in turns; Infinity where that is not known. */
  turns: number;
  /** What a lock ring can add to `plain`; undefined where the joint has none. */
  dial: Dial | undefined;
}

const HAIR_MM = 1e-9;

/**
 * How two faces close, by the same rules as a check: threads mate, one turn holds, no male meets glass; shims
 * only in a threaded joint, as long as three turns stay engaged.
 *
 * @returns undefined where they do not close at all
 */
export function connect(above: OutFace, below: InFace): Connector | undefined {
  const { statedMm } = below;
  const seating = seatingOf(above, below);
  const { sky, mating, pair, looseMm, sunkMm, bottomingMm, rimMm, underMm } = seating;
  if (mating?.joins === false) return undefined;
  if (below.lengthMm !== undefined) {
    const left = boreLeftBy(above, below);
    if ((left && boreKey(left)) !== below.leaves) return undefined;
  }
  const travel = mating?.joins === true ? lockTravel(pair, looseMm) : undefined;
  const pitchMm = pair?.thread?.pitchMm;
  const glassMm = sky && 'thread' in sky && sky.gender === 'male' ? below.glassMm : above.glassMm;

  const turnsAt = (openingMm: number): number => {
    const held = engagement(pair, openingMm);
    return held === undefined || pitchMm === undefined ? Infinity : held / pitchMm;
  };
  const male = pair?.male.lengthMm;
  /** Opening below which the male meets glass, mm. */
  const keptOffMm = Math.max(
    male === undefined ? 0 : male - glassMm,
    male !== undefined && pair?.female.endsOnGlass && pair.female.lengthMm !== undefined
      ? male - pair.female.lengthMm
      : 0
  );
  /** What holds the shoulders apart where glass is to be spared: shims, or a measured opening; not the glass itself. */
  const openMm = travel ? travel.minMm : (statedMm ?? Math.max(underMm + looseMm, bottomingMm));
  const sparesGlass =
    ((travel ? undefined : statedMm) ?? (pair?.female.endsOnGlass ? looseMm : openMm)) >= keptOffMm - HAIR_MM;
  const plain = turnsAt(openMm) >= LEAST_TURNS - HAIR_MM && sparesGlass ? toUnits(openMm + rimMm - sunkMm) : undefined;

  const dial = travel && dialOf({ minMm: 0, maxMm: travel.maxMm - travel.minMm });
  const shimmable =
    statedMm === undefined &&
    sunkMm === 0 &&
    // In a bore shims would lie on the ring or on the rim: only where the part sits on the ring as on any other.
    (seating.into === undefined || (seating.into.port === undefined && seating.into.rimMm === 0)) &&
    dial === undefined &&
    mating?.joins === true &&
    pair !== undefined &&
    pitchMm !== undefined;
  const base = {
    plain,
    room: 0,
    held: undefined,
    boreMm: pair?.thread?.diameterMm ?? 0,
    turns: turnsAt(openMm),
    dial
  };
  if (!shimmable) return plain === undefined ? undefined : base;

  /** The widest opening at which three turns still hold, mm. */
  const relief = pair.female.reliefMm ?? 0;
  const deep = pair.female.lengthMm ?? Infinity;
  const widest = male === undefined ? Infinity : male - relief - GOOD_TURNS * pitchMm;
  const roomMm = deep - relief >= GOOD_TURNS * pitchMm - HAIR_MM ? widest - looseMm : 0;
  if (roomMm <= HAIR_MM) return plain === undefined ? undefined : base;
  const most = roomMm === Infinity ? Infinity : Math.floor((roomMm + HAIR_MM) * 10_000);
  const leastMm = Math.max(bottomingMm - looseMm, keptOffMm - looseMm);
  if (leastMm <= HAIR_MM) return plain === undefined ? undefined : { ...base, room: most };
  const least = Math.ceil((leastMm - HAIR_MM) * 10_000);
  const held = least <= most ? { length: toUnits(looseMm), least, most } : undefined;
  return plain === undefined && !held ? undefined : { ...base, held };
}
