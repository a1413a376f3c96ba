<script lang="ts">
  import { cameraPort, skyPort, type Port, type SolidElement } from '@lodestone/core/train';
  import { parseThread } from '@lodestone/core/joint';
  import { partShape } from '@lodestone/core/shape';

  interface Props {
    element: SolidElement;
    widthPx: number;
    heightPx: number;
    /** Scale along of a whole list, so that lengths compare; a part that is too long for it is drawn as long as there is room. */
    pxPerMm: number;
  }
  const { element, widthPx, heightPx, pxPerMm }: Props = $props();

  const PADDING_PX = 2.5;
  const THREAD_STEP_PX = 3;
  /** A shim is thinner than its own line. */
  const THINNEST_PX = 2;

  const shape = $derived(partShape(element));
  const males = $derived(shape.threads);
  /** Depth drawn where none is stated, mm. */
  const USUAL_DEPTH_MM = 4;

  /** The thread inside a face: where it lies, and how wide it is. */
  function hole(port: Port | undefined, side: 'sky' | 'camera') {
    if (!port || !('thread' in port) || port.gender !== 'female') return [];
    const radiusMm = (parseThread(port.thread)?.diameterMm ?? 0) / 2;
    const depthMm = Math.min(port.lengthMm ?? USUAL_DEPTH_MM, shape.toMm - shape.fromMm);
    if (radiusMm === 0 || depthMm <= 0) return [];
    return [
      side === 'sky'
        ? { fromMm: shape.fromMm, toMm: shape.fromMm + depthMm, radiusMm }
        : { fromMm: shape.toMm - depthMm, toMm: shape.toMm, radiusMm }
    ];
  }
  const females = $derived([...hole(skyPort(element), 'sky'), ...hole(cameraPort(element), 'camera')]);
  const fromMm = $derived(Math.min(shape.fromMm, ...males.map((each) => each.fromMm)));
  const toMm = $derived(Math.max(shape.toMm, ...males.map((each) => each.toMm)));
  const along = $derived(Math.min(pxPerMm, (widthPx - 2 * PADDING_PX) / Math.max(toMm - fromMm, 0.1)));
  const across = $derived((heightPx - 2 * PADDING_PX) / 2 / Math.max(shape.outerRadiusMm, 1));
  const middleX = $derived((fromMm + toMm) / 2);
  const x = (mm: number): number => widthPx / 2 + (mm - middleX) * along;
  const axis = $derived(heightPx / 2);
  const bodyFrom = $derived(x(shape.fromMm));
  const bodyTo = $derived(Math.max(x(shape.toMm), bodyFrom + THINNEST_PX));

  /** The outline seen from the side, one closed line: stub, body, stub, and back below the axis. */
  const outline = $derived.by(() => {
    const top: [number, number][] = [];
    const stub = (thread: (typeof males)[number]): void => {
      const half = thread.radiusMm * across;
      top.push([x(thread.fromMm), half], [x(thread.toMm), half]);
    };
    males.filter((each) => each.fromMm < shape.fromMm).forEach(stub);
    const half = shape.outerRadiusMm * across;
    top.push([bodyFrom, half], [bodyTo, half]);
    males.filter((each) => each.fromMm >= shape.fromMm).forEach(stub);
    const points = [...top.map(([px, r]) => [px, axis - r]), ...top.toReversed().map(([px, r]) => [px, axis + r])];
    return `M${points.map(([px, py]) => `${px!.toFixed(1)} ${py!.toFixed(1)}`).join('L')}Z`;
  });

  /** Strokes over a thread, so that it is seen for one. */
  const strokes = (thread: (typeof males)[number]): number[] => {
    const [from, to] = [x(thread.fromMm), x(thread.toMm)];
    const count = Math.max(1, Math.floor((to - from) / THREAD_STEP_PX));
    return Array.from({ length: count }, (_, at) => from + ((at + 0.5) * (to - from)) / count);
  };
</script>

<svg width={widthPx} height={heightPx} viewBox="0 0 {widthPx} {heightPx}" aria-hidden="true" class="block shrink-0">
  <path class="body" d={outline} />
  {#each males as thread, index (index)}
    {#each strokes(thread) as at, stroke (stroke)}
      <line class="thread" x1={at} x2={at} y1={axis - thread.radiusMm * across} y2={axis + thread.radiusMm * across} />
    {/each}
  {/each}
  {#each females as thread, index (index)}
    <rect
      class="hole"
      x={x(thread.fromMm)}
      y={axis - thread.radiusMm * across}
      width={(thread.toMm - thread.fromMm) * along}
      height={2 * thread.radiusMm * across}
    />
  {/each}
</svg>

<style>
  .body {
    fill: var(--metal, color-mix(in srgb, var(--color-base-content) 22%, var(--color-base-200)));
    stroke: color-mix(in srgb, var(--color-base-content) 75%, transparent);
    stroke-width: 1;
    stroke-linejoin: round;
  }
  .thread {
    stroke: color-mix(in srgb, var(--color-base-content) 60%, transparent);
    stroke-width: 0.9;
  }
  .hole {
    fill: none;
    stroke: color-mix(in srgb, var(--color-base-content) 60%, transparent);
    stroke-width: 0.9;
    stroke-dasharray: 2 1.5;
  }
</style>
