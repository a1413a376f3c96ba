<script lang="ts">
  import { remediesOf, type CheckLine } from '@lodestone/core/check';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import CircleCheck from '@lucide/svelte/icons/circle-check';
  import CircleX from '@lucide/svelte/icons/circle-x';
  import TriangleAlert from '@lucide/svelte/icons/triangle-alert';

  /** Every check, worst first. */
  const { lines }: { lines: readonly CheckLine[] } = $props();
  const train = useTrain();
  const drawer = useDrawer();
  const display = useDisplay();
  const notices = useNotices();

  const of = (...levels: string[]) => lines.filter(({ finding }) => levels.includes(finding.level));
  const toMend = $derived(of('error', 'warning'));
  const isBroken = $derived(of('error').length > 0);
  const unknown = $derived(of('not-known'));
  const worst = $derived(lines.find(({ finding }) => ['error', 'warning', 'not-known'].includes(finding.level)));
  const remedy = $derived(
    worst && drawer.isRead ? remediesOf(train.assessment, worst.finding, drawer.free(train.id))[0] : undefined
  );
  const headline = $derived(
    toMend.length > 0
      ? `${toMend.length} ${toMend.length === 1 ? 'thing' : 'things'} to ${isBroken ? 'mend' : 'look at'}`
      : unknown.length > 0
        ? `${unknown.length} not known`
        : 'Everything passes'
  );
  const tone = $derived(
    isBroken ? 'text-error' : toMend.length > 0 ? 'text-warning' : unknown.length > 0 ? '' : 'text-success'
  );
</script>

<section class="flex flex-wrap items-center gap-x-6 gap-y-2 px-4 py-2.5" aria-label="Verdict">
  <p
    class={[
      'flex items-center gap-2 text-[1.7rem] leading-none font-semibold max-sm:text-2xl sm:whitespace-nowrap',
      tone
    ]}
    aria-live="polite"
    data-check-verdict
  >
    {#if isBroken}<CircleX size={24} />{:else if toMend.length > 0}<TriangleAlert
        size={23}
      />{:else if unknown.length === 0}<CircleCheck size={24} />{/if}
    {headline}
  </p>
  <div class="min-w-64 flex-1 basis-96">
    {#if worst}
      <p data-worst>{worst.finding.say(display.unit)}</p>
      {#if remedy}<p class="text-muted">{remedy.sentence(display.unit)}</p>{/if}
    {:else}
      <p class="text-muted">Every check that can be made of what is stated passes.</p>
    {/if}
  </div>
  {#if remedy}
    <button
      class="btn btn-primary"
      onclick={() => notices.complain(train.dispatch(remedy.operation, remedy.action(display.unit)))}
      >{remedy.action(display.unit)}</button
    >
  {/if}
</section>
