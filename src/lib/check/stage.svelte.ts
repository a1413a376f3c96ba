import { lightLayer } from '@lodestone/core/shape';
import { LayerView } from '$lib/rail/layers.svelte.ts';
import { FaceView, type FaceLayerId } from '$lib/face/faceView.svelte.ts';

/** What stands under the face: words to one of its layers, or the part that is selected. */
export type Panel = 'light' | 'guide' | 'framing' | 'slots' | 'load' | 'length' | 'part';

/** What the face shows with each panel: an object is not seen behind a map of the light. */
const SHOWN: Readonly<Record<Exclude<Panel, 'part' | 'length'>, readonly FaceLayerId[]>> = {
  light: ['light', 'guide'],
  guide: ['guide', 'light'],
  framing: ['guide', 'framing'],
  slots: ['slots'],
  load: ['cables', 'guide']
};

/** What the Check stage is looking at. */
export class CheckView {
  readonly layers = new LayerView([lightLayer]);
  readonly face = new FaceView();
  panel = $state<Panel>('light');

  /** Shows a panel, and on the face what it is about. */
  show(panel: Panel): void {
    this.panel = panel;
    if (panel !== 'part' && panel !== 'length') this.face.on = SHOWN[panel];
  }
}
