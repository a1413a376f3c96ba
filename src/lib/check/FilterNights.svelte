<script lang="ts">
  import { filterNights } from '@lodestone/core/sky';
  import { TRAIN, nameOf } from '@lodestone/core/train';
  import Field from '$lib/element/Field.svelte';
  import type { FramingView } from '$lib/face/framing.svelte.ts';
  import { holderOf } from '$lib/face/filterSets.ts';
  import { useTrain } from '$lib/train/context.ts';
  import Fold from '$lib/ui/Fold.svelte';
  import { hoursInWords } from './hours.ts';

  /** Which nights need which filters, and when somebody has to be there to change them. */
  const { framing }: { framing: FramingView } = $props();
  const train = useTrain();

  /** Time for exposures in a night where nobody said (common practice, no source). */
  const USUAL_HOURS = 5;

  const { kept, time } = $derived(framing);
  const hours = $derived(kept.nightHours ?? USUAL_HOURS);
  const holder = $derived(holderOf(train.document));
  const plan = $derived(
    filterNights(kept.exposures ?? [], time.panelMinutes > 0 ? time.minutes / time.panelMinutes : 0, holder, hours * 60)
  );
  const isWheel = $derived(holder?.element.kind === 'filter-wheel');
  const words = $derived.by(() => {
    const each = `${hours} h${kept.nightHours === undefined ? ' (assumed)' : ''}`;
    const nights = `${plan.count} ${plan.count === 1 ? 'night' : 'nights'} of ${each}`;
    const name = holder ? nameOf(train.document, holder.element.id) : 'nothing';
    if (plan.visits === 0) return `${nights}. All filters are in ${name}.`;
    const visits = plan.visits === 1 ? 'once' : `${plan.visits} times`;
    if (isWheel) return `${nights}. ${name} takes ${holder?.slots}: filters are changed by hand ${visits}.`;
    return `${nights}. Filters are changed by hand ${visits}: ${holder ? `${name} is not changed from afar` : 'the train has no wheel'}.`;
  });
</script>

{#if plan.count > 0}
  <Fold title="Nights by filter" class="mt-1 text-xs" titleClass="font-semibold">
    <div class="w-36">
      <Field
        label="Hours a night"
        kind="number"
        at={TRAIN}
        path={['framing', 'nightHours']}
        current={kept.nightHours}
        unit="h"
      />
    </div>
    <p class="my-1" data-nights={plan.count}>{words}</p>
    <ol class="max-h-56 overflow-y-auto">
      {#each plan.nights as { shares, putIn }, at (at)}
        {#if putIn.length > 0}
          <li class="text-warning">Before night {at + 1}: put in {putIn.join(', ')} by hand.</li>
        {/if}
        <li>
          <span class="text-muted">Night {at + 1}:</span>
          {shares.map(({ filter, minutes }) => `${filter} ${hoursInWords(minutes)}`).join(', ')}
        </li>
      {/each}
      {#if plan.count > plan.nights.length}
        <li class="text-muted">and {plan.count - plan.nights.length} more</li>
      {/if}
    </ol>
  </Fold>
{/if}
