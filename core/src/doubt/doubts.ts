import { disagreements } from '../length/backFocus.ts';
import { otherFigures, widestApart } from '../length/figures.ts';
import { indexOf } from '../length/glass.ts';
import type { Ledger } from '../length/ledger.ts';
import type { Joint } from '../joint/joints.ts';
import {
  isShim,
  isSolid,
  seatOf,
  type Corrector,
  type Group,
  type Measured,
  type Port,
  type SolidElement,
  type ThreadPort,
  type Train
} from '../train/model.ts';

/** What is not known about one length of the sum. */
export interface Doubt {
  /** Element it is about, or `host`. */
  id: string;
  /** `thread`: length of a male, depth of a female; `opening` and `recess`: as measured. */
  of: 'length' | 'shims' | 'group' | 'thread' | 'opening' | 'recess' | 'back-focus' | 'glass';
  /** Face of the element that has the thread. */
  face?: 'sky' | 'camera';
  /** Worst case: ±a of a published length, U of a measured one, mm. */
  halfWidthMm: number;
  /** Standard uncertainty, mm. */
  standardMm: number;
  kind: 'stated' | 'assumed' | 'measured';
  /**
   * Anywhere within ± alike (rectangular), most often near the middle (triangular), or as readings scatter (normal), what
   * the instrument shares apart.
   */
  shape: 'rectangular' | 'triangular' | 'normal';
  /** It is as wide as published figures of the same thing are apart. */
  figures?: true;
  /** Part of it that all readings of one instrument share: ± limit, mm. */
  shared: { instrument: string; halfWidthMm: number } | undefined;
}

/** A part of unknown tolerance counts as this much either way, mm (common practice, no source). */
export const ASSUMED_TOLERANCE_MM = 0.1;

/** A shim of unknown tolerance: flat washers are ground or rolled (common practice, no source), mm. */
export const ASSUMED_SHIM_MM = 0.02;

/** A thread's length or a bore's depth of unknown tolerance, ± mm: ends are chamfered and seldom stated (common practice, no source). */
export const ASSUMED_THREAD_MM = 0.1;

/** A measurement without its uncertainty counts as one with ordinary calipers, U, mm (common practice, no source). */
export const ASSUMED_CALIPER_MM = 0.03;

/** Rectangular ±a: u = a/√3 (JCGM 100:2008 §4.3.7). */
export const rectangularStandard = (halfWidthMm: number): number => halfWidthMm / Math.sqrt(3);

/** Standard uncertainty of ±a: rectangular a/√3 (JCGM 100:2008 §4.3.7), triangular a/√6 (§4.3.9), normal U/2. */
const STANDARD: Readonly<Record<Doubt['shape'], (halfWidthMm: number) => number>> = {
  rectangular: rectangularStandard,
  triangular: (halfWidthMm) => halfWidthMm / Math.sqrt(6),
  normal: (halfWidthMm) => halfWidthMm / 2
};

const within = (
  id: string,
  of: Doubt['of'],
  halfWidthMm: number,
  kind: 'stated' | 'assumed',
  shape: Doubt['shape'] = 'rectangular'
): Doubt => ({ id, of, halfWidthMm, standardMm: STANDARD[shape](halfWidthMm), kind, shape, shared: undefined });

/**
 * A measured length: U = 2u. What all readings of its instrument share, ±a, is part of U; the rest is its own,
 * u² − a²/3.
 *
 * @see JCGM 100:2008 §4.3.7, §5.2
 */
function measuredDoubt(
  id: string,
  of: 'length' | 'group' | 'opening' | 'recess',
  measured: Omit<Measured | Group, 'lengthMm'>
): Doubt {
  const { uncertaintyMm, instrument, instrumentErrorMm = 0 } = measured;
  const standardMm = (uncertaintyMm ?? ASSUMED_CALIPER_MM) / 2;
  const sharedMm = instrument === undefined ? 0 : instrumentErrorMm;
  const ownMm = Math.sqrt(Math.max(0, standardMm ** 2 - sharedMm ** 2 / 3));
  return {
    id,
    of,
    halfWidthMm: 2 * ownMm + sharedMm,
    standardMm: Math.hypot(ownMm, rectangularStandard(sharedMm)),
    kind: uncertaintyMm === undefined ? 'assumed' : 'measured',
    shape: 'normal',
    shared: instrument !== undefined && sharedMm > 0 ? { instrument, halfWidthMm: sharedMm } : undefined
  };
}

/** What is not known about one part's length. */
export function doubtOf(element: SolidElement): Doubt {
  const { id, measured, toleranceMm } = element;
  if (measured) return measuredDoubt(id, 'length', measured);
  const assumed = isShim(element) ? ASSUMED_SHIM_MM : ASSUMED_TOLERANCE_MM;
  // Two figures for one thing: it may be as long as either.
  const apartMm = widestApart(otherFigures(element.lengthMm, element.published, toleranceMm));
  if (apartMm > (toleranceMm ?? assumed)) return { ...within(id, 'length', apartMm, 'stated'), figures: true };
  return toleranceMm === undefined
    ? within(id, 'length', assumed, 'assumed')
    : within(id, 'length', toleranceMm, 'stated', element.spread);
}

/** What is not known of one thread of a joint: how long the male is, how deep the female. */
function threadDoubt({ sky, skyId, cameraId }: Joint, port: ThreadPort): Doubt {
  const isSky = port === sky;
  const halfWidthMm = port.toleranceMm ?? ASSUMED_THREAD_MM;
  const kind = port.toleranceMm === undefined ? 'assumed' : 'stated';
  return { ...within(isSky ? skyId : cameraId, 'thread', halfWidthMm, kind), face: isSky ? 'camera' : 'sky' };
}

