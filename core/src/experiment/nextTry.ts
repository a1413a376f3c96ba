import { changeOver, type ChangeOver } from '../assembly/changeOver.ts';
import { ringChanges } from '../finder/advice.ts';
import { findStacks, type FindOptions } from '../finder/find.ts';
import { fillOperation } from '../finder/solution.ts';
import { apply, type Operation } from '../train/operations.ts';
import type { Train } from '../train/model.ts';
import { spacingOf, tunedOperation } from './tuned.ts';

/** A train with another spacing, from parts of the drawer. */
export interface NextTry {
  /** One step on the train as it stands. */
  operation: Operation;
  train: Train;
  /** Spacing it gives, as a tuned value is measured, mm, and how far that is from what was wanted. */
  spacingMm: number;
  offMm: number;
  /** What is opened on the way there. */
  change: ChangeOver;
}

/** How near to the wanted spacing it has to come, mm: what is nearest is looked for first. */
const WITHIN_MM = [0.1, 0.25, 0.5, 1];
/** Of the way there, so much has to be gone: less tells nothing new. */
const LEAST_SHARE = 0.5;
const LEAST_STEP_MM = 0.01;

/** The train, asked for another spacing; undefined where it has no corrector to be asked. */
function asking(train: Train, spacingMm: number, withinMm: number): Train | undefined {
  const tuned = tunedOperation(train, spacingMm);
  if (tuned?.op !== 'set') return undefined;
  return apply(train, {
    op: 'batch',
    operations: [tuned, { ...tuned, path: ['corrector', 'toleranceMm'], to: withinMm }]
  });
}

/**
 * The change of rings and dials that gives a train another spacing with the fewest joints opened; of those the one that
 * comes nearest, then the one with the fewest parts. Every one of them was tried.
 *
 * @param train with all its places closed; another spacing than it has is wanted
 * @param spacingMm as a tuned value is measured
 * @returns undefined where the drawer has nothing that comes near, or the train stands there already
 */
export function nextTry(train: Train, spacingMm: number, options: FindOptions): NextTry | undefined {
  const located = new Map(options.parts.map(({ partId, location }) => [partId, location || null]));
  const now = spacingOf(train);
  if (now === undefined || Math.abs(spacingMm - now) < LEAST_STEP_MM) return undefined;
  for (const withinMm of WITHIN_MM) {
    const asked = asking(train, spacingMm, withinMm);
    if (!asked) return undefined;
    const found = findStacks(asked, { ...options, limit: 1 }).solutions.filter(({ inTolerance }) => inTolerance);
    const operations = [
      ...found.map((solution) => ({ operation: fillOperation(asked, solution), pieces: solution.pieces })),
      ...ringChanges(asked, options).map(({ operation, solution }) => ({ operation, pieces: solution.pieces }))
    ];
    const tries = operations.flatMap(({ operation, pieces }) => {
      const changed = apply(train, operation);
      const reached = spacingOf(changed);
      if (reached === undefined || (reached - now) / (spacingMm - now) < LEAST_SHARE) return [];
      return [
        {
          operation,
          train: changed,
          spacingMm: reached,
          offMm: reached - spacingMm,
          change: changeOver(train, changed, (partId) => located.get(partId) ?? null),
          pieces
        }
      ];
    });
    const [best] = tries.sort(
      (a, b) => a.change.joints - b.change.joints || Math.abs(a.offMm) - Math.abs(b.offMm) || a.pieces - b.pieces
    );
    if (best) {
      const { pieces: _pieces, ...next } = best;
      return next;
    }
  }
  return undefined;
}
