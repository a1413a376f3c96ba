<script lang="ts" module>
  /** One thing that is shown. */
  export interface TourStep {
    /** What is pointed at. */
    at: string;
    title: string;
    words: string;
  }
</script>

<script lang="ts">
  import { anchored } from './anchored.ts';

  interface Props {
    steps: readonly TourStep[];
    onend: () => void;
  }
  const { steps, onend }: Props = $props();

  let number = $state(0);
  const step = $derived(steps[number]);
  const target = $derived(step ? document.querySelector<HTMLElement>(step.at) : null);

  $effect(() => {
    if (!target) return;
    target.dataset.toured = '';
    target.scrollIntoView({ block: 'nearest' });
    return () => void delete target.dataset.toured;
  });

  function go(by: 1 | -1) {
    const next = number + by;
    if (next >= steps.length) onend();
    else number = Math.max(0, next);
  }

  function onkeydown(event: KeyboardEvent) {
    const by: Record<string, 1 | -1> = { ArrowRight: 1, ArrowLeft: -1 };
    event.stopPropagation();
    if (event.key === 'Escape') onend();
    else if (by[event.key]) go(by[event.key]!);
    else return;
    event.preventDefault();
  }

  const focused = (element: HTMLElement) => element.focus();
</script>

{#if target && step}
  {#key number}
    {@const place = anchored(target, { placement: 'bottom', apartPx: 10 })}
    <div
      {@attach place}
      {@attach focused}
      popover="manual"
      role="dialog"
      aria-label="Tour, {number + 1} of {steps.length}: {step.title}"
      tabindex="-1"
      class="panel popup border-primary w-[min(23rem,calc(100vw-1rem))] p-4 shadow-xl"
      data-tour={number + 1}
      {onkeydown}
    >
      <p class="text-muted text-xs">{number + 1} of {steps.length}</p>
      <h2 class="font-semibold">{step.title}</h2>
      <p class="mt-1">{step.words}</p>
      <div class="mt-3 flex items-center gap-2">
        <button class="btn btn-primary btn-sm" onclick={() => go(1)}
          >{number + 1 < steps.length ? 'Next' : 'Done'}</button
        >
        {#if number > 0}<button class="btn btn-ghost btn-sm" onclick={() => go(-1)}>Back</button>{/if}
        <button class="btn btn-ghost btn-sm ml-auto" onclick={onend}>End the tour</button>
      </div>
    </div>
  {/key}
{/if}
