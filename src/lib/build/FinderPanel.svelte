<script lang="ts">
  import TryAgain from '$lib/ui/TryAgain.svelte';
  import { HOST, nameOf, type ElementKind } from '@lodestone/core/train';
  import { chanceWithinInWords } from '@lodestone/core/doubt';
  import { plainMm, residualInWords } from '@lodestone/core/why';
  import PartIcon from '$lib/rail/PartIcon.svelte';
  import { filledTrain, type FilledGap, type Solution } from '@lodestone/core/finder';
  import { partLength, placesOf } from '@lodestone/core/drawer';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { askFile } from '$lib/api/ask.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { saveFile } from '$lib/ui/saveFile.ts';
  import Ban from '@lucide/svelte/icons/ban';
  import FileDown from '@lucide/svelte/icons/file-down';
  import Pin from '@lucide/svelte/icons/pin';
  import Square from '@lucide/svelte/icons/square';
  import TriangleAlert from '@lucide/svelte/icons/triangle-alert';
  import X from '@lucide/svelte/icons/x';
  import { MOST_PIECES, type Finder, type Offer, type View } from './finder.svelte.ts';
  import DrawingFiles from './DrawingFiles.svelte';
  import Together from './Together.svelte';
  import TradeOffs from './TradeOffs.svelte';

  const { finder }: { finder: Finder } = $props();
  const train = useTrain();
  const display = useDisplay();
  const notices = useNotices();
  const drawer = useDrawer();
  const places = $derived(placesOf(drawer.plain).filter(({ depth }) => depth === 0));

  const VIEWS: readonly (readonly [View, string, string])[] = [
    ['fewest', 'fewest', 'Fewest pieces within tolerance'],
    ['closest', 'closest', 'Least residual first, then fewest pieces'],
    ['likeliest', 'likeliest', 'Those most sure to be within tolerance, by the uncertainties of all lengths'],
    ['trade-offs', 'trade-offs', 'What nothing beats in residual, pieces and money at once']
  ];

  const WITHOUT: readonly (readonly [ElementKind, string])[] = [
    ['shim', 'shims'],
    ['adapter', 'adapters'],
    ['variable-spacer', 'dials']
  ];

  const partsOf = ({ gaps }: Solution): FilledGap['placed'] => gaps.flatMap(({ placed }) => placed);

  function headline({ residualMm, inTolerance }: Solution): string {
    if (residualMm === null) return 'closes';
    const words = residualInWords(residualMm, display.unit);
    return inTolerance ? (words === 'exact' ? 'within tolerance, exactly' : `within tolerance: ${words}`) : words;
  }

  /** Light the corners may be asked to get, %. */
  const CORNERS = [50, 60, 70, 80, 90, 95, 99] as const;
  const BRIGHT = 0.995;
  const corners = (share: number): string => `${(share * 100).toFixed(0)} % corner light`;

  function details({ pieces, buys, price, probability, assumed, dials, cornerLight }: Solution): string {
    return [
      pieces === 0 ? '' : `${pieces} ${pieces === 1 ? 'piece' : 'pieces'}`,
      buys > 0 ? `${buys} to buy${price > 0 ? ` for ${price}` : ''}` : '',
      ...dials.map(({ id, setMm, lockRing }) => {
        const name = nameOf(train.document, id);
        return lockRing
          ? `unscrew the thread under ${name} to ${display.length(setMm)}`
          : `set ${name} to ${display.length(setMm)}`;
      }),
      probability === null ? '' : chanceWithinInWords(probability, assumed),
      cornerLight === null || cornerLight >= BRIGHT ? '' : corners(cornerLight)
    ]
      .filter(Boolean)
      .join(', ');
  }

  const solutionOf = (offer: Offer): Solution => (offer.kind === 'stack' ? offer.solution : offer.advice.solution);

  function take(index?: number) {
    const refusal = finder.take(index);
    if (refusal) notices.complain(refusal);
    else document.getElementById('rail')?.focus();
  }

  function goTo(at: string) {
    finder.hide();
    train.select(at === HOST ? { kind: 'host' } : { kind: 'element', id: at });
  }

  function onkeydown(event: KeyboardEvent) {
    const walks: Record<string, number> = { ArrowDown: 1, ArrowUp: -1, Home: -Infinity, End: Infinity };
    const by = walks[event.key];
    if (by !== undefined) {
      event.preventDefault();
      finder.look(Math.max(0, Math.min(finder.offers.length - 1, finder.active + by)));
      document.getElementById(`offer-${finder.active}`)?.scrollIntoView({ block: 'nearest' });
    } else if (event.key === 'Enter') {
      event.preventDefault();
      take();
    }
  }

  /** Focus goes to the list, so that the arrow keys walk it at once. */
  const focused = (element: HTMLElement) => element.focus({ preventScroll: true });

  const active = $derived(finder.offers[finder.active]);
  const toBuy = $derived(active ? partsOf(solutionOf(active)).filter(({ part }) => !part.owned) : []);

  async function shoppingList() {
    const { writeCsv } = await import('@lodestone/core/drawer-csv');
    const parts = [...new Map(toBuy.map(({ part }) => [part.partId, part])).values()].map((part) => ({
      ...part,
      quantity: toBuy.filter((each) => each.part.partId === part.partId).length
    }));
    saveFile(new Blob(['\uFEFF', writeCsv(parts)], { type: 'text/csv' }), `${train.document.name} shopping list.csv`);
  }

  const checkSheet = () =>
    notices.attempt(async () => {
      if (active?.kind !== 'stack') return;
      const document = filledTrain(train.document, active.solution);
      const sheet = await askFile('/api/check-sheet', { document, buy: toBuy.map(({ part }) => part.partId) });
      saveFile(sheet, `${train.document.name} please check.pdf`);
    });
