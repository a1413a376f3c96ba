<script lang="ts">
  import { spacingFromScale, type Light } from '@lodestone/core/light';
  import { readPlateScale, type PlateScale } from '@lodestone/core/frame';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { parseNumber } from '$lib/ui/parse.ts';
  import { pieces } from '$lib/workers/pieces.ts';

  const { light }: { light: Light } = $props();
  const train = useTrain();
  const display = useDisplay();

  let text = $state('');
  let read = $state.raw<{ name: string; scale: PlateScale }>();
  let refusal = $state('');

  const parsed = $derived(parseNumber(text.replace(/″.*$/, '')));
  const typed = $derived(parsed.ok ? parsed.parsed : undefined);
  const answer = $derived(typed === undefined ? undefined : spacingFromScale(train.document, light, typed));

  async function readFrame(file: File | undefined) {
    if (!file) return;
    refusal = '';
    read = undefined;
    const reading = await readPlateScale({ chunks: pieces(file), sizeBytes: file.size });
    if (!reading.ok) {
      refusal = `${file.name}: ${reading.message}`;
      return;
    }
    read = { name: file.name, scale: reading.scale };
    text = reading.scale.arcsecPerPx.toFixed(4);
  }
  function setStands(deg: number) {
    train.dispatch(
      { op: 'set', at: 'train', path: ['framing', 'standsDeg'], to: Number(deg.toFixed(2)) },
      'Take the camera’s angle from the frame'
    );
  }
</script>

<details class="border-line mt-2 border-t pt-1">
  <summary class="cursor-pointer py-1 font-semibold">Spacing from a solved frame</summary>
  <div class="flex flex-wrap items-center gap-2 text-xs">
    <label class="flex items-center gap-2">
      image scale
      <span class="input input-xs w-28"
        ><input
          class="min-w-0 text-right"
          inputmode="decimal"
          autocomplete="off"
          aria-label="Measured image scale, seconds of arc a pixel"
          bind:value={text}
          placeholder="e.g. {light.report.scaleArcsecPerPx.toFixed(3)}"
        /> ″/px</span
      >
    </label>
    <label class="btn btn-outline btn-xs">
      Read it from a FITS frame
      <input
        type="file"
        class="sr-only"
        accept=".fit,.fits,.fts,.fz,.gz"
        onchange={({ currentTarget }) => {
          void readFrame(currentTarget.files?.[0]);
          currentTarget.value = '';
        }}
      />
    </label>
  </div>
  {#if refusal}<p class="text-error mt-1 text-xs" role="alert">{refusal}</p>{/if}
  {#if !parsed.ok}<p class="text-error mt-1 text-xs" role="alert">{parsed.message}</p>{/if}
  {#if typeof answer === 'string'}
    <p class="mt-1 text-xs" data-spacing>{answer}</p>
  {:else if answer}
    {@const off = answer.actualMm - train.assessment.ledger.actualMm}
    <p class="mt-1 text-xs" data-spacing>
      {answer.focalLengthMm.toFixed(0)} mm of focal length, {answer.magnification.toFixed(3)}×: by the thin lens the
      sensor is {display.length(answer.actualMm, 1)} behind the shoulder, {display.length(Math.abs(off), 1)}
      {off < 0 ? 'less' : 'more'} than in the ledger.
    </p>
  {/if}
  {#if read}
    <p class="text-muted mt-1 text-xs">
      {read.name}: top of the frame at {read.scale.angleDeg.toFixed(1)}°{read.scale.mirrored ? ', mirrored' : ''}{read
        .scale.hasDistortion
        ? '; without its distortion terms'
        : ''}.
      <button class="link-quiet" onclick={() => setStands(read!.scale.angleDeg)}>Take it as the camera’s angle</button>
    </p>
  {/if}
</details>
