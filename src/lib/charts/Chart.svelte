<script lang="ts">
  import { plotOf, type Margins, type Plot } from './plot.ts';
  import type { Snippet } from 'svelte';
  import type { SVGAttributes } from 'svelte/elements';

  /** The frame of a chart: its size, its axes, its words, and the same as a table for who does not see it. */
  interface Props extends Omit<SVGAttributes<SVGSVGElement>, 'x' | 'y' | 'children' | 'role' | 'class'> {
    /** What is drawn, in a sentence. */
    label: string;
    /** Where its points can be chosen it is a group of them. */
    role?: 'img' | 'group';
    margins: Margins;
    /** Values at the two ends of each axis. */
    x: readonly [number, number];
    y: readonly [number, number];
    /** About how many values stand at each axis; none where left out. */
    xTicks?: number | undefined;
    yTicks?: number | undefined;
    xInWords?: (value: number) => string;
    yInWords?: (value: number) => string;
    /** What is drawn, figure by figure. */
    table: { columns: readonly string[]; rows: readonly (readonly string[])[] };
    /** The plot itself. */
    children: Snippet<[Plot]>;
  }
  const {
    label,
    role = 'img',
    margins,
    x,
    y,
    xTicks,
    yTicks,
    xInWords = String,
    yInWords = String,
    table,
    children,
    ...further
  }: Props = $props();

  let width = $state(360);
  let height = $state(190);
  const plot = $derived(plotOf(width, height, margins, x, y));
</script>

<div class="relative h-full min-h-36 w-full" bind:clientWidth={width} bind:clientHeight={height}>
  <!-- It takes no room itself: what holds it says how large it is, and may shrink. -->
  <svg
    class="chart absolute inset-0"
    {width}
    {height}
    viewBox="0 0 {width} {height}"
    {role}
    aria-label={label}
    {...further}
  >
    {#if yTicks !== undefined}
      {#each plot.y.ticks(yTicks) as value (value)}
        <path class="grid" d="M{plot.left} {plot.y(value)}H{plot.right}" />
        <text x={plot.left - 5} y={plot.y(value) + 4} text-anchor="end">{yInWords(value)}</text>
      {/each}
    {/if}
    {#if xTicks !== undefined}
      {#each plot.x.ticks(xTicks) as value (value)}
        <path class="grid" d="M{plot.x(value)} {plot.bottom}v4" />
        <text x={plot.x(value)} y={plot.bottom + 15} text-anchor="middle">{xInWords(value)}</text>
      {/each}
    {/if}
    {@render children(plot)}
  </svg>
  {#if table.rows.length > 0}
    <!-- A table is as wide as its words, whatever it is told: what lies round it is not. -->
    <div class="sr-only" aria-live="off">
      <table>
        <caption>{label}</caption>
        <thead>
          <tr
            >{#each table.columns as column (column)}<th scope="col">{column}</th>{/each}</tr
          >
        </thead>
        <tbody>
          {#each table.rows as row, at (at)}
            <tr
              >{#each row as cell, column (column)}<td>{cell}</td>{/each}</tr
            >
          {/each}
        </tbody>
      </table>
    </div>
  {/if}
</div>
