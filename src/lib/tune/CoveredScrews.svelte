<script lang="ts">
  import { wholeDegrees } from '@lodestone/core/frame';
  import { withFirstSeen, withSecondSeen } from '@lodestone/core/experiment';
  import type { TiltPlate } from '@lodestone/core/train';
  import { useFrames } from '$lib/frames/frames.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import type { Tuning } from './tuning.svelte.ts';

  /** Where a plate's screws are in the picture, by two frames with the light covered at them. */
  const { tuning, plate }: { tuning: Tuning; plate: TiltPlate } = $props();
  const frames = useFrames();
  const notices = useNotices();

  /** Which frame showed screw 1. */
  let first = $state<string>();
  const frame = $derived(frames.chosen);
  const shade = $derived(frame?.summary?.shade);
  const screw = $derived(first === undefined ? 1 : 2);
  const isUsed = $derived(frame !== undefined && frame.id === first);

  function take() {
    if (!shade || !frame) return;
    if (screw === 1) {
      const refusal = tuning.setPlate(withFirstSeen(plate, shade.deg));
      if (refusal !== undefined) return notices.complain(refusal);
      first = frame.id;
      return;
    }
    const found = withSecondSeen(plate, shade.deg);
    if (!found) {
      return notices.complain(
        `In this frame the cover is at ${wholeDegrees(shade.deg)}, not at a place beside screw 1. Cover the light at screw 2, the next one anticlockwise seen from the camera.`
      );
    }
    notices.complain(tuning.setPlate(found));
    first = undefined;
  }
</script>

<div class="mt-1 text-sm" data-covered={screw}>
  <p class="text-muted">
    Or by a card: {screw === 1
      ? 'point at a bright even sky, hold a card into the light just before the sensor at screw 1, and take a frame.'
      : 'now hold it at screw 2, the next one anticlockwise seen from the camera, and take another.'}
  </p>
  {#if shade && !isUsed}
    <button class="btn btn-outline btn-sm mt-1" onclick={take}
      >The light was covered at screw {screw} in this frame ({wholeDegrees(shade.deg)})</button
    >
  {:else if frame?.summary && !isUsed}
    <p class="text-muted">No side of {frame.name} is plainly darker.</p>
  {/if}
</div>
