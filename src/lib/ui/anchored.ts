import {
  autoUpdate,
  computePosition,
  flip,
  offset,
  shift,
  size,
  type Placement,
  type ReferenceElement
} from '@floating-ui/dom';
import type { Attachment } from 'svelte/attachments';

/** Room kept to the edge of the window, and to what is pointed at, px. */
const MARGIN = 8;

interface Options {
  placement?: Placement;
  /** As wide as what it hangs on. */
  sameWidth?: boolean;
  /** Room to what it hangs on, px. */
  apartPx?: number;
}

/**
 * Shows a popover beside something, inside the window and never higher than the room there is. The element has the
 * attribute `popover`, and so lies above every dialog.
 */
export function anchored(
  anchor: ReferenceElement | DOMRect,
  { placement = 'bottom-start', sameWidth = false, apartPx = MARGIN }: Options = {}
): Attachment<HTMLElement> {
  return (element) => {
    const reference = anchor instanceof DOMRect ? { getBoundingClientRect: () => anchor } : anchor;
    const middleware = [
      offset(apartPx),
      flip({ padding: MARGIN }),
      shift({ padding: MARGIN }),
      size({
        padding: MARGIN,
        apply({ availableHeight, rects }) {
          element.style.maxHeight = `${Math.max(availableHeight, 96)}px`;
          if (sameWidth) element.style.width = `${rects.reference.width}px`;
        }
      })
    ];
    const place = async () => {
      const { x, y } = await computePosition(reference, element, { strategy: 'fixed', placement, middleware });
      Object.assign(element.style, { left: `${x}px`, top: `${y}px` });
    };
    element.showPopover();
    return autoUpdate(reference, element, () => void place());
  };
}
