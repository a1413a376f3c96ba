<script lang="ts">
  import { arcsInWords, freeArcs } from '@lodestone/core/guide';
  import { HOST, nameOf } from '@lodestone/core/train';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import Why from '$lib/ui/Why.svelte';

  const train = useTrain();
  const display = useDisplay();
  const guide = $derived(train.assessment.facts.guide);
  const report = $derived(guide?.report);
  const percent = (share: number) => `${(share * 100).toFixed(0)} %`;
  /** Arcs that the guide camera may stand in, where something is near the train. */
  const free = $derived.by(() => {
    if (!guide || (train.shown.host.neighbours ?? []).length === 0) return undefined;
    const arcs = freeArcs(train.shown, guide);
    return arcs && arcsInWords(arcs);
  });
  const VERDICTS = {
    reaches: 'reaches focus',
    short: 'cannot go far enough out',
    long: 'cannot come near enough',
    unknown: 'whether it reaches is not known'
  } as const;
</script>

{#snippet row(title: string, words: string)}
  <tr class="border-line border-t"><td class="py-1">{title}</td><td class="text-right">{words}</td></tr>
{/snippet}

<h2 class="text-base font-semibold">Guiding</h2>
{#if guide && report}
  <p class="mb-2">
    {nameOf(train.document, guide.stalk.at)}:
    <span
      class={[
        'font-semibold',
        report.verdict === 'reaches' ? 'text-success' : report.verdict === 'unknown' ? '' : 'text-warning'
      ]}
      data-guide-verdict>{VERDICTS[report.verdict]}</span
    >{#if report.verdict === 'short' || report.verdict === 'long'}, by {display.length(Math.abs(report.missMm))}{/if}.
  </p>
  <table class="w-full text-xs">
    <tbody>
      <tr class="border-line border-t"
        ><td class="py-1">reflecting point to guide sensor</td><td class="text-right"
          ><Why subject="guide.required">{display.length(report.requiredMm)}</Why></td
        ></tr
      >
      {#if report.atMm !== null}
        <tr class="border-line border-t"
          ><td class="py-1">its shoulder from the axis</td><td class="text-right"
            ><Why subject="guide.at">{display.length(report.atMm)}</Why></td
          ></tr
        >
      {/if}
      {#if report.rangeMm}{@render row(
          'possible from',
          `${display.number(report.rangeMm[0])} to ${display.length(report.rangeMm[1])}`
        )}{/if}
      {#if report.shadow}{@render row(
          'shadow on the sensor, edge and corner',
          `${percent(report.shadow.edge)}, ${percent(report.shadow.corner)}`
        )}{/if}
      {#if report.starLight !== null}{@render row('share of a guide star’s light', percent(report.starLight))}{/if}
      {#if report.offAxisDeg !== null}{@render row(
          'looks off the axis by',
          `${report.offAxisDeg.toFixed(2)}°${report.inImageCircle === null ? ', image circle not stated' : report.inImageCircle ? ', inside the image circle' : ', outside the image circle'}`
        )}{/if}
      {#if free !== undefined}{@render row('free of what is near', free)}{/if}
      {#if guide.field}{@render row(
          'guide field and scale',
          `${(guide.field.fieldDeg[0] * 60).toFixed(0)}′ × ${(guide.field.fieldDeg[1] * 60).toFixed(0)}′, ${guide.field.scaleArcsecPerPx.toFixed(2)} ″/px`
        )}{/if}
    </tbody>
  </table>
  <p class="text-muted mt-2 text-xs">
    Focus it again after any change of length on its camera side. Describe what is near the train under
    <button class="link-quiet" onclick={() => train.select({ kind: 'host' })}>{nameOf(train.document, HOST)}</button>,
    stars to expect under framing.
  </p>
{:else}
  <p class="text-muted">There is no off-axis guider behind the corrector.</p>
{/if}
