/** Where one looks on a frame: sizes in px of the screen, places in px of the frame from its top left corner. */
export class MapView {
  boxWidth = $state(600);
  boxHeight = $state(500);
  widthPx = $state(1);
  heightPx = $state(1);
  /** Pixels of the screen for one of the frame; undefined while the whole frame is to be seen. */
  #scale = $state<number>();
  #x = $state(0);
  #y = $state(0);

  /** Room round the frame for the graduated ring, of the half diagonal. */
  static readonly RING = 1.06;
  static readonly MARGIN_PX = 24;
  static readonly LARGEST = 24;

  readonly fitScale = $derived.by(() => {
    const ring = Math.hypot(this.widthPx, this.heightPx) * MapView.RING;
    const room = Math.min(this.boxWidth, this.boxHeight) - 2 * MapView.MARGIN_PX;
    const wide = Math.min(
      (this.boxWidth - 2 * MapView.MARGIN_PX) / this.widthPx,
      (this.boxHeight - 2 * MapView.MARGIN_PX) / this.heightPx
    );
    // On a wide box the ring is cut above and below; its figures left and right are still read.
    const across = (this.boxWidth - 3 * MapView.MARGIN_PX) / ring;
    return Math.max(1e-4, Math.min(wide, Math.max(room / ring, Math.min(wide * 0.88, across))));
  });

  get scale(): number {
    return this.#scale ?? this.fitScale;
  }
  get isWhole(): boolean {
    return this.#scale === undefined;
  }
  /** What lies in the middle of the box. */
  get x(): number {
    return this.#scale === undefined ? this.widthPx / 2 : this.#x;
  }
  get y(): number {
    return this.#scale === undefined ? this.heightPx / 2 : this.#y;
  }

  /** The frame's top left corner on the screen. */
  get left(): number {
    return this.boxWidth / 2 - this.x * this.scale;
  }
  get top(): number {
    return this.boxHeight / 2 - this.y * this.scale;
  }

  whole(): void {
    this.#scale = undefined;
  }

  /** Looks at a place, so large. */
  look(x: number, y: number, scale: number): void {
    const bounded = Math.max(this.fitScale, Math.min(MapView.LARGEST, scale));
    const [nextX, nextY] = [Math.max(0, Math.min(this.widthPx, x)), Math.max(0, Math.min(this.heightPx, y))];
    if (bounded <= this.fitScale * 1.001) return this.whole();
    this.#scale = bounded;
    this.#x = nextX;
    this.#y = nextY;
  }

  /** Larger or smaller, a place of the screen staying where it is. */
  zoom(by: number, atX = this.boxWidth / 2, atY = this.boxHeight / 2): void {
    const scale = Math.max(this.fitScale, Math.min(MapView.LARGEST, this.scale * by));
    const [frameX, frameY] = [(atX - this.left) / this.scale, (atY - this.top) / this.scale];
    this.look(frameX + (this.boxWidth / 2 - atX) / scale, frameY + (this.boxHeight / 2 - atY) / scale, scale);
  }

  /** Moves what is seen by so many px of the screen. */
  pan(dx: number, dy: number): void {
    if (this.#scale === undefined) return;
    this.look(this.x - dx / this.scale, this.y - dy / this.scale, this.scale);
  }
}
