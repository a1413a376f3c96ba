<script lang="ts">
  import { dayOf } from '$lib/ui/time.ts';
  import { glassOf } from '@lodestone/core/train';
  import { glassOffsets, measuredBacklash, readFocusRun, type FocusPoint } from '@lodestone/core/focus';
  import { useTrain } from '$lib/train/context.ts';
  import type { FocusSession } from './run.svelte.ts';

  /** Runs that were kept, one beside the other, and how far filters shift the focus by their glass. */
  const { session }: { session: FocusSession } = $props();
  const train = useTrain();

  /** Of the filters of the holder in the beam, as far as what a step moves is known. */
  const offsets = $derived.by(() => {
    const umPerStep = train.document.host.focuser?.umPerStep;
    const glass = train.document.elements
      .map((element) => glassOf(element) ?? [])
      .find((plates) => plates.some(({ slot }) => slot !== undefined));
    const plates = (glass ?? []).filter(({ slot, thicknessMm }) => slot !== undefined && thicknessMm > 0);
    if (umPerStep === undefined || plates.length < 2) return [];
    const m = train.assessment.facts.light?.magnification?.reckoned ?? 1;
    return glassOffsets(plates as Parameters<typeof glassOffsets>[0], umPerStep, m);
  });

  const kept = $derived(
    session.runs.map(({ points, maxPosition, filter, on, note }) => {
      const frames = points as readonly FocusPoint[];
      const backlash = measuredBacklash(frames);
      return {
        name: `${filter ?? 'no filter'}, ${on ? dayOf(on) : ''}${backlash ? `, backlash ${backlash.steps.toFixed(0)}` : ''}`,
        note,
        ...readFocusRun(frames, session.backlash, maxPosition ?? session.maxPosition)
      };
    })
  );
  const firstBest = $derived(kept.find(({ bestPosition }) => bestPosition !== null)?.bestPosition ?? null);

  function bestInWords({ bestPosition, standard }: (typeof kept)[number], index: number): string {
    if (bestPosition === null || standard === null) return 'no minimum';
    const best = `${bestPosition.toFixed(0)} ±${(2 * standard).toFixed(0)}`;
    if (firstBest === null || index === 0) return best;
    const off = bestPosition - firstBest;
    return `${best}, ${off >= 0 ? '+' : '−'}${Math.abs(off).toFixed(0)}`;
  }
</script>

{#if kept.length > 0 || offsets.length > 0}
  <div class="mt-2 grid gap-x-6 text-sm sm:grid-cols-2">
    {#if kept.length > 0}
      <table class="w-full self-start">
        <caption class="text-muted text-left text-xs">Runs that were kept</caption>
        <tbody>
          {#each kept as run, index (index)}
            <tr class="border-line border-t">
              <td class="py-0.5" title={run.note}>{run.name}</td>
              <td class="text-right">{bestInWords(run, index)}</td>
            </tr>
          {/each}
        </tbody>
      </table>
    {/if}
    {#if offsets.length > 0}
      <table class="w-full self-start">
        <caption class="text-muted text-left text-xs">Offsets by the thickness of the glass, steps</caption>
        <tbody>
          {#each offsets as { name, steps }, index (index)}
            <tr class="border-line border-t"
              ><td class="py-0.5">{name}</td><td class="text-right">{steps > 0 ? '+' : ''}{steps}</td></tr
            >
          {/each}
        </tbody>
      </table>
    {/if}
  </div>
{/if}
