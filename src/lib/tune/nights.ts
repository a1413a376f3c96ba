import type { HiddenTruth } from '@lodestone/core/experiment';

/** Nights of the simulated camera that one can choose. */
export interface Night {
  id: string;
  title: string;
  truth: (random: () => number) => Partial<HiddenTruth>;
}

const turn = (random: () => number): number => Math.round(random() * 360 - 180);

export const NIGHTS: readonly Night[] = [
  { id: 'quiet', title: 'as the train is', truth: () => ({}) },
  { id: 'far', title: '1.5 mm too far out', truth: () => ({ wantsMm: -1.5 }) },
  { id: 'near', title: '1.5 mm too near', truth: () => ({ wantsMm: 1.5 }) },
  { id: 'tilt', title: 'sensor tilted', truth: (random) => ({ tiltUm: 80, tiltDirectionDeg: turn(random) }) },
  { id: 'drift', title: 'the mount drifts', truth: (random) => ({ driftPx: 6, driftDirectionDeg: turn(random) }) },
  {
    id: 'collimation',
    title: 'out of collimation',
    truth: (random) => ({ comaUm: 24, comaDirectionDeg: turn(random) })
  },
  { id: 'focus', title: 'out of focus', truth: () => ({ defocusUm: 320 }) },
  {
    id: 'pinch',
    title: 'optics pinched',
    truth: (random) => ({ pinchUm: 14, pinchDirectionDeg: turn(random) })
  },
  { id: 'turn', title: 'the field turns', truth: () => ({ rotationDeg: 0.25 }) },
  {
    id: 'nebula',
    title: 'a nebula, trails and a moon',
    truth: (random) => ({ nebulaAdu: 900, trails: 2, gradientAdu: 300, gradientDirectionDeg: turn(random) })
  },
  {
    id: 'sensor',
    title: 'a sensor with defects',
    truth: () => ({ hotPixels: 3000, badColumns: 12, glowAdu: 500, bandingE: 4 })
  },
  {
    id: 'surprise',
    title: 'a surprise',
    truth: (random) => {
      const others = NIGHTS.filter(({ id }) => id !== 'surprise');
      return others[Math.floor(random() * others.length)]!.truth(random);
    }
  }
];
