<script lang="ts">
  import { endFlats, flatsOf, takeFlats } from '@lodestone/core/assembly';
  import Field from '$lib/element/Field.svelte';
  import { today } from '$lib/ui/time.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';

  const train = useTrain();
  const notices = useNotices();
  const flats = $derived(train.document.flats);
  const told = $derived(flatsOf(train.document, today()));

  const take = () => notices.complain(train.dispatch(takeFlats(train.document, today()), 'Flats were taken'));
  const end = () => flats && notices.complain(train.dispatch(endFlats(flats, 'opened, as entered'), 'Flats ended'));
</script>

<section class="panel p-4" aria-label="Flats">
  <h2 class="mb-1 text-base font-semibold">Flats</h2>
  <p
    class={told.state === 'valid' ? '' : told.state === 'none' ? 'text-muted' : 'text-warning'}
    data-flats={told.state}
  >
    {told.say}
  </p>
  <div class="mt-2 flex flex-wrap items-end gap-2">
    <button class="btn btn-outline btn-sm" onclick={take}>Flats were taken today</button>
    {#if told.state === 'valid'}
      <button class="btn btn-ghost btn-sm font-normal" onclick={end}>It was opened since</button>
    {/if}
    {#if flats}
      <div class="w-32">
        <Field
          label="Good for, months"
          kind="number"
          at="train"
          path={['flats', 'monthsValid']}
          current={flats.monthsValid}
          hint="6 when empty"
        />
      </div>
    {/if}
  </div>
</section>
