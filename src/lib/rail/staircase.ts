import { isSolid, nameOf, type Train } from '@lodestone/core/train';
import type { Assessment } from '@lodestone/core/check';
import type { EntryFrom } from '@lodestone/core/length';
import type { Layout } from '@lodestone/core/shape';

export interface StairBar {
  from: EntryFrom;
  startMm: number;
  endMm: number;
}

/** One step of the staircase: all that one part adds to the sum, at its place in it. */
export interface Stair {
  id: string;
  name: string;
  bars: StairBar[];
  startMm: number;
  endMm: number;
  addsMm: number;
  measured: boolean;
  /** Half-width of what is not known about it, mm. */
  doubtMm: number | undefined;
  /** In words: `measured`, `published`, `published, not stated`. */
  grade: string;
}

/** The ledger as steps, in train order; what the chart draws and the table lists. */
export function stairsOf(train: Train, { facts }: Assessment, { steps }: Layout): Stair[] {
  const stairs = new Map<string, Stair>();
  const groupOf = new Map(facts.ledger.groups.inForce.map(({ group }) => [group.from, group]));
  for (const { id, from, startMm, endMm } of steps) {
    const element = train.elements.find((each) => each.id === id);
    const doubt = facts.doubts.find((each) => each.id === id && each.of !== 'back-focus');
    const group = groupOf.get(id);
    const measured =
      group !== undefined || (element !== undefined && isSolid(element) && element.measured !== undefined);
    const stair = stairs.get(id) ?? {
      id,
      name: group ? `${nameOf(train, id)} to ${nameOf(train, group.to)}` : (element?.name ?? id),
      bars: [],
      startMm,
      endMm,
      addsMm: 0,
      measured,
      doubtMm: doubt?.halfWidthMm,
      grade: measured ? 'measured' : doubt?.kind === 'assumed' ? 'published, assumed' : 'published'
    };
    stair.bars.push({ from, startMm, endMm });
    stair.endMm = endMm;
    stair.addsMm += endMm - startMm;
    stairs.set(id, stair);
  }
  return [...stairs.values()];
}

/** Decimals kept of differences, mm: finer is the noise of binary sums. */
const STAIR_DECIMALS = 9;

/** A step as it is whatever stands before it: its own start at 0. */
export function atOwnStart(stair: Stair): Stair {
  const { startMm: origin } = stair;
  const from = (mm: number): number => Number((mm - origin).toFixed(STAIR_DECIMALS));
  return {
    ...stair,
    startMm: 0,
    endMm: from(stair.endMm),
    addsMm: Number(stair.addsMm.toFixed(STAIR_DECIMALS)),
    bars: stair.bars.map(({ from: source, startMm, endMm }) => ({
      from: source,
      startMm: from(startMm),
      endMm: from(endMm)
    }))
  };
}

/** A piece of what is asked for, laid end to end under the staircase. */
export interface AskedPiece {
  kind: 'back-focus' | 'datum' | 'allowed' | 'glass';
  label: string;
  startMm: number;
  endMm: number;
}

/** What the corrector asks for: its figure, the way to the shoulder, and each plate's shift as its own piece. */
export function askedPieces({ ledger }: Assessment): AskedPiece[] {
  const { required, glass } = ledger;
  const base = required.tunedMm ?? required.nominalMm;
  if (required.totalMm === null || base === null) return [];
  const pieces: AskedPiece[] = [];
  let at = 0;
  const add = (kind: AskedPiece['kind'], label: string, mm: number): void => {
    pieces.push({ kind, label, startMm: at, endMm: at + mm });
    at += mm;
  };
  add('back-focus', required.tunedMm === null ? 'required' : 'required, tuned', base);
  if (required.datumMm) add('datum', 'datum', required.datumMm);
  if (required.allowedGlassMm) add('allowed', 'allowed for', -required.allowedGlassMm);
  for (const { shiftMm, plate } of glass) if (shiftMm > 0) add('glass', plate.name ?? 'glass', shiftMm);
  return pieces;
}
