<script lang="ts">
  import { dayOf } from '$lib/ui/time.ts';
  import { KINDS } from '@lodestone/core/train';
  import { STATE_WORDS, type Part, type PartState } from '@lodestone/core/drawer';
  import { provideEditing } from '$lib/element/editing.ts';
  import ElementFields from '$lib/element/ElementFields.svelte';
  import Section from '$lib/element/Section.svelte';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import type { OwnedPart } from '$lib/parts/transport.ts';
  import PartDrawing from '$lib/rail/PartDrawing.svelte';
  import DraftInput, { type Parsed } from '$lib/ui/DraftInput.svelte';
  import { parseNumber, numberText } from '$lib/ui/parse.ts';
  import Copy from '@lucide/svelte/icons/copy';
  import Tag from '@lucide/svelte/icons/tag';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import type { Instrument } from '$lib/calipers/instrument.svelte.ts';
  import Photo from './Photo.svelte';
  import Series from './Series.svelte';

  interface Props {
    owned: OwnedPart;
    instrument: Instrument;
    places: readonly string[];
    onduplicate: () => void;
    onremove: () => void;
    onlabel: () => void;
  }
  const { owned, instrument, places, onduplicate, onremove, onlabel }: Props = $props();
  const drawer = useDrawer();
  const part = $derived(owned.part);
  const uses = $derived(drawer.usesOf(part.partId));

  provideEditing({ dispatch: (operation, label, run) => drawer.edit(part.partId, operation, label, run) });

  const put = (change: Partial<Part>, label: string, run?: string) =>
    drawer.change(label, [{ ...part, ...change }], [], run && `${part.partId} ${run}`);

  const wholeNumber = (text: string): Parsed<number> => {
    const parsed = parseNumber(text);
    return parsed.ok && parsed.parsed !== undefined && Number.isInteger(parsed.parsed) && parsed.parsed >= 1
      ? { ok: true, parsed: parsed.parsed }
      : { ok: false, message: 'A whole number from 1 on is needed.' };
  };

  function keepPrice(price: number | undefined): string | undefined {
    const { price: _old, ...rest } = part;
    return drawer.change(
      `Price of ${part.partId}`,
      [price === undefined ? rest : { ...rest, price }],
      [],
      `${part.partId} price`
    );
  }
  let message = $state<string>();
</script>

<div class="flex items-start justify-between gap-2">
  <div class="min-w-0">
    <p class="text-muted text-xs">{KINDS[part.element.kind].words}</p>
    <h2 class="text-lg leading-tight font-semibold">{part.partId}</h2>
    <p class="leading-tight">{part.element.name}</p>
  </div>
  <div class="flex shrink-0">
    <button
      class="btn btn-ghost btn-xs btn-square"
      title="Print a label (B)"
      aria-label="Print a label"
      onclick={onlabel}
    >
      <Tag size={14} />
    </button>
    <button
      class="btn btn-ghost btn-xs btn-square"
      title="Another like it (C)"
      aria-label="Another part like it"
      onclick={onduplicate}
    >
      <Copy size={14} />
    </button>
    <button class="btn btn-ghost btn-xs btn-square" title="Delete" aria-label="Delete {part.partId}" onclick={onremove}>
      <Trash2 size={14} />
    </button>
  </div>
</div>
<div class="my-2 flex justify-center">
  <PartDrawing element={part.element} widthPx={280} heightPx={120} pxPerMm={6} />
</div>

<div class="grid gap-2 pb-3">
  <div class="grid grid-cols-[minmax(0,1fr)_4.5rem] gap-2">
    <label class="grid gap-0.5">
      <span class="text-muted text-xs">Place</span>
      <DraftInput
        text={part.location}
        label="Place"
        placeholder="Tin 2 / Bag C"
        list="places"
        parse={(text) => ({ ok: true, parsed: text })}
        commit={(location) => put({ location }, `Move ${part.partId}`, 'location')}
        onmessage={(next) => (message = next)}
      />
    </label>
    <label class="grid gap-0.5">
      <span class="text-muted text-xs">How many</span>
      <DraftInput
        text={String(part.quantity)}
        label="How many"
        numeric
        parse={wholeNumber}
        commit={(quantity) => put({ quantity }, `Count ${part.partId}`, 'quantity')}
        onmessage={(next) => (message = next)}
      />
    </label>
    <label class="grid gap-0.5">
      <span class="text-muted text-xs">State</span>
      <select
        class="select select-sm w-full"
        aria-label="State"
        value={part.owned ? part.state : 'to-buy'}
        onchange={({ currentTarget: { value } }) =>
          value === 'to-buy'
            ? put({ owned: false }, `Mark ${part.partId}`)
            : put({ owned: true, state: value as PartState }, `Mark ${part.partId}`)}
      >
        {#each Object.entries(STATE_WORDS) as [state, words] (state)}<option value={state}>{words}</option>{/each}
        <option value="to-buy">to buy</option>
      </select>
    </label>
    <label class="grid gap-0.5">
      <span class="text-muted text-xs">Price</span>
      <DraftInput
        text={numberText(part.price)}
        label="Price"
        numeric
        parse={(text) => parseNumber(text)}
        commit={keepPrice}
        onmessage={(next) => (message = next)}
      />
    </label>
  </div>
  {#if message}<p class="text-error text-xs" role="alert">{message}</p>{/if}
  <datalist id="places"
    >{#each places as place (place)}<option value={place}></option>{/each}</datalist
  >

  <p class="text-xs">
    {#each uses as { trainId, trainName, assembled, copy }, index (index)}
      <a class="link-quiet" href="/trains/{trainId}/build">{trainName}</a>
      <span class="text-muted">
        {assembled ? `holds ${part.quantity > 1 ? `copy ${copy}` : 'it'}` : 'plans with it'}{index < uses.length - 1
          ? ', '
          : ''}
      </span>
    {:else}
      <span class="text-muted">No train uses it.</span>
    {/each}
  </p>
</div>

<Section title="Measured" open gist="">
  <Series {part} {instrument} />
</Section>
<ElementFields element={part.element} inTrain={false} />
<Section title="Photo" gist={owned.photo ? 'there is one' : 'none'} open={owned.photo !== null}>
  <Photo {owned} />
</Section>
<p class="text-muted border-line border-t pt-2 text-xs">Changed {dayOf(owned.changedAt)}</p>
