<script lang="ts" generics="Change">
  import Modal from '$lib/ui/Modal.svelte';
  import { saveFile } from '$lib/ui/saveFile.ts';
  import TriangleAlert from '@lucide/svelte/icons/triangle-alert';
  import type { Snippet } from 'svelte';
  import type { Aside } from './rules.ts';

  interface Props {
    aside: readonly Aside<Change>[];
    /** Makes the change all the same. @returns why that cannot be */
    oninsist: (entry: string) => string | undefined;
    onletgo: (entry: string) => void;
    /** What making it all the same is called, where it is not the usual. */
    insistWords?: (entry: string) => string | undefined;
    /** Shows changes that met others’ changes of the same together, in place of one by one. */
    clashes?: Snippet | undefined;
    /** Further ways out, below the list. */
    further?: Snippet;
  }
  const { aside, oninsist, onletgo, insistWords, clashes, further }: Props = $props();

  let dismissed = $state(0);
  let refusals = $state.raw<Readonly<Record<string, string>>>({});
  const open = $derived(aside.length > dismissed);
  $effect(() => {
    if (aside.length === 0) dismissed = 0;
  });
  const singly = $derived(clashes ? aside.filter(({ why }) => why !== 'clash') : aside);
  const changes = $derived(aside.length === 1 ? 'One change of yours is' : `${aside.length} changes of yours are`);

  function insist(entry: string) {
    const refusal = oninsist(entry);
    refusals = refusal === undefined ? {} : { ...refusals, [entry]: refusal };
  }

  function keepAsFile() {
    const plain = (_key: string, node: unknown): unknown => (node instanceof Map ? Object.fromEntries(node) : node);
    const text = JSON.stringify(aside, plain, 2);
    saveFile(new Blob([text], { type: 'application/json' }), 'unsaved-changes.json');
  }
</script>

{#if aside.length > 0 && !open}
  <div class="bg-warning text-warning-content flex flex-wrap items-center justify-between gap-x-4 gap-y-1 px-4 py-1.5">
    <span class="flex items-center gap-2"><TriangleAlert size={15} />{changes} not stored yet.</span>
    <button class="btn btn-sm" onclick={() => (dismissed = 0)}>Decide</button>
  </div>
{/if}

<Modal title="Not stored yet" {open} wide={clashes !== undefined} onclose={() => (dismissed = aside.length)}>
  <p>
    {changes} not stored. Everything else is. Nothing is lost: choose what to do with {aside.length === 1
      ? 'it'
      : 'them'}.
  </p>
  {@render clashes?.()}
  {#if singly.length > 0}
    <ul class="my-4 grid gap-3" data-set-aside>
      {#each singly as { entry, reason, why } (entry.id)}
        <li class="border-line grid gap-1.5 border-t pt-2">
          <p class="font-semibold">{entry.label}</p>
          <p class="text-muted text-xs">{reason}</p>
          {#if refusals[entry.id]}<p class="text-error text-xs" role="alert">{refusals[entry.id]}</p>{/if}
          <div class="flex flex-wrap gap-2">
            <button class="btn btn-primary btn-sm" onclick={() => insist(entry.id)}>
              {insistWords?.(entry.id) ?? (why === 'clash' ? 'Make my change all the same' : 'Try again')}
            </button>
            <button class="btn btn-outline btn-sm" onclick={() => onletgo(entry.id)}>
              {why === 'clash' ? 'Leave it as it is now' : 'Let it go'}
            </button>
          </div>
        </li>
      {/each}
    </ul>
  {/if}
  <div class="border-line flex flex-wrap gap-2 border-t pt-3">
    {@render further?.()}
    <button class="btn btn-ghost btn-sm" onclick={keepAsFile}>Save what is not stored to a file</button>
  </div>
</Modal>
