import type { PublishedLength } from '../train/model.ts';
import { MM_PER_INCH } from '../units.ts';

/** Figures of one thing that are no farther apart than this are the same, mm. */
const AGREED_MM = 0.05 + 1e-9;
/** Two figures in another ratio than this to an inch's are not one figure in two units. */
const INCH_SHARE = 0.01;

/** A published figure that contradicts the one in use. */
export interface OtherFigure extends PublishedLength {
  /** Beyond the figure in use, mm. */
  apartMm: number;
  /** The two are one figure, once in millimetres and once in inches. */
  isInch: boolean;
}

/** What else is published of a length or a thickness and contradicts it. @param toleranceMm what a maker allows himself */
export function otherFigures(
  lengthMm: number,
  published: readonly PublishedLength[] | undefined,
  toleranceMm = 0
): OtherFigure[] {
  return (published ?? []).flatMap((figure) => {
    const apartMm = figure.lengthMm - lengthMm;
    if (Math.abs(apartMm) <= Math.max(AGREED_MM, toleranceMm)) return [];
    const ratio = Math.max(figure.lengthMm, lengthMm) / Math.min(figure.lengthMm, lengthMm);
    return [{ ...figure, apartMm, isInch: Math.abs(ratio / MM_PER_INCH - 1) < INCH_SHARE }];
  });
}

/** How far a length may be off while published figures contradict it, mm; 0 where they agree. */
export const widestApart = (figures: readonly OtherFigure[]): number =>
  figures.reduce((most, { apartMm }) => Math.max(most, Math.abs(apartMm)), 0);
