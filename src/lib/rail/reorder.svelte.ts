import { drag, type D3DragEvent } from 'd3-drag';
import { select } from 'd3-selection';
import type { Attachment } from 'svelte/attachments';

/** A joint a dragged part may go to. */
export interface DropPlace {
  /** Element the part would stand before. */
  before: string;
  x: number;
}

interface Options {
  places: () => readonly DropPlace[];
  onstart: (id: string) => void;
  ondrop: (id: string, before: string) => void;
}

const CLICK_PX = 4;

/** Dragging parts along the rail: which one, where the pointer is, and where it would go. */
export class Reorder {
  dragged = $state.raw<{ id: string; atX: number; place: DropPlace }>();
  /** Escape was pressed: the rest of this drag is none. */
  #cancelled = false;
  readonly #options: Options;
  readonly #attachments: Record<string, Attachment<SVGGElement>> = {};

  constructor(options: Options) {
    this.#options = options;
  }

  /** Makes a part draggable. The same id gives the same attachment, so that an edit does not renew it. */
  draggable = (id: string): Attachment<SVGGElement> => (this.#attachments[id] ??= this.#behaviour(id));

  #onkeydown = (event: KeyboardEvent): void => {
    if (event.key !== 'Escape') return;
    event.preventDefault();
    event.stopPropagation();
    this.#cancelled = true;
    this.dragged = undefined;
  };

  #behaviour(id: string): Attachment<SVGGElement> {
    return (element) => {
      const behaviour = drag<SVGGElement, unknown>()
        .clickDistance(CLICK_PX)
        // One finger scrolls the page; parts are moved with the pointer or the keys.
        .filter((event: MouseEvent) => event.button === 0 && !chooses(event) && !('touches' in event))
        .on('start', () => {
          this.#cancelled = false;
          window.addEventListener('keydown', this.#onkeydown, true);
          this.#options.onstart(id);
        })
        .on('drag', ({ x, sourceEvent }: D3DragEvent<SVGGElement, unknown, unknown>) => {
          const place = nearest(this.#options.places(), x);
          const over = isOver(element.ownerSVGElement, sourceEvent as MouseEvent);
          this.dragged = place && over && !this.#cancelled ? { id, atX: x, place } : undefined;
        })
        .on('end', () => {
          window.removeEventListener('keydown', this.#onkeydown, true);
          const done = this.dragged;
          this.dragged = undefined;
          if (done && done.place.before !== id) this.#options.ondrop(id, done.place.before);
        });
      select(element).call(behaviour);
      return () => select(element).on('.drag', null);
    };
  }
}

/** With these keys a part is chosen beside others, not held. */
const chooses = ({ ctrlKey, metaKey, shiftKey }: MouseEvent): boolean => ctrlKey || metaKey || shiftKey;

/** A hand is not steady: so far beside the rail still means the rail. */
const BESIDE_PX = 40;

function isOver(rail: SVGSVGElement | null, { clientY }: MouseEvent): boolean {
  const box = rail?.getBoundingClientRect();
  return box === undefined || (clientY >= box.top - BESIDE_PX && clientY <= box.bottom + BESIDE_PX);
}

/** The joint nearest to a place along the rail. */
export const nearest = (places: readonly DropPlace[], x: number): DropPlace | undefined =>
  places.reduce<DropPlace | undefined>(
    (best, place) => (best === undefined || Math.abs(place.x - x) < Math.abs(best.x - x) ? place : best),
    undefined
  );
