<script lang="ts">
  import {
    effectsOf,
    hoursOf,
    nightsOfFrames,
    seasonOf,
    type ArrivedNight,
    type NightOf
  } from '@lodestone/core/nights';
  import { useFrames } from '$lib/frames/frames.svelte.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { counted } from '$lib/ui/size.ts';
  import { dayOf, hoursInWords } from '$lib/ui/time.ts';
  import Moon from '@lucide/svelte/icons/moon';
  import Pencil from '@lucide/svelte/icons/pencil';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import EffectList from './EffectList.svelte';
  import { FIGURES, NightForm } from './nights.svelte.ts';

  /** Nights with the train: one is written down in a few taps, and all of them say what became of it. */
  interface Props {
    /** Days on which the train was changed, `YYYY-MM-DD`. */
    days: readonly string[];
  }
  const { days }: Props = $props();
  const train = useTrain();
  const notices = useNotices();
  const frames = useFrames();
  const form = new NightForm(train);
  const uid = $props.id();

  let open = $state(false);
  let query = $state('');
  const SEARCHED_FROM = 6;
  const SHOWN = 5;
  let shown = $state(SHOWN);
  const MOST_ARRIVED = 2;

  const { nights } = $derived(form);
  const scale = $derived(train.assessment.report.light?.scaleArcsecPerPx);
  const found = $derived.by(() => {
    const words = query.toLowerCase().split(/\s+/).filter(Boolean);
    return nights.filter((night) => {
      const text = [
        night.on,
        dayOf(night.on),
        night.balance,
        night.wrong,
        night.note,
        ...Object.keys(night.hours ?? {})
      ]
        .join(' ')
        .toLowerCase();
      return words.every((word) => text.includes(word));
    });
  });
  /** What frames that arrived say of nights that are not written down yet. */
  const arrived = $derived(
    form.editing !== undefined
      ? []
      : nightsOfFrames(
          frames.list.flatMap(({ summary }) => summary ?? []),
          form.filters,
          -new Date().getTimezoneOffset()
        )
          .filter(({ on }) => nights.every((night) => night.on !== on))
          .slice(0, MOST_ARRIVED)
  );
  $effect(() => {
    if (open) void frames.look();
  });
  const season = $derived(seasonOf(found));
  const effects = $derived(effectsOf(nights, days));

  const figure = (of: number): string => String(Number(of.toFixed(2))).replace('-', '−');
  const inPixels = (arcsec: number): string => (scale ? ` (${(arcsec / scale).toFixed(2)} px)` : '');
  function told(night: NightOf): string {
    const parts = [
      ...(hoursOf(night) > 0
        ? [
            Object.entries(night.hours ?? {})
              .sort(([a], [b]) => form.filters.indexOf(a) - form.filters.indexOf(b))
              .map(([filter, each]) => `${filter} ${hoursInWords(each)}`)
              .join(', ')
          ]
        : []),
      ...(night.guideRmsArcsec === undefined
        ? []
        : [`guiding ${figure(night.guideRmsArcsec)} ″${inPixels(night.guideRmsArcsec)}`]),
      ...(night.seeingArcsec === undefined ? [] : [`seeing ${figure(night.seeingArcsec)} ″`]),
      ...(night.hfrPx === undefined ? [] : [`HFR ${figure(night.hfrPx)} px`]),
      ...(night.temperatureC === undefined ? [] : [`${figure(night.temperatureC)} °C`])
    ];
    return parts.join(' · ');
  }
  const arrivedWords = ({ hours: exposed, hfrPx, temperatureC }: ArrivedNight): string =>
    [
      ...Object.entries(exposed).map(([filter, each]) => `${filter} ${figure(each)} h`),
      ...(hfrPx === undefined ? [] : [`HFR ${figure(hfrPx)} px`]),
      ...(temperatureC === undefined ? [] : [`${figure(temperatureC)} °C`])
    ].join(', ') || 'nothing but the time';
  const SENTENCES = [
    ['balance', 'Balance', 'as marked, or what was moved'],
    ['wrong', 'What was wrong', 'nothing']
  ] as const;

  function keep(event: SubmitEvent) {
    event.preventDefault();
    if (form.keep()) open = false;
  }
  function edit(night: NightOf) {
    form.edit(night);
    open = true;
  }
</script>