</script>

<div class="flex items-start justify-between gap-2">
  <h2 class="text-lg leading-tight font-semibold">Find the stack</h2>
  <button
    class="btn btn-ghost btn-xs btn-square"
    title="Close (Esc)"
    aria-label="Close the finder"
    onclick={() => finder.hide()}
  >
    <X size={14} />
  </button>
</div>

<div class="my-2 flex flex-wrap gap-x-0.5" role="group" aria-label="Order of the list">
  {#each VIEWS as [view, words, title] (view)}
    <button
      class={['btn btn-xs font-normal', finder.view === view ? 'btn-neutral' : 'btn-ghost']}
      aria-pressed={finder.view === view}
      {title}
      onclick={() => finder.choose(view)}>{words}</button
    >
  {/each}
</div>
<div class="mb-2 flex flex-wrap items-center gap-x-3 gap-y-1 text-xs">
  <label class="flex items-center gap-1">
    at most
    <select
      aria-label="Most pieces"
      class="select select-xs w-14"
      bind:value={finder.maxPieces}
      onchange={() => void finder.search()}
    >
      {#each Array.from({ length: MOST_PIECES }, (_, count) => count + 1) as count (count)}<option value={count}
          >{count}</option
        >{/each}
    </select>
    pieces
  </label>
  {#if train.assessment.facts.light}
    <label class="flex items-center gap-1" title="Parts that give the corners less light are excluded">
      corners
      <select
        aria-label="Light the corners are to get"
        class="select select-xs w-24"
        value={finder.cornerLight === undefined ? '' : String(finder.cornerLight)}
        onchange={({ currentTarget: { value } }) => {
          finder.cornerLight = value === '' ? undefined : Number(value);
          void finder.search();
        }}
      >
        <option value="">{Math.round(train.assessment.facts.light.wanted * 100)} % as set</option>
        {#each CORNERS as percent (percent)}<option value={String(percent / 100)}>{percent} %</option>{/each}
        <option value="0">any light</option>
      </select>
    </label>
  {/if}
  <label class="flex items-center gap-1" title="Parts held by other assembled trains">
    <input
      type="checkbox"
      class="checkbox checkbox-xs"
      bind:checked={finder.evenHeld}
      onchange={() => void finder.search()}
    />
    even from other trains
  </label>
  <label class="flex items-center gap-1" title="Parts of the drawer that are marked to buy">
    <input
      type="checkbox"
      class="checkbox checkbox-xs"
      bind:checked={finder.withShop}
      onchange={() => void finder.search()}
    />
    also what is to buy
  </label>
  {#if places.length > 1}
    <label class="flex items-center gap-1">
      from
      <select
        aria-label="Only from this place"
        class="select select-xs w-28"
        bind:value={finder.onlyFrom}
        onchange={() => void finder.search()}
      >
        <option value="">everywhere</option>
        {#each places as { path } (path)}<option value={path}>{path}</option>{/each}
      </select>
    </label>
  {/if}
  {#each WITHOUT as [kind, words] (kind)}
    <label class="flex items-center gap-1">
      <input
        type="checkbox"
        class="checkbox checkbox-xs"
        checked={finder.withoutKinds.has(kind)}
        onchange={() => finder.toggleKind(kind)}
      />
      no {words}
    </label>
  {/each}
</div>
{#if finder.pinned.size + finder.forbidden.size > 0}
  <p class="mb-2 flex flex-wrap gap-1 text-xs">
    {#each finder.pinned as partId (partId)}
      <button class="btn btn-xs font-normal" onclick={() => finder.togglePin(partId)}
        ><Pin size={11} />{partId} must be in</button
      >
    {/each}
    {#each finder.forbidden as partId (partId)}
      <button class="btn btn-xs font-normal" onclick={() => finder.toggleBan(partId)}
        ><Ban size={11} />without {partId}</button
      >
    {/each}
  </p>
{/if}

<Together {finder} ontaken={() => document.getElementById('rail')?.focus()} />

{#if finder.state === 'searching'}
  <div class="flex items-center gap-2" role="status">
    <progress class="progress progress-primary flex-1" value={finder.report?.share ?? 0} max="1" aria-label="Search"
    ></progress>
    <button class="btn btn-outline btn-xs" onclick={() => finder.cancel()}><Square size={11} />Stop</button>
  </div>
  <p class="text-muted mt-1 text-xs">
    {#if finder.report?.best}Best so far, not proven: {headline(finder.report.best)}.{:else}Looking …{/if}
  </p>
{:else if finder.state === 'failed'}
  <TryAgain message={finder.failure} onagain={() => void finder.again()} />
{:else}
  <p class="text-muted mb-1 text-xs" role="status">
    {#if finder.state === 'stopped'}
      Stopped: not proven.
    {:else if finder.offers.length === 0}
      No combination of your parts connects the two sides.
    {:else if finder.advice.length > 0}
      Nothing in the drawer lands within tolerance. What would help, then the nearest misses:
    {:else if finder.missed}
      Nothing in the drawer lands within tolerance{finder.obstacles.length > 0 ? ':' : '. The nearest misses:'}
    {:else if finder.together?.found.best}
      Found together with {finder.together.others.map(({ document }) => document.name).join(' and ')}; for this one:
    {:else if finder.result?.exhausted}
      Searched completely: nothing {finder.view === 'likeliest' ? 'likelier' : 'better'} within {finder.maxPieces} pieces.
    {:else if finder.view === 'likeliest' && finder.result}
      The likeliest of the {finder.result.ranked} closest; not searched completely.
    {:else}
      Not proven: there was too much to look at.
    {/if}
    {#if finder.stale}<button class="link-quiet" onclick={() => void finder.search()}
        >The train has changed: search again</button
      >{/if}
  </p>
{/if}

{#if finder.obstacles.length > 0}
  <ul class="mb-2 grid gap-1.5" data-obstacles>
    {#each finder.obstacles as { code, message, at } (message)}
      <li class="flex gap-2">
        <TriangleAlert size={15} class="text-warning mt-0.5 shrink-0" />
        <span>
          {message}
          {#if at}
            <button class="link-quiet" onclick={() => goTo(at)}>Go there</button>
          {:else if code === 'no-parts'}
            <a class="link-quiet" href="/drawer">Open the drawer</a>
          {/if}
        </span>
      </li>
    {/each}
  </ul>
{/if}

{#if finder.result && finder.result.unmet.length > 0 && finder.state !== 'searching'}
  <ul class="mb-2 grid gap-1.5 text-xs" data-unmet>
    {#each finder.result.unmet as because (because)}
      <li class="flex gap-2">
        <TriangleAlert size={13} class="text-warning mt-0.5 shrink-0" />
        <span>Nothing within tolerance keeps to this: {because}.</span>
      </li>
    {/each}
  </ul>
{/if}

{#if finder.view === 'trade-offs' && finder.result && finder.advice.length === 0}
  <TradeOffs
    solutions={finder.solutions}
    active={finder.active}
    toleranceMm={finder.result.target.toleranceMm}
    onlook={(index) => finder.look(index)}
  />
{/if}

{#if finder.offers.length > 0}
  <div
    {@attach focused}
    id="offers"
    class="mb-2"
    role="listbox"
    aria-label="Stacks"
    tabindex="0"
    aria-activedescendant="offer-{finder.active}"
    {onkeydown}
  >
    {#each finder.offers as offer, index (index)}
      {@const solution = solutionOf(offer)}
      <!-- The keys of the list walk its options. -->
      <!-- svelte-ignore a11y_click_events_have_key_events -->
      <div
        id="offer-{index}"
        role="option"
        tabindex="-1"
        aria-selected={index === finder.active}
        class={['offer', index === finder.active && 'active']}
        onclick={() => finder.look(index)}
        ondblclick={() => take(index)}
      >
        {#if offer.kind === 'advice'}<span class="block">{offer.advice.message}</span>{/if}
        <span class={['font-semibold', solution.inTolerance ? 'text-success' : 'text-error']}>{headline(solution)}</span
        >
        {#if offer.kind === 'stack'}
          <span class="block">
            {#each partsOf(solution) as { part, reversed }, at (at)}
              {at > 0 ? ' + ' : ''}<span title={part.element.name}
                >{part.partId}{reversed ? ' turned' : ''}{part.owned ? '' : ' (buy)'}
                <span class="text-muted text-xs">{display.number(partLength(part))}</span></span
              >
            {:else}nothing put in{/each}
          </span>
        {/if}
        <span class="text-muted block text-xs">{details(solution)}</span>
        {#each solution.warnings.filter(({ code }) => code === 'corner-light') as { message } (message)}
          <span class="text-warning block text-xs">{message}</span>
        {/each}
      </div>
    {/each}
  </div>
{/if}

{#if active && finder.state !== 'searching'}
  <!-- On a phone the list is long: what is chosen, and what comes of it, stays at hand. -->
  <div class="taking border-line bg-base-200 border-t px-4 py-3" data-taking>
    <p class={['mb-1.5 font-semibold lg:hidden', solutionOf(active).inTolerance ? 'text-success' : 'text-error']}>
      {headline(solutionOf(active))}
    </p>
    {#if active.kind === 'advice' && active.advice.ring}
      {@const { ring } = active.advice}
      <DrawingFiles
        variants={[{ name: '', spec: ring }]}
        title="Ring {plainMm(ring.lengthMm)} for {train.document.name}"
      />
    {/if}
    {#if active.kind === 'stack'}
      <!-- In the order they go in, sky side first: what to take, and out of which tin. -->
      <ul class="mb-2 max-h-56 overflow-y-auto text-xs" aria-label="Parts of this stack">
        {#each partsOf(active.solution) as { part, reversed }, at (at)}
          <li class="border-line flex items-center gap-2 border-t py-1 first:border-0">
            <PartIcon element={part.element} widthPx={44} heightPx={34} pxPerMm={1.6} />
            <span class="min-w-0 flex-1">
              <span class="block truncate"
                ><span class="font-semibold">{part.partId}</span>
                {part.element.name}{reversed ? ', turned round' : ''}</span
              >
              <span class="text-muted block truncate"
                >{display.length(partLength(part))}, {part.owned ? part.location || 'place not known' : 'to buy'}</span
              >
            </span>
            <button
              class="btn btn-ghost btn-xs btn-square"
              title="It must be in"
              aria-label="{part.partId} must be in"
              onclick={() => finder.togglePin(part.partId)}><Pin size={12} /></button
            >
            <button
              class="btn btn-ghost btn-xs btn-square"
              title="Never use it"
              aria-label="Never use {part.partId}"
              onclick={() => finder.toggleBan(part.partId)}><Ban size={12} /></button
            >
          </li>
        {/each}
      </ul>
    {/if}
    {#if active.kind === 'stack' && active.solution.orders > 1}
      {#if finder.orders}
        <p class="text-muted text-xs" id="orders-words">Just as good, sky side first:</p>
        <ul class="mb-2 max-h-28 overflow-y-auto text-xs" aria-labelledby="orders-words" data-orders>
          {#each finder.orders as other, index (index)}
            <li>
              <button class="link-quiet min-h-6 text-left" onclick={() => finder.reorder(other)}
                >{partsOf(other)
                  .map(({ part, reversed }) => `${part.partId}${reversed ? ' turned' : ''}`)
                  .join(' + ')}</button
              >
            </li>
          {/each}
        </ul>
      {:else if finder.ordersFailure}
        <TryAgain message={finder.ordersFailure} onagain={() => void finder.findOrders()} />
      {:else}
        <button class="btn btn-ghost btn-xs mb-1.5 font-normal" onclick={() => void finder.findOrders()}
          >Other orders of these parts</button
        >
      {/if}
    {/if}
    <div class="flex flex-wrap gap-1.5">
      <button class="btn btn-primary btn-sm" onclick={() => take()}>
        {active.kind === 'advice' ? 'Do it' : active.solution.pieces === 0 ? 'Close it as it is' : 'Put it in'}<kbd
          class="kbd kbd-xs">Enter</kbd
        >
      </button>
      {#if active.kind === 'stack' && toBuy.length > 0}
        <button class="btn btn-outline btn-sm" onclick={shoppingList}><FileDown size={13} />To buy</button>
        <button class="btn btn-outline btn-sm" onclick={checkSheet}><FileDown size={13} />Sheet for the shop</button>
      {/if}
    </div>
  </div>
{/if}

<style>
  .taking {
    position: sticky;
    bottom: -1rem;
    margin: 0 -1rem;
  }
  .offer {
    border-left: 2px solid transparent;
    padding: 0.3rem 0.5rem;
    cursor: pointer;
  }
  .offer:hover {
    background: color-mix(in srgb, var(--color-neutral) 35%, transparent);
  }
  .offer.active {
    border-left-color: var(--color-primary);
    background: color-mix(in srgb, var(--color-neutral) 40%, transparent);
  }
</style>
