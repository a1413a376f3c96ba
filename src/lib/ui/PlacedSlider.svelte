<script lang="ts">
  /**
   * A handle that lies over a drawing: the drawing shows it, this is what is taken hold of. It stands beside the
   * drawing in the document, since a list of parts may hold nothing but its parts.
   */
  interface Props {
    label: string;
    /** Middle of the handle in the drawing's box, px. */
    x: number;
    y: number;
    widthPx?: number;
    heightPx?: number;
    min: number;
    max: number;
    now: number;
    text?: string;
    orientation: 'horizontal' | 'vertical';
    /** Held at a place of the drawing's box, px. */
    ondrag: (x: number, y: number) => void;
    /** By keys: one step up or down, small with Shift. */
    onstep: (by: 1 | -1, fine: boolean) => void;
    /** Home and End. */
    onto?: (end: 'home' | 'end') => void;
    /** It is held. */
    held?: boolean;
    id?: string;
  }
  let {
    label,
    x,
    y,
    widthPx = 24,
    heightPx = 24,
    min,
    max,
    now,
    text,
    orientation,
    ondrag,
    onstep,
    onto,
    held = $bindable(false),
    id
  }: Props = $props();

  // Set from here, not in the markup: the page's security policy forbids styles in what the server sends.
  const place = (element: HTMLElement) => {
    element.style.left = `${x - widthPx / 2}px`;
    element.style.top = `${y - heightPx / 2}px`;
    element.style.width = `${widthPx}px`;
    element.style.height = `${heightPx}px`;
  };

  function onpointerdown(event: PointerEvent) {
    if (event.button !== 0) return;
    (event.currentTarget as Element).setPointerCapture(event.pointerId);
    held = true;
  }
  function onpointermove(event: PointerEvent) {
    const box = (event.currentTarget as HTMLElement).offsetParent?.getBoundingClientRect();
    if (held && box) ondrag(event.clientX - box.left, event.clientY - box.top);
  }
  const STEPS: Readonly<Record<string, 1 | -1>> = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 };
  function onkeydown(event: KeyboardEvent) {
    const by = STEPS[event.key];
    if (by !== undefined) onstep(by, event.shiftKey);
    else if (onto && event.key === 'Home') onto('home');
    else if (onto && event.key === 'End') onto('end');
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
</script>

<div
  {id}
  class={['handle', orientation]}
  {@attach place}
  role="slider"
  tabindex="0"
  aria-label={label}
  aria-orientation={orientation}
  aria-valuemin={min}
  aria-valuemax={max}
  aria-valuenow={now}
  aria-valuetext={text}
  {onpointerdown}
  {onpointermove}
  onpointerup={() => (held = false)}
  onpointercancel={() => (held = false)}
  {onkeydown}
></div>

<style>
  .handle {
    position: absolute;
    touch-action: none;
    border-radius: 999px;
  }
  .vertical {
    cursor: ns-resize;
  }
  .horizontal {
    cursor: ew-resize;
    border-radius: 2px;
  }
</style>
