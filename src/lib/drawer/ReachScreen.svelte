<script lang="ts">
  import { MOST_REACH_MM, ringThreads, ringsOf, type Purchase, type ReachAsked } from '@lodestone/core/drawer';
  import { Drawer, provideDrawer } from '$lib/parts/drawer.svelte.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { numberText, parseNumber } from '$lib/ui/parse.ts';
  import { counted } from '$lib/ui/size.ts';
  import { onDestroy, onMount, untrack } from 'svelte';
  import { holesIn } from './holes.ts';
  import { ReachView } from './reach.svelte.ts';

  /** Which lengths the rings of one thread make, which they do not, and what would fill most of those. */
  const drawer = provideDrawer(new Drawer());
  onMount(() => drawer.open());
  const display = useDisplay();
  const uid = $props.id();

  let chosen = $state<string>();
  let from = $state('0');
  let to = $state('60');
  let step = $state('0.5');
  let tolerance = $state('0.1');
  let withTied = $state(true);

  const threads = $derived(ringThreads(drawer.plain));
  const thread = $derived(chosen ?? threads[0]?.thread);
  const rings = $derived(
    thread === undefined ? undefined : ringsOf(drawer.plain, thread, withTied ? undefined : drawer.uses)
  );

  const mmOf = (text: string): number => {
    const read = parseNumber(text, display.unit);
    return read.ok && read.parsed !== undefined ? read.parsed : Number.NaN;
  };
  const asked = $derived<ReachAsked>({
    fromMm: mmOf(from),
    toMm: mmOf(to),
    stepMm: mmOf(step),
    toleranceMm: mmOf(tolerance)
  });
  const view = new ReachView();
  onDestroy(() => view.end());
  $effect(() => {
    if (!rings) return;
    const task = { ...rings, asked };
    untrack(() => void view.ask(task));
  });
  const answer = $derived(view.answer);
  const holes = $derived(answer ? holesIn(answer.lengths) : []);
  const SHOWN_HOLES = 12;

  const length = (mm: number): string => numberText(mm, display.unit);
  const stretch = ({ fromMm, toMm }: { fromMm: number; toMm: number }): string =>
    fromMm === toMm ? length(fromMm) : `${length(fromMm)} to ${length(toMm)}`;
  const bought = ({ rings: some }: Purchase): string =>
    some
      .map(({ lengthMm, partId }) => `${partId === undefined ? '' : `${partId}, `}${display.length(lengthMm)}`)
      .join(' + ');
  const cellWidth = $derived(1000 / Math.max(1, answer?.lengths.length ?? 0));

  /** Fields of the form: what each is called, and what is typed in it. */
  const FIELDS = [
    ['from', 'From', () => from, (text: string) => (from = text)],
    ['to', 'to', () => to, (text: string) => (to = text)],
    ['step', 'in steps of', () => step, (text: string) => (step = text)],
    ['tolerance', 'within ±', () => tolerance, (text: string) => (tolerance = text)]
  ] as const;
</script>

