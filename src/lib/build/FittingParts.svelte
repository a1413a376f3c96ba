<script lang="ts">
  import { CATALOGUE_NOTE, usualParts, type UsualFit } from '@lodestone/core/catalogue';
  import { fitAt, type Fit } from '@lodestone/core/joint';
  import {
    partLength,
    partsThatFit,
    placedPart,
    nearestQuery,
    searchParts,
    type FittingPart,
    type Part
  } from '@lodestone/core/drawer';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import PartIcon from '$lib/rail/PartIcon.svelte';
  import type { RailView } from '$lib/rail/view.svelte.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { foreseen } from '$lib/train/whatIf.ts';
  import { neighboursAt, newId } from '$lib/train/starters.ts';
  import { Combobox } from '$lib/ui/combobox.svelte.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { untrack } from 'svelte';
  import type { Attachment } from 'svelte/attachments';
  import { draggedOut } from './draggedOut.ts';

  interface Props {
    /** Element before which a part would go in. */
    before: string;
    view: RailView;
  }
  const { before, view }: Props = $props();
  const train = useTrain();
  const drawer = useDrawer();
  const display = useDisplay();
  const notices = useNotices();

  const SHOWN = 40;
  const USUAL_SHOWN = 8;
  type Offer = { id: string } & ({ entry: FittingPart; usual?: undefined } | { usual: UsualFit; entry?: undefined });
  let query = $state('');
  /** Enter came before the drawer had been read: what is typed is placed once it has. */
  let placeOnceRead = $state(false);
  let ghost = $state.raw<{ part: Part; x: number; y: number }>();

  const { above, below } = $derived(neighboursAt(train.document, before));
  const { residualMm } = $derived(train.assessment.report);
  const missing = $derived(residualMm !== null && residualMm < 0 ? -residualMm : undefined);

  /** Copies of each part that stand in this train already. */
  const here = $derived.by(() => {
    const counts: Record<string, number> = {};
    for (const element of train.document.elements) {
      if ('partId' in element && element.partId !== undefined)
        counts[element.partId] = (counts[element.partId] ?? 0) + 1;
    }
    return counts;
  });
  const elsewhere = (part: Part): string | undefined => {
    const holders = drawer.holders(part.partId, train.id);
    const free = part.quantity - holders.length - (here[part.partId] ?? 0);
    if (free > 0) return undefined;
    return holders.length > 0
      ? `in ${[...new Set(holders.map(({ trainName }) => trainName))].join(', ')}`
      : 'here already';
  };

  /** Without words what fits; with words whatever is called that, what fits first. */
  const listed = $derived.by((): FittingPart[] => {
    if (query.trim() === '') {
      return partsThatFit(drawer.plain, above, below, missing).filter(
        ({ part, fit }) => fit.closes === 'both' && elsewhere(part) === undefined
      );
    }
    const found = searchParts(drawer.index, query);
    const fitting = partsThatFit(found, above, below, missing);
    const ids = new Set(fitting.map(({ part }) => part.partId));
    const others = found
      .filter((part) => !ids.has(part.partId) && part.element.kind !== 'camera')
      .map((part): FittingPart => ({ part, fit: { closes: 'unknown', reversed: false } }));
    return [...fitting, ...others];
  });
  const nearest = $derived(listed.length === 0 ? nearestQuery(drawer.index, query) : undefined);
  const shown = $derived(listed.slice(0, SHOWN));
  /** What the drawer has not: what is asked for by its name, or what would close the place. */
  const usual = $derived.by(() => {
    const wanted = query.trim() !== '' || listed.length === 0;
    return wanted && (drawer.isRead || drawer.isAway) ? usualParts(query, above, below).slice(0, USUAL_SHOWN) : [];
  });
  /** What closes the place comes first, one's own before what one would have to get. */
  const offers = $derived.by((): Offer[] => {
    const own = shown.map((entry): Offer => ({ id: entry.part.partId, entry }));
    const others = usual.map((each): Offer => ({ id: `usual-${each.thing.id}`, usual: each }));
    const closes = ({ entry, usual: other }: Offer): boolean => (entry ?? other).fit?.closes === 'both';
    const [first, second] = [own, others].map((all) => all.filter(closes));
    return [...first!, ...second!, ...[...own, ...others].filter((offer) => !closes(offer))];
  });
  const fits = (part: Part): Fit | undefined => fitAt(part.element, above, below);

  const joins = ({ closes }: Fit): string =>
    closes === 'unknown' ? 'does not fit here' : `joins on the ${closes} side only`;

  const placing = ({ part, fit }: FittingPart, at: string) =>
    ({
      op: 'insert',
      element: placedPart(part, { id: newId(), reversed: fit.reversed }),
      before: at
    }) as const;

  function place(entry: FittingPart, at = before) {
    const { part } = entry;
    const refusal = train.dispatch(placing(entry, at), `Place ${part.partId}`);
    if (refusal) return notices.complain(refusal);
    const gone = elsewhere(part);
    if (gone?.startsWith('in ')) notices.say(`${part.partId} is ${gone} just now; planning with it is free.`);
    query = '';
    combo.reset();
  }

  function placeUsual({ thing }: UsualFit) {
    const element = { ...thing.element, id: newId() };
    const refusal = train.dispatch({ op: 'insert', element, before }, `Add ${thing.words}`);
    if (refusal) return notices.complain(refusal);
    train.select({ kind: 'element', id: element.id });
    query = '';
    combo.reset();
  }

  const take = (offer: Offer): void => (offer.usual ? placeUsual(offer.usual) : place(offer.entry));

  /** Dropped on a joint of the rail: there it may have to stand the other way round. */
  function drop(part: Part) {
    const target = view.carried;
    endDrag();
    if (!target) return;
    place(turnedFor(part, target.before), target.before);
  }

  /** A part as it has to stand at a joint. */
  function turnedFor(part: Part, at: string): FittingPart {
    const there = neighboursAt(train.document, at);
    return { part, fit: fitAt(part.element, there.above, there.below) ?? { closes: 'unknown', reversed: false } };
  }

  /** How the train would stand if the part that is held were let go. */
  const heldOver = $derived(view.carried?.before);
  const heldPart = $derived(ghost?.part);
  const wouldBe = $derived(
    heldPart && heldOver !== undefined
      ? foreseen(train.assessment, placing(turnedFor(heldPart, heldOver), heldOver), display.unit)
      : undefined
  );

  function endDrag() {
    view.carried = undefined;
    ghost = undefined;
  }

  const attachments: Record<string, Attachment<HTMLElement>> = {};
  const draggable = (partId: string): Attachment<HTMLElement> =>
    (attachments[partId] ??= draggedOut({
      ondrag: (x, y) => {
        const part = drawer.byId.get(partId)?.part;
        if (!part) return;
        ghost = { part, x, y };
        view.carried = view.placeAt?.(x, y);
      },
      onend: () => {
        const part = drawer.byId.get(partId)?.part;
        if (ghost && part) drop(part);
      },
      oncancel: endDrag
    }));

  // A large drawer is made ready for searching when the page is still, not at the first letter.
  const STILL_MS = 300;
  let still = $state(false);
  $effect(() => {
    const timer = setTimeout(() => (still = true), STILL_MS);
    return () => clearTimeout(timer);
  });
  $effect(() => void (still && drawer.index));

  $effect(() => {
    if (!placeOnceRead || !drawer.isRead) return;
    placeOnceRead = false;
    const first = offers[combo.active ?? 0];
    if (first) untrack(() => take(first));
  });

  const combo = new Combobox<Offer>({
    id: 'fitting',
    items: () => offers,
    pick: take,
    // What one does not own is put in only where it was walked to, or asked for by its name.
    takesFirst: () => shown.length > 0 || query.trim() !== ''
  });

  function onkeydown(event: KeyboardEvent) {
    if (event.key !== 'Enter') placeOnceRead = false;
    if (combo.onkeydown(event)) return;
    if (event.key === 'Enter') {
      event.preventDefault();
      placeOnceRead = !drawer.isRead && query.trim() !== '';
    } else if (event.key === 'Escape' && query !== '') {
      event.preventDefault();
      query = '';
    } else if (event.key === 'Escape') document.getElementById('rail')?.focus();
  }
