<script lang="ts">
  /** Spacings that were tried: what they say together, the next one, and how another is written down. */
  import type { TriedSpacing } from '@lodestone/core';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { Check, Plus, Trash2 } from '@lucide/svelte';
  import ExperimentChart from './ExperimentChart.svelte';
  import type { TestFrame } from './frames.svelte.ts';
  import type { Tuning } from './tuning.svelte.ts';

  interface Props {
    tuning: Tuning;
    frame: TestFrame | undefined;
  }
  const { tuning, frame }: Props = $props();
  const display = useDisplay();
  const notices = useNotices();
  const uid = $props.id();

  const { experiments, answer, spacingMm, publishedMm, tunedMm } = $derived(tuning);
  type Eye = NonNullable<TriedSpacing['eye']>;
  let stretch = $state<Eye['stretch']>('outward');
  let strength = $state(1);
  let versus = $state<NonNullable<Eye['versusLast']> | ''>('');
  const isAsked = $derived(stretch === 'outward' || stretch === 'circling');

  function addEye(event: SubmitEvent) {
    event.preventDefault();
    notices.complain(
      tuning.addEye({
        stretch,
        ...(isAsked ? { strength } : {}),
        ...(versus === '' || experiments.length === 0 ? {} : { versusLast: versus })
      })
    );
    versus = '';
  }
  const isKept = $derived(answer.bestMm !== null && tunedMm !== undefined && Math.abs(answer.bestMm - tunedMm) < 0.05);
  const headline = $derived(
    answer.bestMm === null
      ? 'The best spacing is not known yet'
      : `Best at ${display.length(answer.bestMm, 2)}${
          answer.interval95Mm
            ? ` (${display.number(answer.interval95Mm[0], 2)} to ${display.number(answer.interval95Mm[1], 2)})`
            : ''
        }`
  );
  /** How far the next try is from the train as it stands. */
  const step = $derived(answer.nextMm === null || spacingMm === undefined ? undefined : answer.nextMm - spacingMm);
  const seen = ({ radial, sweep, eye }: TriedSpacing): string => {
    if (radial) {
      const way = radial.value >= 0 ? 'outward' : 'circling';
      return `${Math.abs(radial.value).toFixed(3)} ±${(2 * radial.standard).toFixed(3)} ${way}`;
    }
    if (sweep) return `a sweep: ${sweep.astigmatismUm.toFixed(0)} ±${(2 * sweep.standardUm).toFixed(0)} µm`;
    if (!eye || eye.stretch === 'unknown') return 'by eye: cannot tell';
    return `by eye: ${eye.stretch}${eye.strength ? `, ${['', 'a little', 'clearly', 'strongly'][eye.strength]}` : ''}`;
  };
</script>

<h2 class="text-lg font-semibold" data-tuned={answer.bestMm?.toFixed(2) ?? 'unknown'}>{headline}</h2>
<p class="text-muted text-sm">
  {answer.why}
  {answer.toleranceMm === null ? '' : `This corrector forgives ±${display.length(answer.toleranceMm, 2)}.`}
</p>
{#if experiments.length > 0}
  <div class="h-48 shrink-0">
    <ExperimentChart {experiments} {answer} {publishedMm} {tunedMm} nowMm={spacingMm} />
  </div>
{/if}
{#if answer.nextMm !== null}
  <p class="mt-1" data-next-try>
    Try <strong>{display.length(answer.nextMm, 2)}</strong> next{step === undefined
      ? '.'
      : Math.abs(step) < 0.005
        ? ': the train stands there.'
        : `: ${display.length(Math.abs(step), 2)} ${step > 0 ? 'more' : 'less'} than it has now.`}
  </p>
{/if}
{#if answer.bestMm !== null && !isKept}
  <button class="btn btn-primary btn-sm mt-1 self-start" onclick={() => notices.complain(tuning.accept())}
    ><Check size={15} />Keep {display.length(answer.bestMm, 2)} as the tuned back focus</button
  >
{/if}
<div class="border-line mt-2 border-t pt-2">
  {#if spacingMm === undefined}
    <p class="text-muted text-sm">
      What is seen counts for the spacing the train has. It is not known: close its open places, and give its corrector
      a back focus.
    </p>
  {:else}
    <p class="text-muted text-sm">The train stands at {display.length(spacingMm, 2)} now. What does it show?</p>
    {#if frame?.summary?.field.radial}
      <button
        class="btn btn-outline btn-sm mt-1"
        title="E"
        data-keep-frame
        onclick={() => notices.complain(tuning.addFrame(frame))}><Plus size={15} />Keep what this frame says</button
      >
    {/if}
    <form class="mt-1 flex flex-wrap items-center gap-1" onsubmit={addEye} aria-label="What the eye sees">
      <label class="sr-only" for="{uid}-stretch">By eye</label>
      <select id="{uid}-stretch" class="select select-sm w-28" bind:value={stretch}>
        <option value="outward">outward</option>
        <option value="circling">circling</option>
        <option value="round">round</option>
        <option value="unknown">cannot tell</option>
      </select>
      {#if isAsked}
        <select class="select select-sm w-24" aria-label="How strongly" bind:value={strength}>
          <option value={1}>a little</option>
          <option value={2}>clearly</option>
          <option value={3}>strongly</option>
        </select>
      {/if}
      {#if experiments.length > 0}
        <select class="select select-sm w-24" aria-label="Against the last one" bind:value={versus}>
          <option value="">–</option>
          <option value="better">better</option>
          <option value="worse">worse</option>
          <option value="same">the same</option>
        </select>
      {/if}
      <button class="btn btn-outline btn-sm" data-add-eye>Add</button>
    </form>
  {/if}
</div>
<ul class="mt-2" aria-label="Experiments">
  {#each experiments as experiment, index (index)}
    <li class="border-line flex items-center gap-2 border-t py-1 text-sm">
      <span class="w-16 shrink-0 text-right font-semibold">{display.number(experiment.spacingMm, 2)}</span>
      <span class={['min-w-0 flex-1', answer.outliers.includes(index) && 'text-muted']} title={experiment.note}
        >{seen(experiment)}{answer.outliers.includes(index) ? ', left out' : ''}<span
          class="text-muted block truncate text-xs"
          >{[experiment.on?.slice(0, 10), experiment.frame].filter(Boolean).join(', ')}</span
        ></span
      >
      <button
        class="btn btn-ghost btn-xs btn-square"
        aria-label="Take experiment {index + 1} out"
        onclick={() => notices.complain(tuning.remove(index))}><Trash2 size={13} /></button
      >
    </li>
  {/each}
</ul>
