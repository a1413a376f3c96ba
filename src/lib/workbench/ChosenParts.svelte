<script lang="ts">
  import { KINDS, isSolid, lengthOf, type Element } from '@lodestone/core/train';
  import { useTrain } from '$lib/train/context.ts';
  import { useCommands } from '$lib/ui/commands.svelte.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import X from '@lucide/svelte/icons/x';

  /** What several parts that are chosen are together, and what can be done with all of them. */
  const train = useTrain();
  const display = useDisplay();
  const commands = useCommands();

  const parts = $derived(train.document.elements.filter(({ id }) => train.isChosen(id)) as readonly Element[]);
  const solid = $derived(parts.filter(isSolid));
  const togetherMm = $derived(solid.reduce((sum, element) => sum + lengthOf(element), 0));
  const weighed = $derived(parts.flatMap((element) => ('massG' in element && element.massG) || []));
  const massG = $derived(weighed.reduce((sum, each) => sum + each, 0));

  const OFFERED = ['skyward', 'camward', 'copy-part', 'remove'];
  const offered = $derived(OFFERED.flatMap((id) => commands.available.find((each) => each.id === id) ?? []));
</script>

<p class="text-muted text-xs">chosen together</p>
<h2 class="mb-2 text-lg leading-tight font-semibold">{train.chosenInWords}</h2>
<ul class="border-line border-t">
  {#each parts as { id, name, kind } (id)}
    <li class="border-line flex items-center justify-between gap-2 border-b py-1">
      <button class="link-quiet min-h-6 min-w-0 text-left" onclick={() => train.select({ kind: 'element', id })}>
        {name} <span class="text-muted block text-xs">{KINDS[kind].words}</span>
      </button>
      <span class="flex shrink-0 items-center gap-1">
        {#each solid.filter((each) => each.id === id) as each (each.id)}
          <span class="tabular-nums">{display.number(lengthOf(each))}</span>
        {/each}
        <button
          class="btn btn-ghost btn-xs btn-square"
          aria-label="Leave {name} out"
          title="Leave it out (Ctrl click)"
          onclick={() => train.toggle(id)}><X size={13} /></button
        >
      </span>
    </li>
  {/each}
</ul>
<dl class="mt-2 grid grid-cols-[auto_1fr] gap-x-3 gap-y-0.5 text-sm" data-together>
  <dt class="text-muted">Lengths added up</dt>
  <dd class="text-right font-semibold">{display.length(togetherMm)}</dd>
  <dt class="text-muted">Mass</dt>
  <dd class="text-right">
    {#if weighed.length === parts.length}{massG} g
    {:else if weighed.length > 0}{massG} g, {parts.length - weighed.length} not weighed
    {:else}not known{/if}
  </dd>
</dl>
<div class="mt-3 grid gap-1.5">
  {#each offered as { id, title, run } (id)}
    <button class="btn btn-outline btn-sm justify-start text-left" onclick={run}>{title}</button>
  {/each}
</div>
<p class="text-muted mt-3 text-xs max-lg:hidden">
  Ctrl click chooses one more, Shift click all up to it; Shift with ← and → does so by keys.
</p>
