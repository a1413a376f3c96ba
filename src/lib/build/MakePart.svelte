<script lang="ts" module>
  import { Making, type MadeDraft } from './make.svelte.ts';

  /** What was asked of parts to have made, by train and place: it is there again when the dialog is. */
  const kept: Record<string, MadeDraft | undefined> = {};
</script>

<script lang="ts">
  import { ringFault, workshopDrawing, type Variant } from '@lodestone/core/drawing';
  import { cameraPort, isBody, skyPort, type Port } from '@lodestone/core/train';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { facesAt } from '$lib/train/starters.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import DraftInput from '$lib/ui/DraftInput.svelte';
  import Modal from '$lib/ui/Modal.svelte';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { numberText, parseNumber } from '$lib/ui/parse.ts';
  import Plus from '@lucide/svelte/icons/plus';
  import DrawingFiles from './DrawingFiles.svelte';
  import DrawingView from './DrawingView.svelte';
  import MakeFace from './MakeFace.svelte';
  import MakeVariant from './MakeVariant.svelte';
  import { onDestroy, untrack } from 'svelte';
  import type { MadeVariant } from './make.svelte.ts';

  interface Props {
    /** Id of the gap, or of the part that is made otherwise. */
    place: string;
    onclose: () => void;
  }
  const { place, onclose }: Props = $props();
  const train = useTrain();
  const drawer = useDrawer();
  const display = useDisplay();
  const notices = useNotices();

  const SIDES = ['sky', 'camera'] as const;
  const SIZES = [
    ['toleranceMm', 'Tolerance ±'],
    ['clearMm', 'Clear aperture'],
    ['outerMm', 'Outer diameter']
  ] as const;
  const LARGEST_MM = 1000;

  const key = untrack(() => `${train.id} ${place}`);
  const making = untrack(
    () =>
      new Making(
        place,
        () => train.document,
        () => drawer.plain,
        kept[key]
      )
  );
  onDestroy(() => (kept[key] = making.draft));
  const { made } = $derived(making);
  const first = $derived(made.find(({ answer }) => answer.ok)?.answer);
  const spec = $derived(first?.ok ? first.spec : undefined);
  const faults = $derived(made.map(({ answer }) => (answer.ok ? ringFault(answer.spec) : undefined)));
  const variants = $derived(
    made.flatMap(({ name, answer }, at): Variant[] =>
      answer.ok && faults[at] === undefined ? [{ name, spec: answer.spec }] : []
    )
  );
  const title = $derived.by(() => {
    const [only] = variants;
    const what = first?.ok ? first.element.name.replace(/ [\d.]+ made to measure$/, '') : 'Part';
    const length = variants.length === 1 && only ? ` ${only.spec.lengthMm.toFixed(2)}` : '';
    return `${what}${length} for ${train.document.name}`;
  });
  const drawing = $derived(variants.length > 0 ? workshopDrawing(variants, title) : undefined);

  /** A face as it is made, or as its neighbour needs it while that is not known. */
  function faceOf(side: 'sky' | 'camera'): Port | undefined {
    const { element } = making;
    const needed = facesAt(train.document, making.place)[side];
    if (first?.ok) return first.element[side];
    if (making.asked[side]?.port) return making.asked[side].port;
    const own = element && isBody(element) ? (side === 'sky' ? skyPort(element) : cameraPort(element)) : undefined;
    return own ?? needed;
  }
  const hasFlange = (side: 'sky' | 'camera', port: Port | undefined): boolean =>
    (port !== undefined && 'bayonet' in port) || made.some(({ answer }) => !answer.ok && answer.needsFlange === side);

  function setSize(key: (typeof SIZES)[number][0], to: number | undefined): string | undefined {
    if (to !== undefined && !(to > 0 && to <= LARGEST_MM))
      return `More than 0, at most ${display.length(LARGEST_MM, 0)}.`;
    return making.set(key, to);
  }

  function putIn(variant: MadeVariant) {
    const operation = making.operationOf(variant);
    if (!operation || !variant.answer.ok) return;
    const refusal = train.dispatch(operation, `Put in ${variant.answer.element.name}`);
    if (refusal !== undefined) return notices.complain(refusal);
    train.select({ kind: 'element', id: making.place });
    onclose();
  }
</script>

<Modal title="Made to measure, for {making.element?.name ?? 'a gap'}" open wide="drawing" {onclose}>
  <div class="grid gap-4 lg:grid-cols-[20rem_minmax(0,1fr)]">
    <div class="grid content-start gap-3 text-sm">
      {#each SIDES as side (side)}
        {@const port = faceOf(side)}
        <MakeFace {making} {side} {port} hasFlange={hasFlange(side, port)} />
      {/each}
      <div class="grid grid-cols-3 gap-2 text-xs">
        {#each SIZES as [size, label] (size)}
          <label class="grid content-end gap-0.5"
            ><span class="text-muted">{label}</span>
            <DraftInput
              text={numberText(making.asked[size], display.unit)}
              {label}
              numeric
              placeholder={numberText(spec?.[size], display.unit)}
              suffix={display.unit}
              parse={(text) => parseNumber(text, display.unit)}
              commit={(to) => setSize(size, to)}
            /></label
          >
        {/each}
      </div>
      <div>
        <ul>
          {#each made as variant, at (variant.draft.id)}
            <MakeVariant
              {making}
              {variant}
              letter={String.fromCharCode(65 + at)}
              several={made.length > 1}
              fault={faults[at]}
              onplace={() => putIn(variant)}
            />
          {/each}
        </ul>
        {#if making.canAdd}
          <button class="btn btn-outline btn-sm mt-1 w-full" onclick={() => making.add()}
            ><Plus size={14} />Add a variant</button
          >
          <p class="text-muted mt-1 text-xs">
            The same part for another camera, or without the wheel: side by side on one sheet.
          </p>
        {/if}
      </div>
    </div>
    <div class="grid content-start gap-2">
      {#if drawing}
        <DrawingView {drawing} label="Drawing: {title}" />
        <DrawingFiles {variants} {title} />
      {:else}
        <p class="text-muted border-line grid aspect-[297/210] place-content-center border border-dashed p-6 text-sm">
          The drawing comes here once the length is known.
        </p>
      {/if}
    </div>
  </div>
</Modal>
