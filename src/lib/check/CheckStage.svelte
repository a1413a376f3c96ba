<script lang="ts">
  import { capitalised } from '@lodestone/core/why';
  import { checkup, filledInWords, snapshotFindings, type Finding } from '@lodestone/core/check';
  import Face from '$lib/face/Face.svelte';
  import { FACE_LAYERS } from '$lib/face/faceView.svelte.ts';
  import FramingBehind from '$lib/face/FramingBehind.svelte';
  import CarouselOver from '$lib/face/CarouselOver.svelte';
  import { FramingView } from '$lib/face/framing.svelte.ts';
  import { carouselOf, carouselRadii } from '$lib/face/slotPlan.ts';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { inAddress } from '$lib/ui/address.svelte.ts';
  import { useCommands } from '$lib/ui/commands.svelte.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import Sheet, { type SheetLevel } from '$lib/ui/Sheet.svelte';
  import { Frame } from '$lib/workbench/frame.svelte.ts';
  import ChosenParts from '$lib/workbench/ChosenParts.svelte';
  import ElementInspector from '$lib/workbench/ElementInspector.svelte';
  import HostInspector from '$lib/workbench/HostInspector.svelte';
  import JointInspector from '$lib/workbench/JointInspector.svelte';
  import StageFrame from '$lib/workbench/StageFrame.svelte';
  import CheckList from './CheckList.svelte';
  import CheckVerdict from './CheckVerdict.svelte';
  import DoubtPanel from './DoubtPanel.svelte';
  import { openField } from './fill.ts';
  import FramingPanel from './FramingPanel.svelte';
  import GuidePanel from './GuidePanel.svelte';
  import LightPanel from './LightPanel.svelte';
  import LoadPanel from './LoadPanel.svelte';
  import SlotPanel from './SlotPanel.svelte';
  import { CheckView, type Panel } from './stage.svelte.ts';

  const train = useTrain();
  const drawer = useDrawer();
  const display = useDisplay();
  const frame = new Frame();
  const { view, tell } = frame;
  const stage = new CheckView();
  const framing = new FramingView(train);

  const PANELS: readonly (readonly [Panel, string])[] = [
    ['light', 'light'],
    ['guide', 'guide'],
    ['framing', 'framing'],
    ['slots', 'slots'],
    ['load', 'load'],
    ['length', 'length'],
    ['part', 'part']
  ];

  inAddress(
    PANELS.map(([panel]) => panel),
    () => stage.panel,
    (panel) => stage.show(panel)
  );

  let level = $state<SheetLevel>('peek');
  const { selection } = $derived(train);
  const { element, joint } = $derived(frame);
  /** The carousel that is looked at: that of the part selected, else the first there is. */
  const carousel = $derived.by(() => {
    const { designSlots } = train.assessment.ledger;
    const all = train.shown.elements.flatMap((each) => carouselOf(each, designSlots.get(each.id)) ?? []);
    return all.find(({ id }) => id === element?.id) ?? all[0];
  });
  const reachMm = $derived.by(() => {
    const radii = stage.face.has('slots') && carousel ? carouselRadii(carousel) : undefined;
    return Math.max(stage.face.has('framing') ? framing.reachMm : 0, radii ? 2 * radii.ringMm + radii.slotMm + 6 : 0);
  });
  const lines = $derived([
    ...checkup(train.assessment),
    ...snapshotFindings(train.document, (partId) => drawer.byId.get(partId)?.part).map((finding) => ({
      title: 'Out of date',
      finding
    }))
  ]);
  /** What these panels rest on where the train has gaps. */
  const rests = $derived(filledInWords(train.assessment.facts, display.unit));
  const JUDGED_FILLED: ReadonlySet<string> = new Set(['light', 'guide', 'framing', 'load']);
  const title = $derived(stage.panel === 'part' ? (element?.name ?? train.document.host.name) : stage.panel);

  function show({ place }: Finding) {
    train.select(place.kind === 'plate' ? { kind: 'element', id: place.id } : place);
    const item = train.layout.items.find(({ id }) => 'id' in place && id === place.id);
    if (item) view.reveal(item.fromMm, item.toMm);
  }
  async function fill(finding: Finding) {
    show(finding);
    showPart();
    if (finding.fill) await openField(finding.fill);
  }
  function showPart() {
    stage.panel = 'part';
    if (level === 'peek') level = 'half';
  }
  /** The point of the sensor that is looked at, by keys from anywhere on the stage. */
  const nudge = (by: number) => stage.layers.moveTo(stage.layers.share + by);
  const NUDGE = 0.05;

  useCommands().register([
    {
      id: 'face',
      group: 'Rail',
      title: 'Go to the face',
      key: 'E',
      run: () => document.getElementById('face')?.focus()
    },
    {
      id: 'point-out',
      group: 'Rail',
      title: 'Field point outward',
      key: 'ArrowUp',
      within: '#rail',
      enabled: () => stage.layers.has('light'),
      run: () => nudge(NUDGE)
    },
    {
      id: 'point-in',
      group: 'Rail',
      title: 'Field point inward',
      key: 'ArrowDown',
      within: '#rail',
      enabled: () => stage.layers.has('light'),
      run: () => nudge(-NUDGE)
    }
  ]);
