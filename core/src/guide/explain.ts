import type { Explanation } from '../why/explanation.ts';
import { mm, percent } from '../why/quantity.ts';
import type { Guide } from './guide.ts';

/** Numbers of the guider that can be asked. */
export type GuideSubject = `guide.${'required' | 'at' | 'shadow'}`;

const said = (words: string) => (): string => words;

/** How a number of the guider came about; undefined where the train has no such number. */
export function explainGuide(guide: Guide | undefined, subject: GuideSubject): Explanation | undefined {
  if (!guide) return undefined;
  const { pickoff } = guide.stalk;
  const { atMm, shadow } = guide.report;
  if (subject === 'guide.required') {
    return {
      title: 'Reflecting point to guide sensor',
      lines: [
        { label: 'to the main sensor', quantity: mm(guide.pathMm), source: said('along the axis') },
        {
          label: 'glass only the main beam crosses',
          quantity: mm(-guide.mainShiftMm),
          source: said('what no maker counted')
        },
        {
          label: pickoff.mirror ? 'a mirror' : 'the prism’s own glass',
          quantity: mm(guide.guideShiftMm),
          source: said('and what is in front of the guide sensor')
        }
      ],
      combine: 'sum',
      result: mm(guide.requiredMm)
    };
  }
  if (subject === 'guide.at') {
    const flangeMm = pickoff.guideCamera?.flangeMm;
    const pointMm = guide.pointMm;
    if (atMm === null || flangeMm === undefined || pointMm === undefined) return undefined;
    return {
      title: 'Guide camera shoulder to axis',
      lines: [
        {
          label: 'reflecting point to guide sensor',
          quantity: mm(guide.requiredMm),
          source: said('the same focus as the main camera’s'),
          why: 'guide.required'
        },
        { label: 'flange to sensor of the guide camera', quantity: mm(-flangeMm), source: said('published') },
        {
          label: 'reflecting point from the axis',
          quantity: mm(pointMm),
          source: said('inner edge and half the prism')
        }
      ],
      combine: 'sum',
      result: mm(atMm)
    };
  }
  if (!shadow) return undefined;
  const most = Math.max(shadow.edge, shadow.corner);
  return {
    title: 'Light the prism takes',
    lines: [
      { label: 'at the edge it is over', quantity: percent(shadow.edge), source: said('share of the pupil') },
      { label: 'in the darkest corner', quantity: percent(shadow.corner), source: said('share of the pupil') }
    ],
    combine: { formula: 'the greater of the two' },
    result: percent(most)
  };
}
