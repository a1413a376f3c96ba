<script lang="ts">
  import { remediesOf, type Finding } from '@lodestone/core/check';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';

  /** What was tried and mends a finding, as buttons. */
  const { finding }: { finding: Finding } = $props();
  const train = useTrain();
  const display = useDisplay();
  const notices = useNotices();
  const drawer = useDrawer();

  const remedies = $derived(
    train.preview ? [] : remediesOf(train.assessment, finding, drawer.isRead ? drawer.free(train.id) : [])
  );

  function apply(remedy: (typeof remedies)[number]) {
    notices.complain(train.dispatch(remedy.operation, remedy.action(display.unit)));
  }
</script>

{#if remedies.length > 0}
  <p class="mt-1 flex flex-wrap gap-1.5 pl-6">
    {#each remedies as remedy, index (index)}
      <button
        class="btn btn-outline btn-xs h-auto min-h-6 text-left whitespace-normal"
        title={remedy.sentence(display.unit)}
        onclick={() => apply(remedy)}>{remedy.action(display.unit)}</button
      >
    {/each}
  </p>
{/if}
