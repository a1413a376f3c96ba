import { select } from 'd3-selection';
import { zoom, zoomIdentity, type D3ZoomEvent } from 'd3-zoom';
import type { Attachment } from 'svelte/attachments';
import type { RailView } from './view.svelte.ts';

export interface ZoomControl {
  attach: Attachment<SVGSVGElement>;
  by: (factor: number) => void;
  reset: () => void;
}

/** As small as a gesture makes the drawing, relative to “everything fits”. */
const SMALLEST = 0.6;

/** One finger along the drawing moves it; across it the browser scrolls the page, and ends this. @returns what ends it */
function panByFinger(svg: SVGSVGElement, view: RailView): () => void {
  let held: { finger: number; atX: number } | undefined;
  const down = ({ pointerType, pointerId, clientX, isPrimary }: PointerEvent): void => {
    // A second finger zooms.
    held = pointerType === 'touch' && isPrimary ? { finger: pointerId, atX: clientX } : undefined;
  };
  const move = ({ pointerId, clientX }: PointerEvent): void => {
    if (held?.finger !== pointerId) return;
    view.moveTo(view.zoom, view.shiftPx + clientX - held.atX);
    held.atX = clientX;
  };
  const end = (): void => void (held = undefined);
  const listeners = [
    ['pointerdown', down],
    ['pointermove', move],
    ['pointerup', end],
    ['pointercancel', end]
  ] as const;
  for (const [name, listener] of listeners) svg.addEventListener(name, listener);
  return () => {
    for (const [name, listener] of listeners) svg.removeEventListener(name, listener);
  };
}

/** Wheel, pinch and drag on the drawing move the shared view; so do the keys, through `by` and `reset`. */
export function zoomControl(view: RailView): ZoomControl {
  let svg: SVGSVGElement | undefined;

  /** The view may have been moved from elsewhere since the last gesture, and be smaller than a gesture can make it. */
  const takeUp = (element: SVGSVGElement): void => {
    select(element).property('__zoom', zoomIdentity.translate(view.shiftPx, 0).scale(view.zoom));
    behaviour.scaleExtent([Math.min(SMALLEST, view.zoom), view.maxZoom]);
  };

  const behaviour = zoom<SVGSVGElement, unknown>()
    // One finger scrolls the page, two fingers zoom.
    .filter(function (this: SVGSVGElement, event: Event) {
      // Asked before a gesture looks where it begins.
      takeUp(this);
      if ('touches' in event) return (event as TouchEvent).touches.length > 1;
      return !(event instanceof MouseEvent && event.button !== 0) && event.type !== 'dblclick';
    })
    .on('zoom', ({ transform }: D3ZoomEvent<SVGSVGElement, unknown>) => {
      view.moveTo(transform.k, transform.x);
    });

  return {
    attach: (element) => {
      svg = element;
      select(element).call(behaviour).on('dblclick.zoom', null);
      const stopPanning = panByFinger(element, view);
      return () => {
        stopPanning();
        select(element).on('.zoom', null);
        svg = undefined;
      };
    },
    by: (factor) => {
      if (!svg) return;
      takeUp(svg);
      select(svg).call((selection) => behaviour.scaleBy(selection, factor));
    },
    reset: () => view.reset()
  };
}
