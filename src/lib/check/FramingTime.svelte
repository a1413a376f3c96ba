<script lang="ts">
  import { colourMinutes, withoutReducer } from '@lodestone/core/sky';
  import { TRAIN, glassOf, type Exposures } from '@lodestone/core/train';
  import ListEditor from '$lib/element/ListEditor.svelte';
  import type { FramingView } from '$lib/face/framing.svelte.ts';
  import { useTrain } from '$lib/train/context.ts';
  import Fold from '$lib/ui/Fold.svelte';
  import DraftInput from '$lib/ui/DraftInput.svelte';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { parseNumber } from '$lib/ui/parse.ts';
  import FilterNights from './FilterNights.svelte';
  import { hoursInWords } from './hours.ts';

  /** How long the target takes: panels × filters × exposures. */
  const { framing }: { framing: FramingView } = $props();
  const train = useTrain();
  const notices = useNotices();

  /** What somebody begins with (common practice, no source). */
  const USUAL_EXPOSURES = { count: 20, seconds: 180 } as const;
  /** Slots that nothing is exposed through. */
  const NO_LIGHT = /^(dark|blank|empty|cover)\b/i;
  /** More panels than this are not told one by one. */
  const MOST_TOLD = 36;

  const { kept, time } = $derived(framing);
  const exposures = $derived(kept.exposures ?? []);
  const filters = $derived([
    ...new Set(
      train.document.elements.flatMap((element) =>
        (glassOf(element) ?? []).flatMap(({ name, slot, role }) =>
          name !== undefined && !NO_LIGHT.test(name) && (slot !== undefined || role === 'filter') ? [name] : []
        )
      )
    )
  ]);
  const isColour = $derived(train.assessment.facts.light?.sensor.colour === true);
  const colour = $derived(isColour ? undefined : colourMinutes(exposures));
  const magnification = $derived(train.assessment.facts.light?.magnification?.reckoned);
  const fRatio = $derived(train.assessment.facts.light?.beam.fRatio);
  const isReduced = $derived(magnification !== undefined && magnification < 0.99);
  const columns = $derived(kept.columns ?? 1);
  const panels = $derived(columns * (kept.rows ?? 1));

  function begin() {
    const names = filters.length > 0 ? filters : [isColour ? 'no filter' : 'L'];
    const to: Exposures[] = names.map((filter) => ({ filter, ...USUAL_EXPOSURES }));
    notices.complain(
      train.dispatch({ op: 'set', at: TRAIN, path: ['framing', 'exposures'], to }, 'Plan exposures by filter')
    );
  }

  function setTimes(panel: number, to: number | undefined): string | undefined {
    if (to !== undefined && !(to > 0 && to <= 100)) return 'More than 0, at most 100.';
    const times = Array.from({ length: panels }, (_, at) => (at === panel ? (to ?? 1) : (kept.panelTimes?.[at] ?? 1)));
    return framing.setPanelTimes(times.every((each) => each === 1) ? undefined : times);
  }
</script>

<h3 class="mt-3 font-semibold">Time</h3>
{#if exposures.length === 0}
  <p class="text-muted text-xs">
    {hoursInWords(time.panelMinutes)} a panel{kept.panelMinutes === undefined ? ' (assumed)' : ''}.
    <button class="btn btn-outline btn-xs" data-plan-exposures onclick={begin}
      >Plan it {filters.length > 1 ? `by ${filters.length} filters` : 'by exposures'}</button
    >
  </p>
{/if}
{#if exposures.length > 0}
  <ListEditor
    title="Exposures"
    entryName="filter"
    at={TRAIN}
    path={['framing', 'exposures']}
    entries={exposures}
    columns={[
      { key: 'filter', label: 'Filter', kind: 'text', required: true },
      { key: 'count', label: 'Exposures', kind: 'number', required: true },
      { key: 'seconds', label: 'of s', kind: 'number', required: true }
    ]}
    fresh={(): Exposures => ({ filter: filters[exposures.length] ?? 'Filter', ...USUAL_EXPOSURES })}
  />
{/if}
{#if panels > 1 && panels <= MOST_TOLD}
  <Fold title="Panels that take longer or shorter" class="mt-1 text-xs" wanted={kept.panelTimes !== undefined}>
    <div class="grid gap-1" style:grid-template-columns="repeat({columns}, minmax(2.75rem, 1fr))">
      {#each { length: panels } as _, at (at)}
        <DraftInput
          text={String(kept.panelTimes?.[at] ?? 1)}
          label="Panel {Math.floor(at / columns) + 1}, {(at % columns) + 1}: times as long"
          numeric
          compact
          suffix="×"
          parse={(text) => parseNumber(text)}
          commit={(to) => setTimes(at, to)}
        />
      {/each}
    </div>
  </Fold>
{/if}
{#if exposures.length > 0 || panels > 1}
  <p class="mt-1 text-xs" data-target-time={time.minutes.toFixed(1)}>
    <span class="font-semibold">{hoursInWords(time.minutes)}</span>{exposures.length > 0
      ? `, ${time.exposures} exposures`
      : ''}{panels > 1 ? `, ${panels} panels of ${hoursInWords(time.panelMinutes)}` : ''}.
    {#if colour !== undefined}
      A colour camera with the same pixels needs {hoursInWords((colour * time.minutes) / time.panelMinutes)} for as much light
      in each colour and in all (calculated, filters that split the light in three).
    {/if}
    {#if isReduced && magnification !== undefined && fRatio !== undefined}
      At f/{(fRatio / magnification).toFixed(1)}, without the corrector’s {magnification.toFixed(2)}×, an extended
      object would need {withoutReducer(magnification).toFixed(1)} times as long for the same signal in a pixel.
    {/if}
  </p>
{/if}
{#if exposures.length > 0}<FilterNights {framing} />{/if}
