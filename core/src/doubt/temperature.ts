import type { Ledger } from '../length/ledger.ts';
import { isCamera, isSolid, lengthOf, type SolidElement, type Train } from '../train/model.ts';
import { rectangularStandard } from './doubts.ts';

/** Lengths are as at this temperature, °C (ISO 1:2022, standard reference temperature). */
export const REFERENCE_C = 20;

export type Material = NonNullable<SolidElement['material']>;

interface Expansion {
  words: string;
  /** Coefficient of linear expansion near room temperature, 10⁻⁶ per kelvin. */
  ppmPerK: number;
  /** ± of it, over the alloys and grades of that name, 10⁻⁶ per kelvin. */
  withinPpm: number;
}

/**
 * Coefficients of linear thermal expansion.
 *
 * Aluminium (6061) 23.6, low-carbon steel 11.7, austenitic stainless steel (304) 17.3, brass (C26000) 19.9: ASM Metals
 * Handbook Desk Edition, 2nd ed. (1998), tables of physical properties, from memory. Carbon fibre in epoxy along the
 * tube, about 0 to 3, and printed PLA, 68 to 80: ranges of published data sheets, from memory.
 */
export const EXPANSIONS: Readonly<Record<Material, Expansion>> = {
  aluminium: { words: 'aluminium', ppmPerK: 23.6, withinPpm: 1 },
  steel: { words: 'steel', ppmPerK: 11.7, withinPpm: 1 },
  'stainless-steel': { words: 'stainless steel', ppmPerK: 17.3, withinPpm: 1 },
  brass: { words: 'brass', ppmPerK: 19.9, withinPpm: 1.2 },
  carbon: { words: 'carbon fibre', ppmPerK: 1.5, withinPpm: 1.5 },
  'printed-plastic': { words: 'printed plastic', ppmPerK: 74, withinPpm: 10 }
};

/** What the cold, or the heat, does to the length from the datum to the sensor. */
export interface Shrinking {
  fromC: number;
  toC: number;
  /** Change of the sum, mm: negative when it shrinks. */
  changeMm: number;
  /** Standard uncertainty of it, mm: coefficients of one material are off alike, and add linearly. */
  standardMm: number;
  /** Elements whose material is not stated: taken as aluminium. */
  assumed: string[];
}

/**
 * How much the train between datum and sensor grows or shrinks by temperature: Σ α L ΔT. Where the host's own focus
 * goes in the cold is the focuser's business, and not reckoned here.
 */
export function shrinkingOf(train: Train, { datum }: Ledger, toC: number): Shrinking {
  const kelvin = toC - REFERENCE_C;
  let changeMm = 0;
  const errors = new Map<Material, number>();
  const assumed: string[] = [];
  for (const element of train.elements.slice(datum.index + 1)) {
    if (!isSolid(element)) continue;
    const { material } = element;
    if (material === undefined && !isCamera(element)) assumed.push(element.id);
    const { ppmPerK, withinPpm } = EXPANSIONS[material ?? 'aluminium'];
    const perPpm = lengthOf(element) * kelvin * 1e-6;
    changeMm += ppmPerK * perPpm;
    errors.set(material ?? 'aluminium', (errors.get(material ?? 'aluminium') ?? 0) + withinPpm * Math.abs(perPpm));
  }
  const variance = [...errors.values()].reduce((sum, halfWidth) => sum + rectangularStandard(halfWidth) ** 2, 0);
  return { fromC: REFERENCE_C, toC, changeMm, standardMm: Math.sqrt(variance), assumed };
}
