<script lang="ts">
  import { HOST, nameOf } from '@lodestone/core/train';
  import { nextStep, type Finding, type NextStep } from '@lodestone/core/check';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { counted } from '$lib/ui/size.ts';
  import Why from '$lib/ui/Why.svelte';
  import Remedies from './Remedies.svelte';
  import CircleCheck from '@lucide/svelte/icons/circle-check';
  import CircleX from '@lucide/svelte/icons/circle-x';
  import TriangleAlert from '@lucide/svelte/icons/triangle-alert';
  import type { Snippet } from 'svelte';

  interface Props {
    /** A next step that a stage knows better, where the train itself offers none. */
    suggested?: NextStep | undefined;
    /** Further findings, of things that the train alone does not know. */
    further?: readonly Finding[];
    /** Buttons of the stage; told whether the next step has one. */
    actions?: Snippet<[boolean]>;
    /** Something else is the main thing of the stage: it takes less room. */
    brief?: boolean;
  }
  const { suggested, further = [], actions, brief = false }: Props = $props();
  const train = useTrain();
  const display = useDisplay();
  const notices = useNotices();

  const { assessment } = $derived(train);
  const { ledger, verdict, errors } = $derived(assessment);
  const { required, residualMm } = $derived(ledger);
  const step = $derived.by(() => {
    const known = nextStep(assessment, display.unit);
    if (known.operation || !suggested) return known;
    return known.cause ? { ...suggested, sentence: `${known.sentence} Or: ${suggested.sentence}` } : suggested;
  });
  const datumName = $derived(nameOf(train.shown, ledger.datum.id));
  const from = $derived(ledger.datum.id === HOST ? 'the host’s face' : 'the shoulder');

  const told = $derived(
    [...assessment.findings, ...further].filter(({ level, code }) => level !== 'passed' && code !== 'length')
  );
  const toKnow = $derived(told.filter(({ level }) => level === 'warning' || level === 'not-known').length);
  const tone = $derived(
    errors.length > 0 || verdict === 'short' || verdict === 'long'
      ? 'text-error'
      : verdict === 'on-spec'
        ? 'text-success'
        : ''
  );
  const LEVEL_WORDS: Readonly<Record<Finding['level'], string>> = {
    error: 'problem',
    warning: 'note',
    'not-known': 'not known',
    assumed: 'assumed',
    passed: ''
  };
  /** Slots whose glass wants another spacing than the design slot's. */
  const oddSlots = $derived(
    ledger.slots.filter(
      ({ requiredMm }) => requiredMm !== null && Math.abs(requiredMm - (required.totalMm ?? 0)) > 0.0005
    )
  );
  const holders = $derived(new Set(ledger.slots.map(({ id }) => id)).size);

  let listOpen = $state(false);

  function doIt() {
    if (!step.operation) return;
    notices.complain(train.dispatch(step.operation, step.action ?? 'Do what was proposed'));
  }

  function show({ place }: Finding) {
    listOpen = false;
    train.select(place.kind === 'plate' ? { kind: 'element', id: place.id } : place);
  }
</script>

<section
  class={['flex flex-wrap items-center gap-y-2 px-4', brief ? 'gap-x-5 py-1.5' : 'gap-x-6 py-2.5']}
  aria-label="Verdict"
>
  <p
    class={[
      'flex items-center gap-2 leading-none font-semibold max-sm:leading-tight sm:whitespace-nowrap',
      brief ? 'text-xl' : 'text-[1.7rem] max-sm:text-2xl',
      tone
    ]}
    aria-live="polite"
    data-verdict={verdict}
  >
    {#if verdict === 'on-spec'}
      {#if errors.length > 0}<CircleX size={brief ? 20 : 24} />{:else}<CircleCheck size={brief ? 20 : 24} />{/if}
    {/if}
    {#if residualMm === null}
      <span>{assessment.verdictInWords(display.unit)}</span>
    {:else}
      <Why subject="length.residual">{assessment.verdictInWords(display.unit)}</Why>
    {/if}
  </p>
  <div class={['min-w-64 flex-1 basis-96', brief && 'text-sm']}>
    {#if !brief}
      <p>
        Sensor
        <Why subject="length.actual" strong>{display.length(ledger.actualMm)}</Why>
        from {from}{#if required.totalMm !== null && required.toleranceMm !== null}; {datumName} requires
          <Why subject="length.required" strong>{display.number(required.totalMm)}</Why>
          <Why subject="length.tolerance" strong>±{display.tolerance(required.toleranceMm)}</Why
          >{#if ledger.toleranceSource === 'rule'}
            (assumed){/if}{#if (required.glassMm ?? 0) > 0}, <Why subject="length.glass"
              >{display.length(required.glassMm ?? 0)}</Why
            > of it for glass{/if}{/if}.
      </p>
    {/if}
    <p class={[!step.action && 'text-muted']} data-next-step>
      {step.sentence}
      {#if oddSlots.length > 0}
        Slot {#each oddSlots as { slot, id, name, requiredMm }, index (`${id} ${slot}`)}{index > 0
            ? ', '
            : ''}{holders > 1 ? name : slot} requires
          <Why subject="length.slot.{slot}@{id}">{display.number(requiredMm ?? 0)}</Why>{/each}.
      {/if}
    </p>
  </div>
  {#if train.preview}
    <span class="text-primary text-xs font-semibold whitespace-nowrap" data-previewing>preview</span>
  {:else if step.operation && step.action}
    <button class="btn btn-primary" onclick={doIt}>{step.action}</button>
  {/if}
  {@render actions?.(step.operation !== undefined && step.action !== undefined)}
  {#if told.length > 0}
    <div class="relative">
      <button
        class={['btn btn-sm font-normal', errors.length > 0 ? 'btn-error btn-outline' : 'btn-ghost']}
        aria-expanded={listOpen}
        aria-controls="problems"
        onclick={() => (listOpen = !listOpen)}
      >
        <TriangleAlert size={15} />
        {#if errors.length > 0}{counted(errors.length, 'problem')}{:else if toKnow > 0}{counted(
            toKnow,
            'note'
          )}{:else}{told.length} assumed{/if}
      </button>
      {#if listOpen}
        <!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
        <ul
          id="problems"
          class="panel absolute right-0 z-30 mt-1 max-h-96 w-[min(26rem,90vw)] overflow-y-auto p-1.5 shadow-xl"
          onkeydown={(event) => event.key === 'Escape' && (listOpen = false)}
        >
          {#each told as finding, index (index)}
            <li class="pb-1">
              <button
                class="hover:bg-neutral flex w-full gap-2 rounded px-2 py-1.5 text-left"
                onclick={() => show(finding)}
              >
                <span
                  class={[
                    'w-16 shrink-0 text-xs font-semibold',
                    finding.level === 'error' ? 'text-error' : 'text-muted'
                  ]}
                >
                  {LEVEL_WORDS[finding.level]}
                </span>
                <span>{finding.say(display.unit)}</span>
              </button>
              <div class="pl-14"><Remedies {finding} /></div>
            </li>
          {/each}
        </ul>
      {/if}
    </div>
  {/if}
</section>