<main class="mx-auto max-w-4xl px-6 py-8">
  <h1 class="text-2xl font-semibold">What the rings make</h1>
  {#if !drawer.isRead}
    <p class="text-muted mt-4">Reading the drawer …</p>
  {:else if threads.length === 0}
    <p class="text-muted mt-4 max-w-prose">
      No rings of one thread on both faces are in the drawer yet: <a class="link" href="/drawer">enter some there</a>.
      Rings whose faces are not known do not count here.
    </p>
  {:else}
    <div class="mt-4 flex flex-wrap items-end gap-3">
      <label class="grid gap-0.5 text-sm" for="{uid}-thread"
        >Thread
        <select
          id="{uid}-thread"
          class="select select-sm"
          value={thread}
          onchange={({ currentTarget }) => (chosen = currentTarget.value)}
        >
          {#each threads as { thread: each, rings: count } (each)}<option value={each}
              >{each}, {counted(count, 'ring')}</option
            >{/each}
        </select></label
      >
      {#each FIELDS as [key, label, get, set] (key)}
        <label class="grid gap-0.5 text-sm" for="{uid}-{key}"
          ><span>{label}, {display.unit}</span>
          <input
            id="{uid}-{key}"
            class="input input-sm w-24 text-right"
            inputmode="decimal"
            autocomplete="off"
            value={get()}
            oninput={({ currentTarget }) => set(currentTarget.value)}
          /></label
        >
      {/each}
      <label class="flex h-8 items-center gap-2 text-sm"
        ><input type="checkbox" class="checkbox checkbox-sm" bind:checked={withTied} />also rings in trains</label
      >
    </div>
    {#if view.failure !== undefined}
      <p class="text-error mt-3" role="alert">{view.failure} Up to {MOST_REACH_MM} mm.</p>
    {:else if !answer}
      <p class="text-muted mt-3" role="status">Trying the rings …</p>
    {:else}
      {@const { lengths, purchases, task } = answer}
      {@const missing = lengths.filter(({ rings: count }) => count === undefined).length}
      <p class="mt-5 text-xl font-semibold" data-reach={missing}>
        {missing === 0
          ? `All ${lengths.length} lengths can be made.`
          : `${lengths.length - missing} of ${lengths.length} lengths can be made, ${missing} cannot.`}
      </p>
      <svg
        class="mt-3 block h-14 w-full"
        viewBox="0 0 1000 40"
        preserveAspectRatio="none"
        role="img"
        aria-label="Lengths from {length(task.asked.fromMm)} to {length(
          task.asked.toMm
        )} {display.unit}: those that can be made, and those that cannot"
      >
        {#each lengths as { mm, rings: count }, index (index)}
          <rect
            class={count === undefined ? 'hole' : 'made'}
            x={index * cellWidth}
            width={cellWidth * 1.02}
            y={count === undefined ? 26 : Math.min(24, 4 * count)}
            height={count === undefined ? 14 : 40 - Math.min(24, 4 * count)}
            ><title>{length(mm)} {display.unit}: {count === undefined ? 'not made' : counted(count, 'ring')}</title
            ></rect
          >
        {/each}
      </svg>
      <div class="text-muted flex justify-between text-xs">
        <span>{length(task.asked.fromMm)} {display.unit}</span><span>the higher, the fewer rings</span><span
          >{length(task.asked.toMm)} {display.unit}</span
        >
      </div>
      {#if holes.length > 0}
        <h2 class="mt-5 font-semibold">Not made</h2>
        <p data-holes>
          {holes.slice(0, SHOWN_HOLES).map(stretch).join('; ')}{holes.length > SHOWN_HOLES
            ? `; and ${holes.length - SHOWN_HOLES} more`
            : ''}
          {display.unit}
        </p>
      {/if}
      {#if purchases.length > 0}
        <h2 class="mt-5 font-semibold">What fills most of them</h2>
        <table class="mt-1 w-full text-sm">
          <thead class="text-muted text-left text-xs"
            ><tr
              ><th scope="col" class="font-normal">Rings to buy</th><th scope="col" class="text-right font-normal"
                >Lengths more</th
              ><th scope="col" class="text-right font-normal">Price</th></tr
            ></thead
          >
          <tbody>
            {#each purchases as purchase (purchase.rings.length)}
              <tr class="border-line border-t" data-purchase={purchase.rings.length}>
                <td class="py-1.5">{bought(purchase)}</td>
                <td class="text-right">{purchase.fills}</td>
                <td class="text-right">{purchase.price === undefined ? '' : purchase.price}</td>
              </tr>
            {/each}
          </tbody>
        </table>
        <p class="text-muted mt-1 text-xs">
          {task.toBuy.length > 0
            ? 'Of the rings in the drawer that are to be bought; every choice of up to three of the best twelve was tried.'
            : 'Of usual lengths; every choice of up to three was tried. Rings the drawer has as “to buy” are used instead, with their prices.'}
        </p>
      {/if}
    {/if}
  {/if}
</main>

<style>
  .made {
    fill: var(--color-success);
  }
  /* Told by its looks in one colour too: at night everything is red. */
  .hole {
    fill: var(--color-error);
    fill-opacity: 0.35;
  }
</style>