</script>

<StageFrame {frame} layout="check" layers={stage.layers}>
  {#snippet verdict()}<CheckVerdict {lines} />{/snippet}
  {#snippet children(rail)}
    {@render rail()}
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <section class="panel area-checks" aria-label="Checks" tabindex="0">
      <CheckList {lines} onshow={show} onfill={(finding) => void fill(finding)} />
    </section>
    <section class="panel area-face relative" aria-label="Face">
      <div class="absolute top-1 right-2 left-2 z-10 flex flex-wrap items-center gap-x-1">
        <span class="text-muted mr-2 text-xs">from the camera</span>
        {#each FACE_LAYERS as { id, title: words } (id)}
          <button
            class={['btn btn-ghost btn-xs font-normal', stage.face.has(id) && 'text-primary font-semibold']}
            aria-pressed={stage.face.has(id)}
            onclick={() => {
              stage.face.toggle(id);
              if (stage.face.has(id)) stage.panel = id === 'cables' ? 'load' : id;
            }}>{words}</button
          >
        {/each}
      </div>
      {#snippet behind(pxPerMm: number)}
        {#if stage.face.has('slots') && carousel}<CarouselOver {carousel} {pxPerMm} />{/if}
        {#if stage.face.has('framing')}<FramingBehind {framing} {pxPerMm} />{/if}
      {/snippet}
      <Face
        view={stage.face}
        layers={stage.layers}
        onopen={showPart}
        {behind}
        {reachMm}
        turnDeg={stage.face.has('framing') ? (framing.turnDeg ?? 0) : 0}
      />
    </section>
    <Sheet id="inspector" label="What is looked at" {title} class="area-panel" bind:level>
      <div class="-mt-1 mb-2 flex gap-x-0.5" role="group" aria-label="What is looked at">
        {#each PANELS as [panel, words] (panel)}
          <button
            class={['btn btn-xs font-normal', stage.panel === panel ? 'btn-neutral' : 'btn-ghost']}
            aria-pressed={stage.panel === panel}
            onclick={() => stage.show(panel)}>{words}</button
          >
        {/each}
      </div>
      {#if rests !== undefined && JUDGED_FILLED.has(stage.panel)}
        <p class="text-muted mb-2 text-xs" data-once-filled>{capitalised(rests)}.</p>
      {/if}
      {#if stage.panel === 'light'}
        <LightPanel view={stage.face} layers={stage.layers} />
      {:else if stage.panel === 'guide'}
        <GuidePanel />
      {:else if stage.panel === 'framing'}
        <FramingPanel {framing} />
      {:else if stage.panel === 'slots'}
        <SlotPanel {carousel} />
      {:else if stage.panel === 'load'}
        <LoadPanel />
      {:else if stage.panel === 'length'}
        <DoubtPanel />
      {:else}
        {#key selection}
          {#if train.chosen.length > 1}
            <ChosenParts />
          {:else if joint}
            <JointInspector {joint} />
          {:else if element}
            <ElementInspector
              {element}
              onremove={() => tell(train.removeChosen())}
              onshift={(by) => tell(train.shift(by))}
            />
          {:else}
            <HostInspector />
          {/if}
        {/key}
      {/if}
    </Sheet>
  {/snippet}
</StageFrame>

<style>
  :global(.stage.check) {
    padding-bottom: 4rem;
    grid-template-areas: 'verdict' 'rail' 'face' 'checks';
  }
  .area-checks {
    position: relative;
    grid-area: checks;
    overflow-y: auto;
  }
  .area-face {
    grid-area: face;
    height: min(26rem, 92vw);
  }
  @media (min-width: 64rem) {
    :global(.stage.check) {
      height: calc(100dvh - 2.75rem);
      padding-bottom: 0.75rem;
      grid-template-columns: minmax(0, 1fr) minmax(24rem, 36%);
      /* The rail is wide and the face is square: the one needs less height than the other. */
      grid-template-rows: auto minmax(14rem, 9fr) minmax(0, 2fr) minmax(0, 7fr);
      grid-template-areas: 'verdict verdict' 'rail face' 'checks face' 'checks panel';
    }
    :global(.stage.check > .area-rail),
    .area-face {
      height: auto;
      min-height: 0;
    }
    :global(.stage.check > .area-panel) {
      grid-area: panel;
      min-height: 0;
    }
  }
</style>
