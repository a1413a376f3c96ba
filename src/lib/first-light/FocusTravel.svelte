<script lang="ts">
  import Fold from '$lib/ui/Fold.svelte';
  import { tubeWays } from '@lodestone/core/focus';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { parseNumber } from '$lib/ui/parse.ts';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import type { FocusSession } from './run.svelte.ts';

  /** Whether the train comes to focus at all, and what helps where it does not. */
  const { session }: { session: FocusSession } = $props();
  const train = useTrain();
  const drawer = useDrawer();
  const display = useDisplay();
  const notices = useNotices();

  const budget = $derived(train.assessment.facts.focus);
  const finding = $derived(train.assessment.findings.find(({ code }) => code.startsWith('focus-')));
  /** Nobody knows what goes into a gap, and so nothing is known of the focus. */
  const isOpen = $derived(
    train.document.elements.some(({ kind }) => kind === 'gap') && train.assessment.facts.filled === undefined
  );
  const headline = $derived.by(() => {
    if (budget === undefined) return 'Focus of this telescope is not stated';
    if (isOpen) return 'Focus not known: a gap is still empty';
    const { verdict } = budget.report;
    if (verdict === 'reaches') return 'It reaches focus';
    return verdict === 'unknown' ? 'Focus not known' : 'It does not reach focus';
  });
  const ways = $derived(
    budget && !isOpen && drawer.isRead && budget.report.verdict !== 'reaches'
      ? tubeWays(train.document, budget, drawer.free(train.id))
          .filter(({ parts }) => parts.length > 0)
          .slice(0, 3)
      : []
  );

  let tubeText = $state('0');
  function tried(tube: 'in' | 'out') {
    const parsed = parseNumber(tubeText, display.unit);
    if (!parsed.ok) return notices.complain(parsed.message);
    notices.complain(session.tried(tube, parsed.parsed ?? 0));
  }
</script>

<h2
  class={[
    'text-xl font-semibold',
    finding?.level === 'warning' ? 'text-warning' : finding?.level === 'passed' ? 'text-success' : ''
  ]}
  data-focus-verdict={budget?.report.verdict ?? 'none'}
>
  {headline}
</h2>
<p class="mt-1" data-focus-says>
  {isOpen
    ? 'Fill the gap under Build first.'
    : (finding?.say(display.unit) ??
      'State its travel and where it focuses, or only its travel, and enter what you see below.')}
</p>
{#if ways.length > 0}
  <ul class="mt-2 grid gap-1.5" aria-label="Extension tubes" data-tubes>
    {#each ways as way, index (index)}
      <li class="flex flex-wrap items-center justify-between gap-2">
        <span class="min-w-0 flex-1 basis-56">{way.say(display.unit)}</span>
        {#if way.verdict !== 'no-inward'}
          <button
            class={['btn btn-sm', way.verdict === 'reaches' ? 'btn-primary' : 'btn-outline']}
            onclick={() => notices.complain(train.dispatch(way.operation, 'Put an extension tube in'))}
            >Put it in</button
          >
        {/if}
      </li>
    {/each}
  </ul>
{/if}
{#if !isOpen}
  <Fold title="No focus?" class="mt-2" titleClass="text-sm" wanted={session.attempts.length > 0}>
    <div class="mt-2 flex flex-wrap items-end gap-2">
      <label class="grid gap-0.5 text-xs"
        >extension tube between, {display.unit}
        <input class="input input-sm w-24" inputmode="decimal" bind:value={tubeText} /></label
      >
      <button class="btn btn-outline btn-sm" onclick={() => tried('out')}>Fully out: not enough</button>
      <button class="btn btn-outline btn-sm" onclick={() => tried('in')}>Fully in: too far already</button>
    </div>
    {#if session.attempts.length > 0}
      <ul class="mt-2 text-sm" aria-label="What was tried">
        {#each session.attempts as { tube, tubeMm, boundMm }, index (index)}
          <li class="border-line flex items-center justify-between gap-2 border-t">
            <span
              >Fully {tube}{tubeMm ? ` with a tube of ${display.length(tubeMm, 0)}` : ''}: focus is {tube === 'out'
                ? 'beyond'
                : 'before'}
              {display.length(boundMm, 1)} behind the racked-in face</span
            >
            <button
              class="btn btn-ghost btn-xs btn-square"
              aria-label="Remove attempt {index + 1}"
              onclick={() => notices.complain(session.forget(index))}><Trash2 size={13} /></button
            >
          </li>
        {/each}
      </ul>
    {/if}
  </Fold>
{/if}