<section class="panel p-4" aria-label="Nights">
  <div class="flex items-baseline justify-between gap-2">
    <h2 class="text-base font-semibold">Nights</h2>
    {#if !open}
      <button class="btn btn-outline btn-sm" onclick={() => (open = true)}><Moon size={14} />Write down tonight</button>
    {/if}
  </div>
  {#if open}
    <form class="mt-2 grid grid-cols-2 gap-2" onsubmit={keep}>
      <label class="col-span-2 grid gap-0.5 text-sm" for="{uid}-on"
        >Evening of
        <input id="{uid}-on" class="input w-full" type="date" required bind:value={form.on} /></label
      >
      {#each arrived as each (each.on)}
        <p
          class="border-primary col-span-2 flex flex-wrap items-center gap-x-3 gap-y-1 border-l-2 pl-2 text-sm"
          data-arrived
        >
          <span class="min-w-0 flex-1">{counted(each.frames, 'frame')} of {dayOf(each.on)}: {arrivedWords(each)}</span>
          <button type="button" class="btn btn-outline btn-sm" onclick={() => form.fill(each)}>Take that over</button>
        </p>
      {/each}
      {#each FIGURES as [key, label, unit] (key)}
        <label class="grid gap-0.5 text-sm" for="{uid}-{key}"
          ><span>{label}, {unit}</span>
          <input
            id="{uid}-{key}"
            class="input w-full text-right"
            inputmode={key === 'temperatureC' ? 'text' : 'decimal'}
            autocomplete="off"
            bind:value={form.figures[key]}
          /></label
        >
      {/each}
      <fieldset class="col-span-2">
        <legend class="text-sm">Hours by filter</legend>
        <div class="grid grid-cols-2 gap-2">
          {#each form.filters as filter (filter)}
            <label class="grid gap-0.5 text-xs" for="{uid}-h-{filter}"
              ><span class="truncate">{filter}</span>
              <input
                id="{uid}-h-{filter}"
                class="input input-sm w-full text-right"
                inputmode="decimal"
                autocomplete="off"
                bind:value={() => form.hours[filter] ?? '', (text) => (form.hours = { ...form.hours, [filter]: text })}
              /></label
            >
          {/each}
        </div>
      </fieldset>
      {#each SENTENCES as [key, label, placeholder] (key)}
        <label class="col-span-2 grid gap-0.5 text-sm" for="{uid}-{key}"
          >{label}
          <input
            id="{uid}-{key}"
            class="input w-full"
            maxlength="200"
            autocomplete="off"
            {placeholder}
            bind:value={form[key]}
          /></label
        >
      {/each}
      <label class="col-span-2 grid gap-0.5 text-sm" for="{uid}-note"
        >Note
        <textarea id="{uid}-note" class="textarea w-full" rows="2" maxlength="4000" bind:value={form.note}
        ></textarea></label
      >
      {#if form.message !== undefined}<p class="text-error col-span-2 text-sm" role="alert">{form.message}</p>{/if}
      <button class="btn btn-primary">{form.editing === undefined ? 'Keep the night' : 'Correct it'}</button>
      <button
        type="button"
        class="btn btn-ghost"
        onclick={() => {
          form.clear();
          open = false;
        }}>Cancel</button
      >
    </form>
  {/if}
  {#if nights.length === 0}
    {#if !open}<p class="text-muted mt-1 text-sm">
        Hours, guiding, seeing and what was wrong, in a few taps, also without a network. Before and after each change
        they then show what it did.
      </p>{/if}
  {:else}
    {#if nights.length >= SEARCHED_FROM}
      <input
        class="input input-sm mt-2 w-full"
        type="search"
        aria-label="Search nights"
        placeholder="Search: month, filter, what was wrong"
        bind:value={query}
      />
    {/if}
    <p class="mt-2 text-sm" data-season>
      {counted(season.nights, 'night')}{#if season.days}, {dayOf(season.days[0])}{season.days[0] === season.days[1]
          ? ''
          : ` to ${dayOf(season.days[1])}`}{/if}{season.hours > 0
        ? `: ${hoursInWords(season.hours)}, ${season.byFilter.map(([filter, each]) => `${filter} ${hoursInWords(each)}`).join(', ')}`
        : ''}
    </p>
    {#if effects.length > 0}
      <h3 class="text-muted mt-2 text-xs">Before and after a change</h3>
      <EffectList effects={effects.slice(0, 4)} />
    {/if}
    <a class="link-quiet mt-2 inline-flex min-h-6 items-center text-sm" href="/season">Nights of all trains</a>
    <ul class="mt-1" data-nights>
      {#each found.slice(0, shown) as night (night.id)}
        <li class="border-line flex items-start justify-between gap-2 border-t py-1.5">
          <div class="min-w-0 text-sm">
            <p class="font-semibold">{dayOf(night.on)}</p>
            <p class="wrap-anywhere">{told(night)}</p>
            {#if night.balance}<p class="wrap-anywhere">Balance: {night.balance}</p>{/if}
            {#if night.wrong}<p class="text-warning wrap-anywhere">{night.wrong}</p>{/if}
            {#if night.note}<p class="text-muted whitespace-pre-line wrap-anywhere">{night.note}</p>{/if}
          </div>
          <div class="flex shrink-0">
            <button
              class="btn btn-ghost btn-xs btn-square"
              aria-label="Correct the night of {dayOf(night.on)}"
              onclick={() => edit(night)}><Pencil size={13} /></button
            >
            <button
              class="btn btn-ghost btn-xs btn-square"
              aria-label="Remove the night of {dayOf(night.on)}"
              onclick={() => {
                notices.complain(form.remove(night.id));
                notices.sayDone(train, 'The night was removed.');
              }}><Trash2 size={13} /></button
            >
          </div>
        </li>
      {:else}
        <li class="text-muted text-sm">No night is like that.</li>
      {/each}
    </ul>
    {#if shown < found.length}
      <button class="btn btn-ghost btn-sm" onclick={() => (shown += 20)}>Earlier</button>
    {/if}
  {/if}
</section>
