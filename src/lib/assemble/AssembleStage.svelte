<script lang="ts">
  import { askFile } from '$lib/api/ask.ts';
  import { Instrument } from '$lib/calipers/instrument.svelte.ts';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { useCommands } from '$lib/ui/commands.svelte.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { saveFile } from '$lib/ui/saveFile.ts';
  import { Frame } from '$lib/workbench/frame.svelte.ts';
  import StageFrame from '$lib/workbench/StageFrame.svelte';
  import Check from '@lucide/svelte/icons/check';
  import Printer from '@lucide/svelte/icons/printer';
  import RotateCcw from '@lucide/svelte/icons/rotate-ccw';
  import { onMount } from 'svelte';
  import { Bench } from './bench.svelte.ts';
  import FinishCard from './FinishCard.svelte';
  import StepCard from './StepCard.svelte';

  const train = useTrain();
  const frame = new Frame();
  const { tell } = frame;
  const drawer = useDrawer();
  const notices = useNotices();
  const display = useDisplay();
  const instrument = new Instrument();
  const bench = new Bench(
    train,
    instrument,
    () => (drawer.isRead ? drawer.free(train.id) : []),
    () => display.unit
  );

  const printSheet = () =>
    notices.attempt(async () =>
      saveFile(
        await askFile('/api/sheet', { document: train.document, order: bench.order }),
        `${train.document.name} assembly.pdf`
      )
    );

  const { current } = $derived(bench);
  let card: HTMLElement;
  let shown: string | undefined;
  // On a phone a step is longer than the screen: the next one is read from its beginning.
  $effect(() => {
    const key = current?.key;
    const isNext = shown !== undefined && shown !== key;
    shown = key;
    if (!isNext) return undefined;
    // After it is painted: where things are is not known before without a second reckoning of the whole page.
    const later = setTimeout(() => {
      card.scrollTop = 0;
      if (card.getBoundingClientRect().top < 0) card.scrollIntoView();
    });
    return () => clearTimeout(later);
  });
  const ORDERS = [
    ['camera', 'from the camera'],
    ['telescope', 'from the telescope'],
    ['parts', 'sub-assemblies first']
  ] as const;

  /** Hands are full: the screen stays on while this is looked at, where the browser lets it. */
  onMount(() => {
    instrument.recall();
    bench.begin();
    let lock: WakeLockSentinel | undefined;
    const hold = () => {
      if (document.visibilityState !== 'visible' || !('wakeLock' in navigator)) return;
      navigator.wakeLock.request('screen').then(
        (held) => (lock = held),
        // A battery that is low, or a browser that says no: the screen goes dark as ever.
        () => undefined
      );
    };
    hold();
    document.addEventListener('visibilitychange', hold);
    return () => {
      document.removeEventListener('visibilitychange', hold);
      void lock?.release();
    };
  });

  useCommands().register([
    {
      id: 'step-done',
      group: 'Assemble',
      title: 'This step is done',
      key: 'X',
      enabled: () => bench.current !== undefined,
      run: () => bench.current && tell(bench.toggle(bench.current))
    },
    { id: 'step-after', group: 'Assemble', title: 'Next step', key: 'J', run: () => bench.walk(1) },
    { id: 'step-before', group: 'Assemble', title: 'Previous step', key: 'Q', run: () => bench.walk(-1) }
  ]);
</script>

<StageFrame {frame} layout="assemble" brief>
  {#snippet children(rail)}
    <section class="panel area-step p-4" aria-label="Step in hand" bind:this={card}>
      {#if current}
        <StepCard {bench} {instrument} step={current} />
      {:else if bench.steps.length > 0}
        <FinishCard {bench} />
      {/if}
    </section>
    {@render rail()}
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <section class="panel area-steps" aria-label="Steps" tabindex="0">
      <div class="flex flex-wrap items-baseline justify-between gap-2 px-4 pt-3">
        <h2 class="text-base font-semibold">{bench.doneCount} of {bench.steps.length} done</h2>
        <div class="flex gap-x-0.5" role="group" aria-label="Which end it begins at">
          {#each ORDERS as [order, words] (order)}
            <button
              class={['btn btn-xs font-normal', bench.order === order ? 'btn-neutral' : 'btn-ghost']}
              aria-pressed={bench.order === order}
              onclick={() => tell(bench.choose(order))}>{words}</button
            >
          {/each}
          <button
            class="btn btn-ghost btn-xs btn-square"
            title="The whole sheet as a PDF"
            aria-label="Print the sheet"
            onclick={() => void printSheet()}><Printer size={13} /></button
          >
        </div>
      </div>
      <ol class="p-2" data-steps>
        {#each bench.steps as step (step.key)}
          {@const stands = bench.stateOf(step)}
          {@const done = stands === 'done'}
          <li>
            <button
              class={['step', step === current && 'current']}
              aria-current={step === current ? 'step' : undefined}
              onclick={() => bench.look(step)}
            >
              <span class={['mark', done && 'done', stands === 'changed' && 'changed']}
                >{#if done}<Check size={13} /><span class="sr-only"
                    >done:
                  </span>{:else if stands === 'changed'}<RotateCcw size={13} /><span class="sr-only"
                    >changed since:
                  </span>{:else}{step.n}{/if}</span
              >
              <span class={[done && 'text-muted']}>{step.do}</span>
            </button>
          </li>
        {/each}
      </ol>
    </section>
  {/snippet}
</StageFrame>

<style>
  :global(.stage.assemble) {
    grid-template-areas: 'verdict' 'step' 'rail' 'steps';
  }
  .area-step {
    grid-area: step;
    overflow-y: auto;
  }
  :global(.stage.assemble > .area-rail) {
    height: 260px;
  }
  .area-steps {
    grid-area: steps;
    overflow-y: auto;
  }
  @media (min-width: 64rem) {
    :global(.stage.assemble) {
      height: calc(100dvh - 2.75rem);
      grid-template-columns: minmax(0, 1fr) minmax(22rem, 32%);
      grid-template-rows: auto minmax(11.5rem, 5fr) minmax(0, 9fr);
      grid-template-areas: 'verdict verdict' 'rail steps' 'step steps';
    }
    :global(.stage.assemble > .area-rail) {
      height: auto;
      min-height: 0;
    }
  }
  .step {
    display: grid;
    grid-template-columns: 1.75rem minmax(0, 1fr);
    gap: 0.5rem;
    width: 100%;
    padding: 0.45rem 0.5rem;
    text-align: left;
    border-radius: var(--radius-field);
    border-left: 2px solid transparent;
  }
  .step:hover {
    background: color-mix(in srgb, var(--color-neutral) 35%, transparent);
  }
  .step.current {
    border-left-color: var(--color-primary);
    background: color-mix(in srgb, var(--color-neutral) 40%, transparent);
  }
  .mark {
    display: grid;
    place-items: center;
    height: 1.5rem;
    width: 1.5rem;
    border: 1px solid var(--metal-edge);
    border-radius: 999px;
    font-size: 0.75rem;
  }
  .mark.changed {
    border-color: var(--color-warning);
    color: var(--color-warning);
  }
  .mark.done {
    border-color: var(--color-success);
    color: var(--color-success);
  }
</style>
