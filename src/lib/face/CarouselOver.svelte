<script lang="ts">
  import { degrees, radians } from '@lodestone/core/stats';
  import { carouselRadii, type Carousel } from './slotPlan.ts';

  interface Props {
    carousel: Carousel;
    pxPerMm: number;
  }
  const { carousel, pxPerMm }: Props = $props();

  const radii = $derived(carouselRadii(carousel));
  const ringPx = $derived(radii.ringMm * pxPerMm);
  const slotPx = $derived(radii.slotMm * pxPerMm);
  const inBeam = $derived(carousel.inBeam ?? carousel.filters[0]?.slot ?? 1);
  /** Slots go round clockwise, that in the beam on top. */
  const place = (slot: number) => {
    const angle = (2 * Math.PI * (slot - inBeam)) / carousel.slots - Math.PI / 2;
    return { x: ringPx * Math.cos(angle), y: ringPx + ringPx * Math.sin(angle) };
  };
  const slots = $derived(
    Array.from({ length: carousel.slots }, (_, at) => {
      const slot = at + 1;
      return {
        slot,
        ...place(slot),
        filter: carousel.filters.find((each) => each.slot === slot),
        isKept: carousel.keepEmpty.includes(slot)
      };
    })
  );
  const heaviest = $derived(Math.max(1, ...carousel.filters.map(({ massG }) => massG)));
  const arrow = $derived.by(() => {
    const { resultantG, towardDeg } = carousel.imbalance;
    if (resultantG < 0.05 * heaviest) return undefined;
    const angle = radians(towardDeg) + (2 * Math.PI * (1 - inBeam)) / carousel.slots - Math.PI / 2;
    const length = Math.min(0.75, (resultantG / heaviest) * 0.4) * ringPx;
    return { x: length * Math.cos(angle), y: ringPx + length * Math.sin(angle), turn: degrees(angle) };
  });
</script>

<g class="pointer-events-none" aria-hidden="true" data-carousel={carousel.id}>
  <circle class="plate" cy={ringPx} r={ringPx + slotPx + 5} />
  {#each slots as { slot, x, y, filter, isKept } (slot)}
    <circle
      class={['slot', filter?.isGlass && 'filled', isKept && 'kept', slot === inBeam && 'beam']}
      cx={x}
      cy={y}
      r={slotPx}
    />
    <text class="number" {x} y={y - 5} text-anchor="middle">{slot}</text>
    <text class="name" {x} y={y + 9} text-anchor="middle">{filter?.name ?? (isKept ? 'kept empty' : 'empty')}</text>
  {/each}
  <circle class="hub" cy={ringPx} r="3" />
  {#if arrow}
    <path class="moment" d="M0 {ringPx}L{arrow.x} {arrow.y}" />
    <path class="moment" transform="translate({arrow.x} {arrow.y}) rotate({arrow.turn})" d="M-6 -4L0 0L-6 4" />
  {/if}
</g>

<style>
  .plate {
    fill: color-mix(in srgb, var(--metal) 45%, transparent);
    stroke: var(--metal-edge);
  }
  .slot {
    fill: var(--color-base-200);
    stroke: var(--metal-edge);
    stroke-dasharray: 3 3;
  }
  .slot.filled {
    fill: color-mix(in srgb, var(--glass) 28%, var(--color-base-200));
    stroke: var(--glass);
    stroke-dasharray: none;
  }
  .slot.kept {
    stroke-dasharray: 1 4;
  }
  .slot.beam {
    stroke: var(--color-primary);
    stroke-width: 2;
  }
  .hub {
    fill: var(--metal-edge);
  }
  .moment {
    fill: none;
    stroke: var(--color-primary);
    stroke-width: 2;
  }
  text {
    fill: var(--color-base-content);
    font-size: 10.5px;
  }
  .number {
    font-weight: 600;
  }
</style>
