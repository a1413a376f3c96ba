<script lang="ts">
  import { TRAIN, type Operation } from '@lodestone/core/train';
  import { PACKING_TITLES, packingList, assemblySheet, stepState, type PackingGroup } from '@lodestone/core/assembly';
  import type { StoredTrain } from '$lib/api/trains.ts';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import SyncMark from '$lib/sync/SyncMark.svelte';
  import { TrainSession } from '$lib/train/session.svelte.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import X from '@lucide/svelte/icons/x';
  import { onMount, untrack } from 'svelte';

  interface Props {
    stored: StoredTrain;
    round: 'packed' | 'leaving';
    onaway: () => void;
  }
  const { stored, round, onaway }: Props = $props();
  const drawer = useDrawer();
  const notices = useNotices();
  const display = useDisplay();
  const uid = $props.id();
  /** What is ticked is kept in the train itself, like everything else: offline, and on the other device. */
  const train = new TrainSession(untrack(() => stored));
  onMount(() => train.open());

  const closed = $derived(
    assemblySheet(train.document, display.unit).flatMap((step) =>
      step.joint !== null && stepState(train.document, step) === 'done' ? [step.joint] : []
    )
  );
  const items = $derived(packingList(train.document, drawer.plain, (joint) => closed.includes(joint), display.unit));
  const groups = $derived(
    (Object.keys(PACKING_TITLES) as PackingGroup[]).flatMap((group) => {
      const list = items.filter((item) => item.group === group);
      return list.length === 0 ? [] : [{ group, list }];
    })
  );
  const ticks = $derived(train.document.packing?.[round] ?? {});
  const isTicked = (key: string): boolean => Object.hasOwn(ticks, key);
  const left = $derived(items.filter(({ key }) => !isTicked(key)).length);

  const set = (path: [string, ...string[]], to: unknown): Operation => ({ op: 'set', at: TRAIN, path, to });
  const tick = (key: string, on: boolean) =>
    notices.complain(train.dispatch(set(['packing', round, key], on ? true : undefined), on ? 'Tick off' : 'Untick'));
  const clear = () => notices.complain(train.dispatch(set(['packing', round], undefined), 'Begin the list again'));

  let further = $state('');
  function addFurther(event: SubmitEvent) {
    event.preventDefault();
    const words = further.trim().slice(0, 200);
    const caps = train.document.packing?.caps ?? [];
    if (words === '' || caps.includes(words)) return;
    const refusal = train.dispatch(set(['packing', 'caps'], [...caps, words]), 'Add to the list');
    notices.complain(refusal);
    if (refusal === undefined) further = '';
  }
  function drop(what: string) {
    const caps = (train.document.packing?.caps ?? []).filter((each) => each !== what);
    notices.complain(
      train.dispatch(set(['packing', 'caps'], caps.length === 0 ? undefined : caps), 'Take off the list')
    );
  }
</script>

<section class="panel p-4" aria-label={train.document.name} data-pack={train.document.name}>
  <div class="flex flex-wrap items-center justify-between gap-2">
    <h2 class="text-lg font-semibold wrap-anywhere">{train.document.name}</h2>
    <div class="flex items-center gap-1">
      <span class={left === 0 ? 'text-success font-semibold' : ''} data-left={left}
        >{left === 0 ? 'all there' : `${left} of ${items.length} left`}</span
      >
      <SyncMark
        status={train.status}
        aside={train.aside.length}
        savedAt={train.savedAt}
        onretry={() => train.saveNow()}
      />
      <button
        class="btn btn-ghost btn-sm btn-square print:hidden"
        aria-label="Leave {train.document.name} at home"
        onclick={onaway}><X size={14} /></button
      >
    </div>
  </div>
  {#each groups as { group, list } (group)}
    <h3 class="text-muted mt-3 text-sm">{PACKING_TITLES[group]}</h3>
    <ul>
      {#each list as { key, what, location } (key)}
        <li class="border-line flex items-center border-t">
          <label class="flex min-h-11 flex-1 items-center gap-3 py-1"
            ><input
              type="checkbox"
              class="checkbox"
              checked={isTicked(key)}
              onchange={({ currentTarget: { checked } }) => tick(key, checked)}
            /><span class={['min-w-0 flex-1 wrap-anywhere', isTicked(key) && 'text-muted']}>{what}</span>
            {#if location}<span class="text-muted text-sm">{location}</span>{/if}</label
          >
          {#if group === 'caps'}
            <button
              class="btn btn-ghost btn-sm btn-square print:hidden"
              aria-label="Take {what} off the list"
              onclick={() => drop(what)}><X size={13} /></button
            >
          {/if}
        </li>
      {/each}
    </ul>
  {/each}
  <form class="mt-3 flex flex-wrap gap-2 print:hidden" onsubmit={addFurther}>
    <input
      id="{uid}-further"
      class="input min-w-0 flex-1"
      aria-label="Something else for {train.document.name}"
      placeholder="a cap, a cable, a key"
      maxlength="200"
      bind:value={further}
    />
    <button class="btn btn-outline">Add</button>
    <button type="button" class="btn btn-ghost font-normal" onclick={clear}>Begin again</button>
  </form>
</section>
