<script lang="ts">
  import { assess, verdictInWords } from '@lodestone/core';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import Modal from '$lib/ui/Modal.svelte';
  import { useNotices } from '$lib/ui/notices.svelte.ts';

  const { oncopied }: { oncopied: (id: string) => void } = $props();
  const train = useTrain();
  const display = useDisplay();
  const notices = useNotices();

  const head = $derived(train.status.state === 'conflict' ? train.status.head : undefined);
  const combined = $derived(train.combined);
  let dismissed = $state(false);
  let open = $derived(head !== undefined && !dismissed);
  $effect(() => {
    if (!head) dismissed = false;
  });

  const inWords = (document: typeof train.document) => {
    const { verdict, residualMm } = assess(document).report;
    return `${document.elements.length} parts, ${verdictInWords(verdict, residualMm, display.unit).toLowerCase()}`;
  };

  async function settle(choice: Parameters<typeof train.settle>[0]) {
    try {
      const copy = await train.settle(choice);
      if (copy) oncopied(copy);
    } catch (error) {
      notices.complain(error instanceof Error ? error.message : 'That did not work; your version is still here.');
    }
  }
</script>

{#if dismissed && head}
  <div class="bg-warning text-warning-content flex items-center justify-between px-4 py-1.5">
    <span>This train was also changed elsewhere. Nothing is saved until you decide.</span>
    <button class="btn btn-sm" onclick={() => (dismissed = false)}>Decide</button>
  </div>
{/if}

<Modal title="Changed in two places" {open} onclose={() => (dismissed = head !== undefined)}>
  {#if head}
    <p>
      Since this window read the train, revision {head.revision.number} was saved elsewhere. Nothing is lost or overwritten:
      both versions are kept.
    </p>
    <dl class="my-4 grid grid-cols-[auto_1fr] gap-x-4 gap-y-1">
      <dt class="text-muted">Here</dt>
      <dd>{inWords(train.document)}</dd>
      <dt class="text-muted">Elsewhere</dt>
      <dd>{inWords(head.document)}</dd>
      {#if combined}
        <dt class="text-muted">Both together</dt>
        <dd>{inWords(combined)}</dd>
      {/if}
    </dl>
    <div class="grid gap-2">
      {#if combined}
        <button class="btn btn-primary btn-sm justify-start" onclick={() => settle('combine')}
          >Combine: my changes on top of theirs</button
        >
      {:else}
        <p class="text-muted text-xs">
          The two sets of changes touch the same parts and cannot be combined by themselves.
        </p>
      {/if}
      <button class="btn btn-outline btn-sm justify-start" onclick={() => settle('ours')}
        >Go on with mine; theirs stays as revision {head.revision.number}</button
      >
      <button class="btn btn-outline btn-sm justify-start" onclick={() => settle('copy')}
        >Keep mine as a train of its own</button
      >
      <button class="btn btn-outline btn-sm justify-start" onclick={() => settle('theirs')}
        >Take theirs and drop mine</button
      >
    </div>
  {/if}
</Modal>
