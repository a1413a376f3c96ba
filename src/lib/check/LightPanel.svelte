<script lang="ts">
  import { capitalised } from '@lodestone/core/why';
  import {
    DEPTHS,
    FILTER_FORMATS,
    driftPixels,
    exposureFactor,
    formatFor,
    fieldOfView,
    scaleOf,
    pupilInWords,
    type Comparison
  } from '@lodestone/core/light';
  import type { FaceView } from '$lib/face/faceView.svelte.ts';
  import type { LayerView } from '$lib/rail/layers.svelte.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import Why from '$lib/ui/Why.svelte';
  import Dust from './Dust.svelte';
  import LightProfile from './LightProfile.svelte';
  import MeasuredScale from './MeasuredScale.svelte';

  interface Props {
    view: FaceView;
    layers: LayerView;
  }
  const { view, layers }: Props = $props();
  const train = useTrain();
  const display = useDisplay();

  const light = $derived(train.assessment.facts.light);
  const filter = $derived(light?.worstFilter);

  /** How far a filter may be thought nearer or farther, mm. */
  const FARTHEST_MM = 40;
  let byMm = $state(0);
  let choice = $state('');

  function compare(to: string) {
    choice = to;
    const format = FILTER_FORMATS.find(({ name }) => name === to);
    let change: Comparison | undefined;
    let words = '';
    if (format) {
      change = { by: 'format', clearMm: format.clearMm, shape: format.shape };
      words = `with a ${format.name} filter`;
    } else if (to === 'distance') {
      change = { by: 'distance', byMm };
      words = `with the filter ${display.length(Math.abs(byMm), 1)} ${byMm < 0 ? 'nearer the sensor' : 'farther off'}`;
    } else if (to === 'corrector') {
      change = { by: 'corrector' };
      words = 'without the corrector';
    }
    view.compared = change && { words, change };
  }
  function move(value: number) {
    byMm = value;
    compare('distance');
  }

  const share = (of: number) => `${(of * 100).toFixed(0)} %`;
  const { host } = $derived(train.document);
  /** The host alone beside the train as it stands: what the corrector changes. */
  const settings = $derived.by(() => {
    if (!light) return [];
    const { sensor } = light;
    const one = (name: string, focalLengthMm: number, fRatio: number) => ({
      name,
      focalLengthMm,
      fRatio,
      scale: scaleOf(sensor.pixelUm, focalLengthMm),
      field: [fieldOfView(sensor.widthMm, focalLengthMm), fieldOfView(sensor.heightMm, focalLengthMm)] as const
    });
    const asItIs = one('now', light.focalLengthMm, light.beam.fRatio);
    const alone = one('host alone', host.focalLengthMm, light.ahead.beam.fRatio);
    return light.magnification ? [asItIs, alone] : [asItIs];
  });
  const slots = $derived(light?.slots ?? []);
  const pupil = $derived(light ? pupilInWords(light, display.unit) : '');
  /** A second of arc of drift is what people think of. */
  const DRIFT_ARCSEC = 1;
</script>

