<script lang="ts">
  import { ASSUMPTION_CODES, HOST, nameOf, nextStep, verdictInWords } from '@lodestone/core';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { useWhy } from '$lib/ui/why.svelte.ts';
  import type { Finder } from './finder.svelte.ts';
  import { Suggesting } from './suggestion.svelte.ts';
  import { CircleCheck, CircleX, Search, TriangleAlert } from '@lucide/svelte';

  const { finder }: { finder: Finder } = $props();
  const train = useTrain();
  const display = useDisplay();
  const notices = useNotices();
  const why = useWhy();

  const drawer = useDrawer();
  const suggesting = new Suggesting();

  const report = $derived(train.assessment.report);
  const { required, residualMm, verdict, dial } = $derived(report);
  const step = $derived.by(() => {
    const known = nextStep(train.shown, train.assessment, display.unit);
    return known.operation ? known : { ...known, ...suggesting.found };
  });
  const datumName = $derived(nameOf(train.shown, train.assessment.ledger.datum.id));
  const from = $derived(train.assessment.ledger.datum.id === HOST ? 'the host’s face' : 'the shoulder');

  const errors = $derived(report.problems.filter(({ severity }) => severity === 'error'));
  const warnings = $derived(
    report.problems.filter(({ severity, code }) => severity === 'warning' && !ASSUMPTION_CODES.has(code))
  );
  const assumed = $derived(report.problems.filter(({ code }) => ASSUMPTION_CODES.has(code)));
  const tone = $derived(
    verdict === 'on-spec' && errors.length === 0
      ? 'text-success'
      : verdict === 'free' && errors.length === 0
        ? ''
        : 'text-error'
  );
  /** Slots whose glass wants another spacing than the design slot's. */
  const oddSlots = $derived(
    report.slots.filter(
      ({ requiredMm }) => requiredMm !== null && Math.abs(requiredMm - (required.totalMm ?? 0)) > 0.0005
    )
  );

  /** Handing more parts than this to a worker would hold the page up: then it is done when asked for. */
  const MOST_PARTS_UNASKED = 2000;

  /** Off spec, and nothing at hand in the train itself: the drawer may have what it takes. */
  const wantsParts = $derived(
    drawer.parts.length <= MOST_PARTS_UNASKED &&
      (verdict === 'short' || verdict === 'long') &&
      !train.preview &&
      !finder.open &&
      drawer.everRead &&
      nextStep(train.document, train.assessment).operation === undefined
  );
  $effect(() => (wantsParts ? suggesting.soon(finder.task(train.document), display.unit) : undefined));

  let listOpen = $state(false);

  function doIt() {
    if (!step.operation) return;
    const refusal = train.dispatch(step.operation, step.action ?? 'Do what was proposed');
    if (refusal) notices.complain(refusal);
  }

  function show(at: string) {
    listOpen = false;
    train.select(at === HOST ? { kind: 'host' } : { kind: 'element', id: at });
  }
</script>

