import type { Train } from '../train/model.ts';
import { publishedBy } from '../train/sources.ts';
import type { Explanation } from '../why/explanation.ts';
import { formatLength } from '../why/wording.ts';
import { GRAVITY, type Load } from './load.ts';

/** Numbers of the load that can be asked. */
export type LoadSubject = `load.${'mass' | 'moment'}`;

/** How a number of the load came about. */
export function explainLoad(train: Train, load: Load, subject: LoadSubject): Explanation {
  const isMass = subject === 'load.mass';
  const unweighed = load.unweighed.length === 0 ? '' : ` (${load.unweighed.length} not weighed: it is a least)`;
  return {
    title: isMass ? `What hangs on the host${unweighed}` : `Moment about the host’s camera face${unweighed}`,
    lines: load.hanging.map(({ id, name, massG, behindMm, isAttached }) => ({
      label: isAttached ? `${name}, hung on` : name,
      quantity: isMass
        ? { value: massG, unit: 'g' as const }
        : { value: (GRAVITY * massG * behindMm) / 1e6, unit: 'N·m' as const },
      source: (unit) =>
        isMass
          ? 'stated'
          : `${massG.toFixed(0)} g, ${formatLength(behindMm, unit, unit === 'mm' ? 0 : 2)} behind the face`,
      ...(isAttached ? {} : publishedBy(train, id, 'mass'))
    })),
    combine: 'sum',
    result: isMass ? { value: load.massG, unit: 'g' } : { value: load.momentNm, unit: 'N·m' }
  };
}