{#if light}
  <div class="flex flex-wrap items-baseline justify-between gap-x-4 gap-y-1">
    <h2 class="text-base font-semibold">Light from centre to corner</h2>
    <div class="flex gap-x-0.5" role="group" aria-label="How light is shown">
      <button
        class={['btn btn-xs font-normal', view.relative ? 'btn-ghost' : 'btn-neutral']}
        aria-pressed={!view.relative}
        title="Share of what the unobstructed pupil sends"
        onclick={() => (view.relative = false)}>absolute</button
      >
      <button
        class={['btn btn-xs font-normal', view.relative ? 'btn-neutral' : 'btn-ghost']}
        aria-pressed={view.relative}
        title="Relative to the middle of the sensor"
        onclick={() => (view.relative = true)}>as a flat</button
      >
    </div>
  </div>
  <LightProfile {light} {view} {layers} />
  <div class="flex flex-wrap items-center gap-x-3 gap-y-1.5 text-xs">
    <label class="flex items-center gap-1.5">
      beside
      <select
        class="select select-xs w-44"
        aria-label="Compare the light with"
        value={choice}
        onchange={({ currentTarget: { value } }) => compare(value)}
      >
        <option value="">nothing</option>
        {#if filter}
          {#each FILTER_FORMATS as { name, clearMm } (name)}<option value={name}
              >{name}, {display.number(clearMm, 0)} clear</option
            >{/each}
          <option value="distance">the filter elsewhere</option>
        {/if}
        {#if light.magnification}<option value="corrector">without the corrector</option>{/if}
      </select>
    </label>
    {#if choice === 'distance' && filter}
      <label class="flex items-center gap-1.5">
        <input
          type="range"
          class="range range-xs w-32"
          aria-label="Distance of the filter"
          min={-Math.min(FARTHEST_MM, Math.floor(filter.zMm))}
          max={FARTHEST_MM}
          step="0.5"
          value={byMm}
          oninput={({ currentTarget: { value } }) => move(Number(value))}
        />
        {display.length(filter.zMm + byMm, 1)} before the sensor
      </label>
    {/if}
  </div>
  {#if pupil !== ''}
    <p class="text-muted mt-2 text-xs" data-pupil-assumed>
      {capitalised(pupil)}: the corners get {share(light.cornerRange[0]) === share(light.cornerRange[1])
        ? share(light.cornerRange[0])
        : `${share(light.cornerRange[0])} to ${share(light.cornerRange[1])}`} over that range. State it on the telescope to
      be sure.
    </p>
  {/if}
  {#if light.filter}
    {@const format = formatFor(light.filter.smallestClearMm)}
    <p class="mt-2 text-xs">
      A filter of {display.length(light.filter.smallestClearMm, 1)} clear keeps the corners above {share(
        light.wanted
      )}{format ? ` (${format.name} does)` : ', more than any usual format'}{#if light.filter.farthestZMm !== null}, or
        this one within {display.length(light.filter.farthestZMm, 1)} of the sensor{/if}.
    </p>
  {/if}
  {#if slots.length > 1}
    <table class="mt-2 w-full text-xs" aria-label="Light in the corners by slot">
      <thead class="text-muted"
        ><tr
          ><th class="text-left font-normal">slot</th><th class="text-left font-normal">filter</th><th
            class="text-right font-normal">clear</th
          ><th class="text-right font-normal">in the corners</th></tr
        ></thead
      >
      <tbody>
        {#each slots as { at, slot, name, clearMm, corner } (`${at} ${slot}`)}
          <tr class="border-line border-t"
            ><td class="text-muted w-8 py-0.5">{slot}</td><td>{name}</td><td class="text-right"
              >{display.number(clearMm, 1)}</td
            ><td
              class={['w-24 text-right font-semibold', corner < light.wanted - 0.005 ? 'text-warning' : 'text-success']}
              >{share(corner)}</td
            ></tr
          >
        {/each}
      </tbody>
    </table>
  {/if}
  <details class="border-line mt-3 border-t pt-1">
    <summary class="cursor-pointer py-1 font-semibold">Focal length, scale, depth of focus</summary>
    <table class="w-full text-xs">
      <thead class="text-muted text-left"
        ><tr
          ><th class="font-normal">of the beam</th>{#each settings as { name } (name)}<th class="text-right font-normal"
              >{name}</th
            >{/each}</tr
        ></thead
      >
      <tbody>
        {#snippet row(title: string, words: readonly string[])}
          <tr class="border-line border-t"
            ><td class="py-0.5">{title}</td>{#each words as word, index (index)}<td class="text-right">{word}</td
              >{/each}</tr
          >
        {/snippet}
        {@render row(
          'focal length',
          settings.map(({ focalLengthMm }) => `${focalLengthMm.toFixed(0)} mm`)
        )}
        {@render row(
          'focal ratio',
          settings.map(({ fRatio }) => `f/${fRatio.toFixed(2)}`)
        )}
        {@render row(
          'image scale',
          settings.map(({ scale }) => `${scale.toFixed(2)} ″/px`)
        )}
        {@render row(
          'field',
          settings.map(({ field }) => `${field[0].toFixed(2)}° × ${field[1].toFixed(2)}°`)
        )}
        {@render row(
          'exposure for the same',
          settings.map(({ fRatio }) => `${exposureFactor(settings[0]!.fRatio, fRatio).toFixed(2)} ×`)
        )}
        {@render row(
          '1″ of drift is',
          settings.map(({ scale }) => `${driftPixels(DRIFT_ARCSEC, scale).toFixed(2)} px`)
        )}
        {@render row(
          'depth, quarter wave',
          settings.map(({ fRatio }) => `±${display.length(DEPTHS.quarterWave(fRatio), 3)}`)
        )}
        {@render row(
          'depth, critical zone',
          settings.map(({ fRatio }) => `±${display.length(DEPTHS.criticalZone(fRatio), 3)}`)
        )}
        {@render row(
          'depth, blur of a pixel',
          settings.map(({ fRatio }) => `±${display.length(DEPTHS.blur(fRatio, light.sensor.pixelUm / 1000), 3)}`)
        )}
      </tbody>
    </table>
    {#if light.magnification}
      <p class="text-muted mt-1 text-xs">
        <Why subject="light.magnification">{light.magnification.reckoned.toFixed(3)}×</Why> at this spacing, {light
          .magnification.published}× on the label (thin-lens estimate).
      </p>
    {/if}
    <p class="text-muted mt-1 text-xs">
      Exit pupil {light.report.exitPupilMm === null
        ? 'not known: taken as at infinity'
        : `${display.length(Math.abs(light.report.exitPupilMm), 0)} ${light.report.exitPupilMm < 0 ? 'behind' : 'ahead of'} the sensor, ${light.report.exitPupilFrom}`}.
    </p>
  </details>
  <MeasuredScale {light} />
  <Dust {light} />
{:else}
  <p class="text-muted">Nothing is known of the light: describe the sensor of the camera.</p>
{/if}
