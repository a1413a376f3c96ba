import type { RailLayer } from '@lodestone/core/shape';

/** Which layers lie over the rail, and the point of the sensor that is looked at: the face and the profile show it too. */
export class LayerView {
  on = $state.raw<readonly RailLayer[]>([]);
  /** Where the point stands on the half diagonal of the sensor, −1 to 1. */
  share = $state(1);
  /** The point is held. */
  held = $state(false);

  constructor(on: readonly RailLayer[] = []) {
    this.on = on;
  }

  has(id: RailLayer['id']): boolean {
    return this.on.some((layer) => layer.id === id);
  }

  toggle(layer: RailLayer): void {
    this.on = this.has(layer.id) ? this.on.filter((each) => each !== layer) : [...this.on, layer];
  }

  /** Moves the point, kept on the sensor. @param share of the half diagonal */
  moveTo(share: number): void {
    this.share = Math.max(-1, Math.min(1, share));
  }
}
