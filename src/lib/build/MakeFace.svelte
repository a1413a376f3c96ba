<script lang="ts">
  import { SCREW_SIZES, type FaceAsked, type ScrewHoles } from '@lodestone/core/finder';
  import { portInWords } from '@lodestone/core/joint';
  import type { Port } from '@lodestone/core/train';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import DraftInput from '$lib/ui/DraftInput.svelte';
  import Fold from '$lib/ui/Fold.svelte';
  import { numberText, parseNumber } from '$lib/ui/parse.ts';
  import PortEditor from '$lib/ui/PortEditor.svelte';
  import type { Making } from './make.svelte.ts';
  import { untrack } from 'svelte';

  interface Props {
    making: Making;
    side: 'sky' | 'camera';
    /** As it is made now; undefined where that is not known yet. */
    port: Port | undefined;
    /** It is a bayonet, or its flange’s bolt circle: a flange is asked for. */
    hasFlange: boolean;
  }
  const { making, side, port, hasFlange }: Props = $props();
  const display = useDisplay();

  const HOLES: readonly (readonly [ScrewHoles['hole'], string])[] = [
    ['tapped', 'into this part'],
    ['through', 'through, cap heads'],
    ['countersunk', 'through, countersunk']
  ];

  const asked = $derived<FaceAsked>(making.asked[side] ?? {});
  const isBolted = $derived(hasFlange || (port !== undefined && 'bolts' in port));
  const words = $derived(side === 'sky' ? 'Sky face' : 'Camera face');

  // A flange is one thing: it is asked for whole, and kept while it is typed.
  let flange = $state<{ thicknessMm?: number; count?: number; circleMm?: number }>(
    untrack(() => {
      const given = making.asked[side]?.flange;
      return given ? { thicknessMm: given.thicknessMm, ...given.bolts } : {};
    })
  );
  const FLANGE = $derived([
    { key: 'thicknessMm', title: 'Flange thickness', label: 'flange thickness', unit: display.unit },
    { key: 'count', title: 'Screws', label: 'screws of the flange', unit: undefined },
    { key: 'circleMm', title: 'Screw circle', label: 'screw circle of the flange', unit: display.unit }
  ] as const);
  function keepFlange(key: keyof typeof flange, to: number | undefined): string | undefined {
    if (to !== undefined && !(to > 0 && to <= (key === 'count' ? 36 : 300)))
      return 'More than 0, and no more than usual.';
    if (key === 'count' && to !== undefined && !Number.isInteger(to)) return 'A whole number of screws.';
    flange = { ...flange, [key]: to };
    const { thicknessMm, count, circleMm } = flange;
    const isWhole = thicknessMm !== undefined && count !== undefined && circleMm !== undefined;
    return making.setFace(side, 'flange', isWhole ? { thicknessMm, bolts: { count, circleMm } } : undefined);
  }
</script>

<div class="grid gap-1.5" data-face={side}>
  <h3 class="font-semibold">
    {words}: <span class="font-normal">{port ? portInWords(port) : 'not known'}</span>
  </h3>
  {#if hasFlange}
    <p class="text-muted text-xs">
      A lathe makes no bayonet. Bolt one on: off an old adapter, or bought as a spare. Measure it.
    </p>
    <div class="grid grid-cols-3 gap-2 text-xs">
      {#each FLANGE as { key, title, label, unit } (key)}
        <label class="grid gap-0.5"
          ><span class="text-muted">{title}</span>
          <DraftInput
            text={numberText(flange[key], unit)}
            label="{words}: {label}"
            numeric
            suffix={unit}
            parse={(text) => parseNumber(text, unit)}
            commit={(to) => keepFlange(key, to)}
          /></label
        >
      {/each}
    </div>
  {/if}
  {#if isBolted}
    <div class="grid grid-cols-[2fr_3fr] gap-2 text-xs">
      <label class="grid gap-0.5"
        ><span class="text-muted">Screw size</span>
        <select
          class="select select-sm w-full"
          aria-label="{words}: screw size"
          value={asked.screws?.thread ?? ''}
          onchange={({ currentTarget: { value } }) =>
            making.setFace(
              side,
              'screws',
              value === '' ? undefined : { thread: value, hole: asked.screws?.hole ?? 'tapped' }
            )}
        >
          <option value="">not stated</option>
          {#each SCREW_SIZES as size (size)}<option>{size}</option>{/each}
        </select></label
      >
      {#if asked.screws}
        <label class="grid gap-0.5"
          ><span class="text-muted">Screws go</span>
          <select
            class="select select-sm w-full"
            aria-label="{words}: screws go"
            value={asked.screws.hole}
            onchange={({ currentTarget: { value } }) => {
              const hole = HOLES.find(([each]) => each === value)?.[0];
              if (hole && asked.screws) making.setFace(side, 'screws', { ...asked.screws, hole });
            }}
          >
            {#each HOLES as [hole, how] (hole)}<option value={hole}>{how}</option>{/each}
          </select></label
        >
      {/if}
    </div>
  {/if}
  <Fold title="Change this face" class="text-xs" titleClass="text-muted" wanted={asked.port !== undefined}>
    <PortEditor label={words} port={asked.port ?? port} commit={(to) => making.setFace(side, 'port', to)} />
    {#if asked.port}
      <button class="link-quiet mt-1" onclick={() => making.setFace(side, 'port', undefined)}
        >As its neighbour needs it</button
      >
    {/if}
  </Fold>
</div>
