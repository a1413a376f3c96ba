import type { Port } from '../train/model.ts';
import { diameterOf, WEB_MM, type RingSpec, type ScrewHoles } from './ring.ts';

/** A screw by its size, mm. */
interface Screw {
  diameterMm: number;
  /** Coarse pitch (ISO 262, from memory). */
  pitchMm: number;
  /** Hole it passes (ISO 273 medium, from memory). */
  clearanceMm: number;
  /** Head of a cap screw (ISO 4762, from memory), and of one that is sunk in (ISO 10642, from memory). */
  capMm: number;
  sunkMm: number;
}

const SCREWS: Readonly<Record<string, Screw>> = {
  'M1.6': { diameterMm: 1.6, pitchMm: 0.35, clearanceMm: 1.8, capMm: 3, sunkMm: 3.6 },
  M2: { diameterMm: 2, pitchMm: 0.4, clearanceMm: 2.4, capMm: 3.8, sunkMm: 4.4 },
  'M2.5': { diameterMm: 2.5, pitchMm: 0.45, clearanceMm: 2.9, capMm: 4.5, sunkMm: 5.5 },
  M3: { diameterMm: 3, pitchMm: 0.5, clearanceMm: 3.4, capMm: 5.5, sunkMm: 6.72 },
  M4: { diameterMm: 4, pitchMm: 0.7, clearanceMm: 4.5, capMm: 7, sunkMm: 8.96 },
  M5: { diameterMm: 5, pitchMm: 0.8, clearanceMm: 5.5, capMm: 8.5, sunkMm: 11.2 },
  M6: { diameterMm: 6, pitchMm: 1, clearanceMm: 6.6, capMm: 10, sunkMm: 13.44 }
};

/** Screws a bolted face may have, thinnest first. */
export const SCREW_SIZES: readonly string[] = Object.keys(SCREWS);

/** How deep a hole is tapped into aluminium, in diameters of its screw (common practice, no source). */
const TAPPED_DIAMETERS = 2;

/** Holes of one bolted face, as they are drilled. */
export interface DrilledHoles {
  count: number;
  circleMm: number;
  /** Of what is drilled, mm: the clearance hole, or the core of the thread. */
  drillMm: number;
  /** Of the head, 0 where the screw goes into this part. */
  headMm: number;
  /** From the bolted face, mm; of a hole that goes through, the whole length. */
  depthMm: number;
  /** `4 × M2, 4 deep, on Ø60`. */
  callout: string;
}

/** How the holes of a bolted face are drilled; undefined where it has none, or its screws are not known. */
export function drilledHoles(port: Port, screws: ScrewHoles | undefined, lengthMm: number): DrilledHoles | undefined {
  if (!('bolts' in port) || !screws) return undefined;
  const screw = SCREWS[screws.thread];
  if (!screw) return undefined;
  const { count, circleMm } = port.bolts;
  const on = `on Ø${circleMm}`;
  if (screws.hole === 'tapped') {
    const depthMm = Math.min(TAPPED_DIAMETERS * screw.diameterMm, lengthMm);
    const deep = depthMm < lengthMm ? `${depthMm} deep` : 'through';
    const drillMm = Number((screw.diameterMm - screw.pitchMm).toFixed(2));
    return { count, circleMm, drillMm, headMm: 0, depthMm, callout: `${count} × ${screws.thread}, ${deep}, ${on}` };
  }
  const isSunk = screws.hole === 'countersunk';
  const callout = `${count} × Ø${screw.clearanceMm} for ${screws.thread}${isSunk ? ', countersunk 90°' : ''}, ${on}`;
  const headMm = isSunk ? screw.sunkMm : screw.capMm;
  return { count, circleMm, drillMm: screw.clearanceMm, headMm, depthMm: lengthMm, callout };
}

const SIDES = ['sky', 'camera'] as const;

/** Why the holes of a ring’s bolted faces cannot be drilled, or their screws not be turned; undefined where they can. */
export function screwHoleFault(ring: RingSpec): string | undefined {
  for (const side of SIDES) {
    const port = ring[side];
    if (ring.flanges?.[side] && !('bolts' in port)) return `its ${side} face has a flange but no bolt circle`;
    const screws = ring.screws?.[side];
    if (!screws) continue;
    if (!('bolts' in port)) return `its ${side} face has screws but no bolt circle`;
    const holes = drilledHoles(port, screws, ring.lengthMm);
    if (!holes) return `“${screws.thread}” at its ${side} face is not a size of screw: ${SCREW_SIZES.join(', ')}`;
    const { count, circleMm, drillMm, headMm, depthMm } = holes;
    const widest = Math.max(drillMm, headMm);
    if (circleMm + widest > ring.outerMm) {
      return `the screws of its ${side} face (${holes.callout}) reach beyond its outer diameter, ${ring.outerMm} mm`;
    }
    if (circleMm - widest < ring.clearMm) {
      return `the screws of its ${side} face (${holes.callout}) reach into its clear aperture, ${ring.clearMm} mm`;
    }
    if (count > 1 && circleMm * Math.sin(Math.PI / count) < widest + WEB_MM) {
      return `${count} screws on a circle of ${circleMm} mm touch each other`;
    }
    const other = ring[side === 'sky' ? 'camera' : 'sky'];
    if (!('thread' in other)) continue;
    const threadMm = diameterOf(other);
    const isClear =
      other.gender === 'male' ? circleMm - widest >= threadMm : circleMm - widest >= threadMm + 2 * WEB_MM;
    const isInside = other.gender === 'female' && circleMm + widest <= threadMm - 2 * WEB_MM;
    if (isClear || (isInside && headMm > 0)) continue;
    if (headMm > 0) {
      const where = other.gender === 'male' ? 'under' : 'in the wall of';
      const reachedMm = Math.ceil(threadMm + widest + (other.gender === 'male' ? 0 : 2 * WEB_MM));
      return `the screws of its ${side} face are ${where} its other thread: they can be reached on a circle of ${reachedMm} mm`;
    }
    const behindMm = other.gender === 'female' ? (other.lengthMm ?? 0) + WEB_MM : 0;
    const leastMm = depthMm + behindMm;
    if (ring.lengthMm < leastMm - 1e-9) {
      return `the holes of its ${side} face meet its other thread: it has to be ${Number(leastMm.toFixed(2))} mm long at the least`;
    }
  }
  return undefined;
}
