import { ASSUMED_CALIPER_MM, type Doubt } from './doubts.ts';
import { Spread } from './spread.ts';

/** What one reading would do for what is known of the length. */
export interface Narrowing {
  /** Element to measure, or `host`. */
  id: string;
  /** Its length, or how long the thread on one of its faces is. */
  of: 'length' | 'thread';
  face?: 'sky' | 'camera';
  /** Share of the variance that goes once it is measured. */
  share: number;
  /** Half-width that holds 95 % of the errors then, mm. */
  halfWidth95Mm: number;
}

/** A reading with ordinary calipers. */
const read = (doubt: Doubt): Doubt => ({
  ...doubt,
  halfWidthMm: ASSUMED_CALIPER_MM,
  standardMm: ASSUMED_CALIPER_MM / 2,
  kind: 'measured',
  shape: 'normal',
  shared: undefined
});

/**
 * Which single reading with ordinary calipers would narrow what is known of a length most (quadrature, JCGM 100:2008
 * §5.1.2), the best first. What is measured as well as that already is not among them.
 */
export function narrowings(doubts: readonly Doubt[]): Narrowing[] {
  const before = new Spread(doubts).standardMm ** 2;
  if (before === 0) return [];
  return doubts
    .flatMap((doubt, index): Narrowing[] => {
      const { id, of, face } = doubt;
      if ((of !== 'length' && of !== 'thread') || doubt.standardMm <= ASSUMED_CALIPER_MM / 2) return [];
      const after = new Spread(doubts.with(index, read(doubt)));
      const share = 1 - after.standardMm ** 2 / before;
      return [{ id, of, ...(face ? { face } : {}), share, halfWidth95Mm: after.halfWidth95Mm }];
    })
    .sort((a, b) => b.share - a.share);
}
