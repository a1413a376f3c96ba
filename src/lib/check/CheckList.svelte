<script lang="ts">
  import Fold from '$lib/ui/Fold.svelte';
  import { quantityInWords } from '@lodestone/core/why';
  import type { CheckLine, Finding } from '@lodestone/core/check';
  import Remedies from '$lib/workbench/Remedies.svelte';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import Why from '$lib/ui/Why.svelte';
  import Check from '@lucide/svelte/icons/check';
  import CircleHelp from '@lucide/svelte/icons/circle-help';
  import CircleX from '@lucide/svelte/icons/circle-x';
  import Info from '@lucide/svelte/icons/info';
  import TriangleAlert from '@lucide/svelte/icons/triangle-alert';

  interface Props {
    /** Every check, worst first. */
    lines: readonly CheckLine[];
    /** Its place is to be looked at. */
    onshow: (finding: Finding) => void;
    /** A field of it is to be filled. */
    onfill: (finding: Finding) => void;
  }
  const { lines, onshow, onfill }: Props = $props();
  const train = useTrain();
  const display = useDisplay();

  const open = $derived(lines.filter(({ finding }) => finding.level !== 'passed'));
  const passed = $derived(lines.filter(({ finding }) => finding.level === 'passed'));
  const WORDS: Readonly<Record<Finding['level'], string>> = {
    error: 'to mend',
    warning: 'to look at',
    'not-known': 'not known',
    assumed: 'assumed',
    passed: 'passed'
  };
  /** What the finder of Build is for. */
  const BUILDS: ReadonlySet<string> = new Set(['length', 'open']);
  const isHere = ({ place }: Finding) => {
    const { selection } = train;
    if (place.kind === 'host') return selection.kind === 'host';
    return 'id' in selection && selection.id === place.id && (selection.kind === 'joint') === (place.kind === 'joint');
  };

  /** How a limit is to be read: a corner at least, a length either way. */
  function limitWords({ code, limit }: Finding): string {
    if (!limit) return '';
    const words = quantityInWords(limit, display.unit, limit.unit === '%' ? 0 : undefined);
    if (code === 'corner-light') return `at least ${words}`;
    return code === 'length' ? `±${words}` : `limit ${words}`;
  }
</script>

{#snippet line({ title, finding }: CheckLine)}
  {@const { level, figure, why } = finding}
  <li class={['line', level, isHere(finding) && 'here']} data-check={finding.code} data-level={level}>
    <span class="mark" title={WORDS[level]}>
      {#if level === 'error'}<CircleX size={16} />{:else if level === 'warning'}<TriangleAlert
          size={16}
        />{:else if level === 'not-known'}<CircleHelp size={16} />{:else if level === 'assumed'}<Info
          size={16}
        />{:else}<Check size={16} />{/if}
      <span class="sr-only">{WORDS[level]}</span>
    </span>
    <div class="min-w-0">
      <p class="flex flex-wrap items-baseline gap-x-3">
        <button class="link-quiet min-h-6 text-left font-semibold" onclick={() => onshow(finding)}>{title}</button>
        {#if figure}
          {@const words = quantityInWords(figure, display.unit, figure.unit === '%' ? 0 : undefined)}
          <span class="figure font-semibold"
            >{#if why}<Why subject={why}>{words}</Why>{:else}{words}{/if}</span
          >
          <span class="text-muted text-xs">{limitWords(finding)}</span>
        {/if}
      </p>
      <p class="text-muted text-[0.8rem] leading-snug">{finding.say(display.unit)}</p>
      {#if finding.fill}
        <button class="btn btn-outline btn-xs mt-1" onclick={() => onfill(finding)}>Open the field</button>
      {/if}
      {#if level !== 'passed' && BUILDS.has(finding.code)}
        <a class="btn btn-outline btn-xs mt-1" href="/trains/{train.id}/build">Find the stack in Build</a>
      {/if}
      {#if level !== 'passed'}<div class="remedies"><Remedies {finding} /></div>{/if}
    </div>
  </li>
{/snippet}

<div class="flex items-baseline justify-between gap-3 px-4 pt-3">
  <h2 class="text-base font-semibold">Checks</h2>
  <span class="text-muted text-xs">worst first</span>
</div>
{#if open.length > 0}
  <ul class="px-3 pb-1" aria-label="To look at">
    {#each open as each (`${each.finding.code} ${JSON.stringify(each.finding.place)} ${each.title}`)}{@render line(
        each
      )}{/each}
  </ul>
{:else}
  <p class="text-muted px-4 py-2">Nothing is wrong, doubtful or missing.</p>
{/if}
{#if passed.length > 0}
  <Fold
    title="{passed.length} passed"
    class="px-3 pb-3"
    titleClass="text-muted px-1"
    wanted={open.length === 0}
    data-passed
  >
    <ul aria-label="Passed">
      {#each passed as each (`${each.finding.code} ${JSON.stringify(each.finding.place)} ${each.title}`)}{@render line(
          each
        )}{/each}
    </ul>
  </Fold>
{/if}

<style>
  .line {
    display: grid;
    grid-template-columns: 1.4rem minmax(0, 1fr);
    gap: 0.35rem;
    padding: 0.35rem 0.3rem;
    border-left: 3px solid var(--color-base-300);
    margin-bottom: 0.25rem;
    padding-left: 0.5rem;
  }
  .mark {
    padding-top: 0.25rem;
    color: var(--ink-muted);
  }
  .line.error {
    border-left-color: var(--color-error);
  }
  .line.warning {
    border-left-color: var(--color-warning);
  }
  .line.passed {
    border-left-color: var(--color-success);
  }
  .line.error :is(.mark, .figure) {
    color: var(--color-error);
  }
  .line.warning :is(.mark, .figure) {
    color: var(--color-warning);
  }
  .line.passed :is(.mark, .figure) {
    color: var(--color-success);
  }
  .line.here {
    background: color-mix(in srgb, var(--color-neutral) 40%, transparent);
  }
  .remedies :global(p) {
    padding-left: 0;
  }
</style>
