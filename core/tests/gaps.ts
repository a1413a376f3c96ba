import type { Solution } from '../src/finder/index.ts';
import type { Train } from '../src/train/index.ts';
import { female, male } from './drawer.ts';
import { camera, corrector, train } from './trains.ts';

/** A corrector that asks for `asksMm`, one gap, a camera of 17.5; all M48. */
export const oneGap = (asksMm: number, gap: object = {}): Train =>
  train([
    corrector({ backFocusMm: asksMm }, { camera: male('M48x0.75') }),
    { id: 'gap', kind: 'gap', name: 'gap', ...gap },
    camera(17.5, { sky: female('M48x0.75') as never })
  ]);

/** What stands in each gap of a solution. */
export const names = ({ gaps }: Solution): string[][] =>
  gaps.map(({ placed }) => placed.map(({ part: { partId }, reversed }) => (reversed ? `${partId} turned` : partId)));
