<script lang="ts">
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import X from '@lucide/svelte/icons/x';
  import type { MadeVariant, Making } from './make.svelte.ts';

  interface Props {
    making: Making;
    variant: MadeVariant;
    /** Its letter on the sheet. */
    letter: string;
    /** There is more than one. */
    several: boolean;
    /** Why a workshop cannot make it; undefined where it can. */
    fault: string | undefined;
    onplace: () => void;
  }
  const { making, variant, letter, several, fault, onplace }: Props = $props();
  const display = useDisplay();

  const { draft, answer } = $derived(variant);

  function toggle(id: string) {
    const without = draft.without.includes(id) ? draft.without.filter((each) => each !== id) : [...draft.without, id];
    making.change(draft.id, { without });
  }
</script>

<li class="border-line grid gap-1.5 border-t py-2" data-variant={letter}>
  {#if several}
    <div class="flex items-center gap-2">
      <span class="font-semibold">{letter}</span>
      <input
        class="input input-sm w-full"
        aria-label="Name of variant {letter}"
        placeholder={variant.name}
        maxlength="100"
        value={draft.name}
        oninput={({ currentTarget: { value } }) => making.change(draft.id, { name: value })}
      />
      <button
        class="btn btn-ghost btn-xs btn-square"
        aria-label="Remove variant {letter}"
        onclick={() => making.remove(draft.id)}><X size={13} /></button
      >
    </div>
    <label class="grid gap-0.5 text-xs"
      ><span class="text-muted">Camera</span>
      <select
        class="select select-sm w-full"
        aria-label="Camera of variant {letter}"
        value={draft.cameraPart ?? ''}
        onchange={({ currentTarget: { value } }) =>
          making.change(draft.id, { cameraPart: value === '' ? undefined : value })}
      >
        <option value="">as in this train</option>
        {#each making.cameras as { partId, camera } (partId)}<option value={partId}>{partId} {camera.name}</option
          >{/each}
      </select></label
    >
    <fieldset class="text-xs">
      <legend class="text-muted">Without</legend>
      <div class="flex flex-wrap gap-x-3">
        {#each making.optional as { id, name } (id)}
          <label class="flex min-h-6 items-center gap-1.5"
            ><input
              type="checkbox"
              class="checkbox checkbox-xs"
              checked={draft.without.includes(id)}
              onchange={() => toggle(id)}
            />{name}</label
          >
        {/each}
      </div>
    </fieldset>
  {/if}
  {#if answer.ok}
    <p data-made={answer.spec.lengthMm}>
      <span class="font-semibold">{display.length(answer.element.lengthMm)} long</span>{answer.element.lengthMm !==
      answer.spec.lengthMm
        ? `, ${display.length(answer.spec.lengthMm)} of it turned`
        : ''}. The train’s error with it: {display.length(answer.residualMm)}.
    </p>
    {#if fault}<p class="text-error">It cannot be made: {fault}.</p>{/if}
    {#each answer.faults as finding (finding)}<p class="text-error">{finding.say(display.unit)}</p>{/each}
    {#if answer.spec.neededMm !== undefined && answer.spec.clearMm < answer.spec.neededMm}
      <p class="text-warning text-xs">
        The corners need {display.length(answer.spec.neededMm, 1)} clear here; this part has {display.length(
          answer.spec.clearMm,
          1
        )}.
      </p>
    {/if}
    <div>
      <button class="btn btn-outline btn-xs" disabled={fault !== undefined} onclick={onplace}
        >{several ? `Put ${letter} into the train` : 'Put it into the train'}</button
      >
    </div>
  {:else}
    <p class="text-warning" role="status">{answer.say(display.unit)}</p>
  {/if}
</li>