<section class="flex flex-wrap items-center gap-x-6 gap-y-2 px-4 py-2.5" aria-label="Verdict">
  <p
    class={['flex items-center gap-2 text-[1.7rem] leading-none font-semibold whitespace-nowrap', tone]}
    aria-live="polite"
    data-verdict={verdict}
  >
    {#if verdict === 'on-spec'}
      {#if errors.length > 0}<CircleX size={24} />{:else}<CircleCheck size={24} />{/if}
    {/if}
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <span
      {@attach residualMm === null ? undefined : why.asks({ of: 'residual' })}
      class={[residualMm !== null && 'asks-why']}
      tabindex={residualMm === null ? undefined : 0}>{verdictInWords(verdict, residualMm, display.unit)}</span
    >
  </p>
  <div class="min-w-64 flex-1 basis-96">
    <p>
      The sensor stands
      <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
      <span {@attach why.asks({ of: 'actual' })} class="asks-why font-semibold" tabindex="0"
        >{display.length(report.actual.totalMm)}</span
      >
      behind {from}{#if required.totalMm !== null && required.toleranceMm !== null}; {datumName} asks for
        <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
        <span {@attach why.asks({ of: 'required' })} class="asks-why font-semibold" tabindex="0"
          >{display.number(required.totalMm)}</span
        >
        ±<!-- svelte-ignore a11y_no_noninteractive_tabindex --><span
          {@attach why.asks({ of: 'tolerance' })}
          class="asks-why font-semibold"
          tabindex="0">{display.length(required.toleranceMm)}</span
        >{#if (required.glassMm ?? 0) > 0}, <!-- svelte-ignore a11y_no_noninteractive_tabindex --><span
            {@attach why.asks({ of: 'glass' })}
            class="asks-why"
            tabindex="0">{display.length(required.glassMm ?? 0)}</span
          > of it for glass{/if}{/if}.
    </p>
    <p class={[!step.action && 'text-muted']} data-next-step>
      {#if step.at && dial?.id === step.at && step.operation}
        <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
        <span {@attach why.asks({ of: 'dial' })} class="asks-why" tabindex="0">{step.sentence}</span>
      {:else}
        {step.sentence}
      {/if}
      {#if oddSlots.length > 0}
        Slot {#each oddSlots as { slot, requiredMm }, index (slot)}{index > 0 ? ', ' : ''}{slot} asks for
          <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
          <span {@attach why.asks({ of: 'slot', slot })} class="asks-why" tabindex="0"
            >{display.number(requiredMm ?? 0)}</span
          >{/each}.
      {/if}
    </p>
  </div>
  {#if train.preview}
    <span class="text-primary text-xs font-semibold whitespace-nowrap" data-previewing>only looked at</span>
  {:else if step.operation && step.action}
    <button class="btn btn-primary" onclick={doIt}>{step.action}</button>
  {/if}
  {#if !train.preview && (verdict === 'short' || verdict === 'long' || train.document.elements.some(({ kind }) => kind === 'gap'))}
    <button
      class={['btn', step.operation && step.action ? 'btn-outline' : 'btn-primary']}
      onclick={() => finder.show()}
    >
      <Search size={15} />Find the stack<kbd class="kbd kbd-xs">F</kbd>
    </button>
  {/if}
  {#if report.problems.length > 0}
    <div class="relative">
      <button
        class={['btn btn-sm font-normal', errors.length > 0 ? 'btn-error btn-outline' : 'btn-ghost']}
        aria-expanded={listOpen}
        aria-controls="problems"
        onclick={() => (listOpen = !listOpen)}
      >
        <TriangleAlert size={15} />
        {#if errors.length > 0}{errors.length} to mend{:else if warnings.length > 0}{warnings.length} to know{:else}{assumed.length}
          assumed{/if}
      </button>
      {#if listOpen}
        <!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
        <ul
          id="problems"
          class="panel absolute right-0 z-30 mt-1 max-h-96 w-[min(26rem,90vw)] overflow-y-auto p-1.5 shadow-xl"
          onkeydown={(event) => event.key === 'Escape' && (listOpen = false)}
        >
          {#each [...errors, ...warnings, ...assumed] as problem, index (index)}
            <li>
              <button
                class="hover:bg-neutral flex w-full gap-2 rounded px-2 py-1.5 text-left"
                onclick={() => show(problem.at)}
              >
                <span
                  class={['shrink-0 text-xs font-semibold', problem.severity === 'error' ? 'text-error' : 'text-muted']}
                >
                  {problem.severity === 'error' ? 'mend' : ASSUMPTION_CODES.has(problem.code) ? 'assumed' : 'know'}
                </span>
                <span>{problem.message}</span>
              </button>
            </li>
          {/each}
        </ul>
      {/if}
    </div>
  {/if}
</section>
