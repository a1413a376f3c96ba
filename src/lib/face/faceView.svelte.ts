import type { Comparison } from '@lodestone/core/light';

export type FaceLayerId = 'light' | 'guide' | 'framing' | 'slots' | 'cables';

/** Layers of the face, in the order they are switched on. */
export const FACE_LAYERS: readonly { id: FaceLayerId; title: string }[] = [
  { id: 'light', title: 'light' },
  { id: 'guide', title: 'guide' },
  { id: 'framing', title: 'framing' },
  { id: 'slots', title: 'slots' },
  { id: 'cables', title: 'cables' }
];

/** How the face is looked at. */
export class FaceView {
  on = $state.raw<readonly FaceLayerId[]>(['light', 'guide']);
  /** Shares relative to the middle of the sensor, as a flat shows them. */
  relative = $state(false);
  /** What the light is compared with, in words and as the core knows it. */
  compared = $state.raw<{ words: string; change: Comparison }>();
  /** Where what is and what is compared meet, as a share of the sensor's width. */
  split = $state(0.5);

  has(id: FaceLayerId): boolean {
    return this.on.includes(id);
  }

  toggle(id: FaceLayerId): void {
    this.on = this.has(id) ? this.on.filter((each) => each !== id) : [...this.on, id];
  }

  moveSplit(to: number): void {
    this.split = Math.max(0, Math.min(1, to));
  }
}
