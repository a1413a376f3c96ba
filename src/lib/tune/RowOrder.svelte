<script lang="ts">
  import { rowOrderOperation, solvedScale } from '@lodestone/core/experiment';
  import type { FrameSummary, RowOrder } from '@lodestone/core/frame';
  import { isCamera, partIdOf, rowOrderOf } from '@lodestone/core/train';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';

  /** Which row of a frame is the top, where its file does not say it: asked once a camera. */
  const { summary }: { summary: FrameSummary } = $props();
  const train = useTrain();
  const drawer = useDrawer();
  const notices = useNotices();
  const uid = $props.id();

  const ASSUMED: RowOrder = 'bottom-up';
  const camera = $derived(train.document.elements.find(isCamera));
  const said = $derived(rowOrderOf(train.document));
  const isMirrored = $derived(solvedScale(summary)?.mirrored === true);

  function say(order: RowOrder) {
    const operation = rowOrderOperation(train.document, order, said ?? ASSUMED);
    if (!operation) return;
    const refusal = train.dispatch(operation, 'State the top row of the camera’s frames');
    notices.complain(refusal);
    if (refusal !== undefined || !camera) return;
    const partId = partIdOf(camera);
    const part = partId === undefined ? undefined : drawer.byId.get(partId)?.part.element;
    if (partId === undefined || !part || !('sensor' in part) || !part.sensor) return;
    // The camera brings it to its other trains.
    drawer.edit(partId, { op: 'set', at: partId, path: ['sensor', 'rowOrder'], to: order }, `Top row of ${partId}`);
  }
</script>

{#if summary.rowsAssumed && camera?.sensor}
  <div class="border-line mt-3 border-t pt-2 text-sm" data-row-order={said ?? 'assumed'}>
    <label class="flex flex-wrap items-center gap-2" for="{uid}-order">
      <span>The file does not say which row is the top.</span>
      <select
        id="{uid}-order"
        class="select select-sm w-auto"
        value={said ?? ''}
        onchange={({ currentTarget }) => say(currentTarget.value as RowOrder)}
      >
        {#if said === undefined}<option value="" disabled>the last one (assumed)</option>{/if}
        <option value="bottom-up">the last one</option>
        <option value="top-down">the first one</option>
      </select>
    </label>
    <p class="text-muted">
      {#if isMirrored}
        Its sky is mirrored. With no mirror, or an even number of them, in the light’s way the other choice is right.
      {:else if said === undefined}
        Compare with what the capture program shows. It is kept with {camera.name}.
      {:else}
        Kept with {camera.name}.
      {/if}
    </p>
  </div>
{/if}
