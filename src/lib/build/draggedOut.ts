import { drag, type D3DragEvent } from 'd3-drag';
import { select } from 'd3-selection';
import type { Attachment } from 'svelte/attachments';

interface Dragged {
  /** Where it is held now, in the window, px. */
  ondrag: (x: number, y: number) => void;
  onend: () => void;
  /** Escape was pressed. */
  oncancel: () => void;
}

/** Something that is dragged out of a list by mouse or pen; a finger scrolls the list. */
export function draggedOut({ ondrag, onend, oncancel }: Dragged): Attachment<HTMLElement> {
  /** Escape was pressed: the rest of this drag is none. */
  let isCancelled = false;
  const byKey = (event: KeyboardEvent): void => {
    if (event.key !== 'Escape') return;
    event.preventDefault();
    event.stopPropagation();
    isCancelled = true;
    oncancel();
  };
  return (element) => {
    const behaviour = drag<HTMLElement, unknown>()
      .clickDistance(4)
      .filter((event: MouseEvent) => event.button === 0 && !event.ctrlKey && !('touches' in event))
      .on('start', () => {
        isCancelled = false;
        window.addEventListener('keydown', byKey, true);
      })
      .on('drag', ({ sourceEvent }: D3DragEvent<HTMLElement, unknown, unknown>) => {
        const { clientX, clientY } = sourceEvent as MouseEvent;
        if (!isCancelled) ondrag(clientX, clientY);
      })
      .on('end', () => {
        window.removeEventListener('keydown', byKey, true);
        onend();
      });
    select(element).call(behaviour);
    return () => select(element).on('.drag', null);
  };
}
