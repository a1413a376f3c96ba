import { adjustOf, type Adjust, type Train } from '../train/model.ts';
import type { Ledger } from './ledger.ts';

/** The setting of an adjustable part that would bring the residual to zero. */
export interface DialAnswer {
  id: string;
  /** Absolute setting, rounded to the step and clamped to the range, mm. */
  setMm: number;
  /** Whether the setting lay in the range before clamping. */
  reachable: boolean;
  /** Residual that remains at `setMm`, mm: positive too long, negative too short. */
  missMm: number;
}

/** A nanometre: far below any length here, far above the rounding noise of a sum. */
const NOISE_MM = 1e-6;
const denoise = (mm: number): number => Math.round(mm / NOISE_MM) * NOISE_MM;
const tidy = (mm: number): number => Number(denoise(mm).toFixed(6));

function answer(id: string, adjust: Adjust, residualMm: number): DialAnswer {
  const exact = adjust.setMm - residualMm;
  const wanted = tidy(adjust.stepMm === undefined ? exact : Math.round(exact / adjust.stepMm) * adjust.stepMm);
  const setMm = Math.min(adjust.maxMm, Math.max(adjust.minMm, wanted));
  return { id, setMm, reachable: setMm === wanted, missMm: tidy(residualMm + setMm - adjust.setMm) };
}

/**
 * The dial to turn: of those on the camera side of the datum (a corrector's own included) the first that
 * reaches, else the one that misses by least. Null where there is no dial or nothing is asked for.
 */
export function dialAnswer(train: Train, { datum, residualMm }: Ledger): DialAnswer | null {
  if (residualMm === null) return null;
  const answers = train.elements.slice(Math.max(datum.index, 0)).flatMap((element) => {
    const adjust = adjustOf(element);
    return adjust ? [answer(element.id, adjust, residualMm)] : [];
  });
  return (
    answers.find(({ reachable }) => reachable) ??
    answers.sort((a, b) => Math.abs(a.missMm) - Math.abs(b.missMm))[0] ??
    null
  );
}