</script>

<input
  id="from-drawer"
  class="input input-sm w-full"
  type="search"
  role="combobox"
  aria-label="Place a part from the drawer"
  aria-expanded={offers.length > 0}
  aria-controls={offers.length > 0 ? combo.listId : undefined}
  aria-activedescendant={combo.activeId}
  placeholder="From the drawer: type, or drag one"
  autocomplete="off"
  spellcheck="false"
  bind:value={query}
  oninput={combo.reset}
  {onkeydown}
/>
{#if offers.length > 0}
  <ul id={combo.listId} role="listbox" aria-label="Parts that fit here" class="mt-1 max-h-72 overflow-y-auto">
    {#each offers as offer, index (offer.id)}
      {#if offer.entry}
        {@const { entry } = offer}
        {@const { part, fit } = entry}
        {@const gone = elsewhere(part)}
        {@const suits = fits(part)?.closes === 'both'}
        <!-- svelte-ignore a11y_click_events_have_key_events -->
        <li
          {@attach draggable(part.partId)}
          id={combo.optionId(index)}
          role="option"
          aria-selected={index === combo.active}
          aria-label="{part.partId}, {part.element.name}, {display.length(partLength(part))}{suits
            ? ''
            : ', does not fit here'}"
          class={['fitting', index === combo.active && 'active', !suits && 'opacity-60']}
          onclick={() => place(entry)}
          data-part={part.partId}
        >
          <PartIcon element={part.element} widthPx={44} heightPx={38} pxPerMm={1.6} />
          <span class="min-w-0">
            <span class="block truncate">
              <span class="font-semibold">{part.partId}</span>
              {display.length(partLength(part))}{fit.reversed ? ', turned round' : ''}
            </span>
            <span class="text-muted block truncate text-xs">
              {gone ?? (suits ? part.location : joins(fit))}
            </span>
          </span>
        </li>
      {:else}
        {@const { thing, fit } = offer.usual}
        {@const suits = fit?.closes === 'both'}
        <!-- svelte-ignore a11y_click_events_have_key_events -->
        <li
          id={combo.optionId(index)}
          role="option"
          aria-selected={index === combo.active}
          aria-label="{thing.words}, {display.length(thing.element.lengthMm)}, {CATALOGUE_NOTE}{suits
            ? ''
            : ' Does not fit here.'}"
          class={['fitting cursor-pointer', index === combo.active && 'active', fit && !suits && 'opacity-60']}
          title={CATALOGUE_NOTE}
          onclick={() => placeUsual(offer.usual)}
          data-usual={thing.id}
        >
          <PartIcon element={thing.element} widthPx={44} heightPx={38} pxPerMm={1.6} />
          <span class="min-w-0">
            <span class="block truncate">{thing.words}</span>
            <span class="text-muted block truncate text-xs">
              {display.length(thing.element.lengthMm)}, usual, not in your drawer{fit && !suits
                ? `; ${joins(fit)}`
                : ''}
            </span>
          </span>
        </li>
      {/if}
    {/each}
  </ul>
{:else}
  <p class="text-muted px-2 py-2 text-xs">
    {#if !drawer.isRead}
      {drawer.isAway ? 'The drawer cannot be reached; trying again …' : 'Reading the drawer …'}
      {placeOnceRead ? `“${query.trim()}” is placed here as soon as it is read.` : ''}
    {:else if query.trim() !== ''}
      Nothing in the drawer or among usual parts is called that.
      {#if nearest !== undefined}
        Did you mean <button class="link-quiet" onclick={() => (query = nearest)}>{nearest}</button>?
      {/if}
    {:else}
      Nothing in the drawer closes this place on its own. Type to see what else there is.
    {/if}
  </p>
{/if}
{#if listed.length > SHOWN}<p class="text-muted text-xs">
    and {listed.length - SHOWN} more; type to narrow them down
  </p>{/if}

{#if ghost}
  <div
    class="panel pointer-events-none fixed z-40 max-w-64 px-2 py-1 text-xs shadow-xl"
    style:left="{ghost.x + 12}px"
    style:top="{ghost.y + 8}px"
  >
    <span class="font-semibold">{ghost.part.partId}</span>
    <span class={[wouldBe?.bad && 'text-error']}>{wouldBe?.words ?? 'let go over a joint'}</span>
  </div>
{/if}

<style>
  .fitting {
    display: grid;
    grid-template-columns: 38px minmax(0, 1fr);
    gap: 0.5rem;
    align-items: center;
    border-left: 2px solid transparent;
    padding: 0.15rem 0.4rem;
    cursor: grab;
  }
  .fitting:hover {
    background: color-mix(in srgb, var(--color-neutral) 40%, transparent);
  }
  .active {
    border-left-color: var(--color-primary);
    background: color-mix(in srgb, var(--color-neutral) 35%, transparent);
  }
</style>