/**
 * What is not known of the length a joint adds or takes away: its shims, the threads that decide how far it closes, an
 * opening or a recess that was measured. Shoulders that meet leave nothing open.
 *
 * @param settled joints whose bore stands in no sum, because what follows stands on its rim
 */
export function jointDoubts(train: Train, joint: Joint, settled: ReadonlySet<Joint> = NO_JOINTS): Doubt[] {
  const { pair, stated, byThread, sunkMm, recessTyped, recessMm, cameraId, cameraIndex } = joint;
  const found: Doubt[] = [];
  if (stated) found.push(measuredDoubt(cameraId, 'opening', {}));
  else {
    found.push(...joint.shimElements.map(doubtOf));
    const loose = seatOf(train.elements[cameraIndex]!)?.shimsMm ?? [];
    for (const _shim of loose) found.push(within(cameraId, 'shims', ASSUMED_SHIM_MM, 'assumed'));
    if (pair && byThread) {
      found.push(threadDoubt(joint, pair.male), threadDoubt(joint, pair.female));
    }
  }
  if (recessTyped) {
    if (recessMm > 0) found.push(measuredDoubt(cameraId, 'recess', {}));
  } else if (pair && (sunkMm ?? 0) > 0 && !settled.has(joint)) found.push(threadDoubt(joint, pair.female));
  return found;
}

const NO_JOINTS: ReadonlySet<Joint> = new Set();

/**
 * Joints of rings in a bore whose next part stands on the rim: from the bottom of the bore to its rim is the bore's own
 * depth both ways, and neither that depth nor the rings in it make the train longer or shorter.
 */
function settledRings(joints: readonly Joint[]): { joints: Set<Joint>; elements: Set<number> } {
  const settled = new Set<Joint>();
  const elements = new Set<number>();
  for (const { bore, rimMm, stated, byThread, openingMm, apartMm } of joints) {
    // Where the thread into the ring bottoms beyond the rim, the rim decides nothing; one into the bore starts there.
    if (!bore || rimMm <= 0 || stated || (byThread && openingMm === apartMm)) continue;
    for (const ring of bore.rings) {
      settled.add(ring);
      elements.add(bore.rings[0]!.sky === bore.port ? ring.cameraIndex : ring.skyIndex);
    }
  }
  return { joints: settled, elements };
}

/**
 * Everything that is not known about a train's residual: lengths, shims, threads, groups measured together, the back
 * focus itself, the thickness of glass.
 */
export function doubtsOf(train: Train, ledger: Ledger): Doubt[] {
  const { datum, joints, groups, grouped, nested } = ledger;
  const found: Doubt[] = [];
  const inGroup = (index: number): boolean => grouped.has(index);
  const startsGroup = new Map(groups.inForce.map(({ group, fromIndex }) => [fromIndex, group]));
  const jointBefore = new Map(joints.map((joint) => [joint.cameraIndex, joint]));
  const settled = settledRings(joints);
  for (let index = datum.index + 1; index < train.elements.length; index++) {
    const element = train.elements[index]!;
    const group = startsGroup.get(index);
    const joint = jointBefore.get(index);
    if (joint && !joint.open && (group || !inGroup(index))) found.push(...jointDoubts(train, joint, settled.joints));
    else if (joint?.open && (group || !inGroup(index))) found.push(...joint.shimElements.map(doubtOf));
    if (group) found.push(measuredDoubt(element.id, 'group', group));
    if (!isSolid(element) || isShim(element) || inGroup(index) || nested.has(index)) continue;
    if (!settled.elements.has(index)) found.push(doubtOf(element));
  }
  if (ledger.required.totalMm !== null) found.push(...requiredDoubts(ledger));
  return found;
}

/**
 * How far the required back focus may be off while published figures of it contradict each other, mm. A table’s row holds
 * for this host; figures that are not in the table do not.
 */
const apartByFigures = (corrector: Corrector, port: Port | undefined, nominal: Ledger['nominal']): number =>
  nominal.source === 'table'
    ? 0
    : disagreements(corrector, port).reduce((most, { apartMm }) => Math.max(most, Math.abs(apartMm)), 0);

/** The back focus as the maker states it, and what the glass's tolerance makes of its shift. */
function requiredDoubts({ datum, required, glass, rule, nominal }: Ledger): Doubt[] {
  const found: Doubt[] = [];
  const { corrector } = datum;
  // A tuned value was found with this unit.
  if (corrector && required.tunedMm === null) {
    const ownMm = corrector.uncertaintyMm ?? 0;
    const apartMm = apartByFigures(corrector, datum.port, nominal);
    if (apartMm > ownMm) found.push({ ...within(datum.id, 'back-focus', apartMm, 'stated'), figures: true });
    else if (ownMm > 0) found.push(within(datum.id, 'back-focus', ownMm, 'stated'));
  }
  if (rule === 'none') return found;
  for (const { id, plate } of glass) {
    const { toleranceMm = 0, thicknessMm, published } = plate;
    const apartMm = widestApart(otherFigures(thicknessMm, published, toleranceMm));
    const halfWidthMm = Math.max(toleranceMm, apartMm);
    if (halfWidthMm === 0) continue;
    const perMm = rule === 'third' ? 1 / 3 : 1 - 1 / indexOf(plate);
    const doubt = within(id, 'glass', halfWidthMm * perMm, 'stated');
    found.push(apartMm > toleranceMm ? { ...doubt, figures: true } : doubt);
  }
  return found;
}
