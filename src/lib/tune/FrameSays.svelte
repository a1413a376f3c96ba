<script lang="ts">
  import type { FieldReading } from '@lodestone/core/frame';
  import { cornersInWords, figure, headlineOf } from './say.ts';
  import StretchProfile from './StretchProfile.svelte';

  /** What is wrong with a frame, how sure that is, and the figures it rests on. */
  interface Props {
    field: FieldReading;
    /** Of the frame it is compared with. */
    other: FieldReading | undefined;
    /** Something else is looked at beside it: the findings alone. */
    isBrief: boolean;
  }
  const { field, other, isBrief }: Props = $props();

  const figures = $derived([
    ['stars', String(field.count)],
    ['HFR, px', figure(field.hfrPx, 2)],
    ['FWHM, px', figure(field.fwhmPx, 2)],
    ['ellipticity', figure(field.ellipticity, 2)]
  ] as const);
</script>

<h2 class="text-xl font-semibold" data-headline={field.findings[0]?.cause ?? 'none'}>{headlineOf(field.findings)}</h2>
<ul class="mt-1 grid gap-2">
  {#each field.findings as { cause, confidence, message }, index (index)}
    <li class={['flex gap-2', index > 0 && 'text-muted text-sm']} data-finding={cause}>
      <span class="shrink-0 font-semibold">{Math.round(confidence * 100)} %</span><span>{message}</span>
    </li>
  {/each}
</ul>
{#if !isBrief}
  <dl class="mt-3 grid grid-cols-4 gap-x-3 text-sm">
    {#each figures as [name, value] (name)}
      <div>
        <dt class="text-muted text-xs">{name}</dt>
        <dd class="text-base font-semibold">{value}</dd>
      </div>
    {/each}
  </dl>
  {#if field.radial}
    <div class="mt-2 h-44"><StretchProfile {field} {other} /></div>
    <p class="text-muted text-sm">{cornersInWords(field)}</p>
  {/if}
{/if}
