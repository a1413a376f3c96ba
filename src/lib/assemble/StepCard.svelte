<script lang="ts">
  import { findElement, nameOf } from '@lodestone/core';
  import type { AssemblyStep, DoubtedReading } from '@lodestone/core/assembly';
  import PartIcon from '$lib/rail/PartIcon.svelte';
  import { isSolid } from '@lodestone/core';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { numberText, parseNumber } from '$lib/ui/parse.ts';
  import { Check, ChevronLeft, ChevronRight, TriangleAlert, Undo2, Wrench } from '@lucide/svelte';
  import type { Bench } from './bench.svelte.ts';

  interface Props {
    bench: Bench;
    step: AssemblyStep;
  }
  const { bench, step }: Props = $props();
  const train = useTrain();
  const display = useDisplay();
  const notices = useNotices();
  const uid = $props.id();

  const done = $derived(bench.isDone(step));
  const { measure } = $derived(step);
  const kept = $derived(measure ? bench.readAt(measure) : undefined);
  let text = $derived(numberText(kept, display.unit));
  const parsed = $derived(parseNumber(text, display.unit));
  let doubted = $state.raw<DoubtedReading>();

  const parts = $derived(
    step.parts.flatMap((id) => {
      const element = findElement(train.document, id);
      return element && isSolid(element) ? [element] : [];
    })
  );

  function read(sure = false) {
    if (!measure || !parsed.ok || parsed.parsed === undefined || parsed.parsed === kept) return;
    const found = sure ? undefined : bench.doubt(parsed.parsed, measure);
    doubted = found;
    if (!found) notices.complain(bench.read(measure, parsed.parsed));
  }
  function meant(mm: number) {
    doubted = undefined;
    if (measure) notices.complain(bench.read(measure, mm));
  }
</script>

<div class="flex items-baseline justify-between gap-3">
  <h2 class="text-muted text-sm">Step {step.n} of {bench.steps.length}</h2>
  {#if done}<span class="text-success flex items-center gap-1 text-sm font-semibold"><Check size={15} />done</span>{/if}
</div>
<p class="mt-1 text-xl leading-snug font-semibold" data-step>{step.do}</p>
{#if parts.length > 0}
  <ul class="mt-2 flex flex-wrap gap-x-4 gap-y-1" aria-label="In hand">
    {#each parts as element (element.id)}
      <li class="flex items-center gap-2">
        {#if element.kind !== 'camera'}<PartIcon {element} widthPx={52} heightPx={36} pxPerMm={1.6} />{/if}
        <span>{element.name}</span>
      </li>
    {/each}
  </ul>
{/if}
{#if step.cautions.length > 0}
  <ul class="mt-2 grid gap-1" aria-label="Cautions">
    {#each step.cautions as caution (caution)}
      <li class="text-warning flex gap-2"><TriangleAlert size={16} class="mt-0.5 shrink-0" />{caution}</li>
    {/each}
  </ul>
{/if}
{#if step.tools.length > 0}
  <p class="text-muted mt-2 flex items-center gap-2 text-sm"><Wrench size={14} />{step.tools.join(', ')}</p>
{/if}
{#if measure}
  <div class="mt-3" data-measure>
    <label class="text-sm" for="{uid}-read">
      {measure.from === measure.to
        ? nameOf(train.document, measure.from)
        : `From the sky shoulder of ${nameOf(train.document, measure.from)} to the camera shoulder of ${nameOf(train.document, measure.to)}`}
      {#if kept === undefined}should measure
        <span class="font-semibold">{display.length(measure.expectedMm)}</span> ±{display.length(
          measure.uncertaintyMm
        )}{:else}was read as <span class="font-semibold">{display.length(kept)}</span>{/if}
    </label>
    <div class="mt-1 flex flex-wrap gap-2">
      <span class="input input-lg w-48"
        ><input
          id="{uid}-read"
          class="min-w-0 text-right text-lg"
          inputmode="decimal"
          autocomplete="off"
          bind:value={text}
          placeholder={numberText(Number(measure.expectedMm.toFixed(2)), display.unit)}
          oninput={() => (doubted = undefined)}
          onkeydown={(event) => {
            if (event.key !== 'Enter') return;
            event.preventDefault();
            read();
          }}
          onblur={() => read()}
        />
        <span class="text-muted">{display.unit}</span></span
      >
      <button class="btn btn-outline btn-lg" onclick={() => read()}>Keep the reading</button>
    </div>
    {#if !parsed.ok}<p class="text-error mt-1" role="alert">{parsed.message}</p>{/if}
    {#if doubted}
      <div class="mt-2" role="alert" data-doubted>
        <p class="text-warning">
          That is {display.length(Math.abs(doubted.offMm))}
          {doubted.offMm < 0 ? 'less' : 'more'} than expected. It does not count yet.
        </p>
        <div class="mt-1 flex flex-wrap gap-2">
          {#if doubted.meantMm !== undefined}
            {@const mm = doubted.meantMm}
            <button class="btn btn-primary" onclick={() => meant(mm)}>{display.length(mm)} was meant</button>
          {/if}
          <button class="btn btn-outline" onclick={() => read(true)}>It is right as it is</button>
        </div>
      </div>
    {/if}
  </div>
{/if}
<!-- What comes next stays at hand, however much there is to say. -->
<div class="bg-base-200 sticky -bottom-4 -mx-4 mt-3 -mb-4 flex flex-wrap gap-2 px-4 py-3">
  <button class="btn btn-lg btn-square btn-ghost" aria-label="Step before" onclick={() => bench.walk(-1)}
    ><ChevronLeft size={22} /></button
  >
  <button
    class={['btn btn-lg flex-1', done ? 'btn-outline' : 'btn-primary']}
    data-done
    onclick={() => notices.complain(bench.toggle(step))}
  >
    {#if done}<Undo2 size={18} />Not done after all{:else}<Check size={18} />Done{/if}
  </button>
  <button class="btn btn-lg btn-square btn-ghost" aria-label="Step after" onclick={() => bench.walk(1)}
    ><ChevronRight size={22} /></button
  >
</div>
