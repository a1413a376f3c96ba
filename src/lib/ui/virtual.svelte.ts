import {
  Virtualizer,
  elementScroll,
  observeElementOffset,
  observeElementRect,
  type VirtualItem
} from '@tanstack/virtual-core';

/** Rows drawn beyond the window on either side. */
const OVERSCAN = 6;

/** Of a long list only the rows in view, for a list of rows of one height. */
export class VirtualRows {
  rows = $state.raw<readonly VirtualItem[]>([]);
  totalPx = $state(0);
  #element: HTMLElement | null = null;
  readonly #virtualizer: Virtualizer<HTMLElement, HTMLElement>;

  constructor(rowPx: number) {
    this.#virtualizer = new Virtualizer<HTMLElement, HTMLElement>({
      count: 0,
      getScrollElement: () => this.#element,
      estimateSize: () => rowPx,
      overscan: OVERSCAN,
      scrollToFn: elementScroll,
      observeElementRect,
      observeElementOffset,
      onChange: () => this.#take()
    });
  }

  #take(): void {
    this.rows = this.#virtualizer.getVirtualItems();
    this.totalPx = this.#virtualizer.getTotalSize();
  }

  /** Attach to the element that scrolls. */
  scroller = (element: HTMLElement): (() => void) => {
    this.#element = element;
    const end = this.#virtualizer._didMount();
    this.#virtualizer._willUpdate();
    this.#take();
    return () => {
      end();
      this.#element = null;
    };
  };

  setCount(count: number): void {
    this.#virtualizer.setOptions({ ...this.#virtualizer.options, count });
    this.#virtualizer._willUpdate();
    this.#take();
  }

  reveal(index: number): void {
    if (index >= 0) this.#virtualizer.scrollToIndex(index, { align: 'auto' });
  }
}
