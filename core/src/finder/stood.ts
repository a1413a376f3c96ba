import type { Facts } from '../check/facts.ts';
import { isBody, nameOf } from '../train/model.ts';
import { formatLength, type LengthUnit } from '../why/wording.ts';

/**
 * What several gaps of a train may measure together, from one to another on its camera side: what a guider's reach or
 * a filter's distance from the sensor asks of the rings between. Lengths in mm.
 */
export interface SpanLimit {
  /** Ids of the first and the last gap. */
  from: string;
  to: string;
  minMm?: number;
  maxMm?: number;
  /** Why, in words. */
  because: string;
}

/** Length that stands in for the gaps on the camera side of an element, the train filled, mm. */
export function lengthBehind({ filled }: Facts, index: number): number {
  let sum = 0;
  for (const [gap, lengthMm] of filled?.lengths ?? []) if (gap > index) sum += lengthMm;
  return sum;
}

/** What the guider's reach and the filter's distance from the sensor ask of the gaps behind them. */
export function spansAsked(facts: Facts, unit: LengthUnit): SpanLimit[] {
  const { train, guide, light } = facts;
  const asked: SpanLimit[] = [];
  const behind = (id: string): { index: number; from: string; to: string } | undefined => {
    const index = train.elements.findIndex((element) => element.id === id);
    const gaps = train.elements.slice(index + 1).flatMap(({ id: gap, kind }) => (kind === 'gap' ? [gap] : []));
    return gaps.length === 0 ? undefined : { index, from: gaps[0]!, to: gaps.at(-1)! };
  };
  const { atMm, rangeMm } = guide?.report ?? {};
  const reach = guide && behind(guide.stalk.at);
  if (reach && atMm !== undefined && atMm !== null && rangeMm) {
    const emptyMm = atMm - lengthBehind(facts, reach.index);
    const [minMm, maxMm] = [rangeMm[0] - emptyMm, rangeMm[1] - emptyMm];
    asked.push({
      from: reach.from,
      to: reach.to,
      minMm: Math.max(0, minMm),
      maxMm: Math.max(0, maxMm),
      because: `the guide camera on ${nameOf(train, guide.stalk.at)} reaches focus with ${formatLength(Math.max(0, minMm), unit)} to ${formatLength(Math.max(0, maxMm), unit)} behind it`
    });
  }
  const worst = light?.farthestFilter;
  const filter = worst && behind(worst.at);
  if (filter && train.elements.some((element) => element.id === worst.at && isBody(element))) {
    const maxMm = worst.farthestZMm - (worst.zMm - lengthBehind(facts, filter.index));
    asked.push({
      from: filter.from,
      to: filter.to,
      maxMm: Math.max(0, maxMm),
      because: `the filter in ${nameOf(train, worst.at)} leaves the corners enough light with at most ${formatLength(Math.max(0, maxMm), unit)} behind it`
    });
  }
  return asked;
}
