<script lang="ts">
  import { assess } from '@lodestone/core/check';
  import { asGood, withSubstitutes, type StrangersPart, type Substitute } from '@lodestone/core/drawer';
  import { lengthOf, type Train } from '@lodestone/core/train';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { SvelteMap } from 'svelte/reactivity';
  import { untrack } from 'svelte';

  /** Somebody else’s train: for each part that is not in this drawer, what of one’s own goes in its place. */
  interface Props {
    train: Train;
    strangers: readonly StrangersPart[];
    busy: boolean;
    oncreate: (train: Train) => void;
  }
  const { train, strangers, busy, oncreate }: Props = $props();
  const display = useDisplay();

  const chosen = new SvelteMap<string, Substitute>(untrack(() => asGood(strangers)));
  const result = $derived(withSubstitutes(train, strangers, chosen));
  const toBuy = $derived(strangers.length - chosen.size);

  /** A filter is as thick, everything else as long. */
  const AS = { thick: ['as thick', 'thicker', 'thinner'], long: ['as long', 'longer', 'shorter'] } as const;
  const inWords = ({ part, reversed, longerMm }: Substitute): string => {
    const [same, more, less] = AS[part.element.kind === 'filter' ? 'thick' : 'long'];
    const apart =
      Math.abs(longerMm) < 0.005 ? same : `${display.length(Math.abs(longerMm))} ${longerMm > 0 ? more : less}`;
    return `${part.partId} ${part.element.name}${reversed ? ', turned round' : ''}: ${apart}`;
  };

  function choose({ key, substitutes }: StrangersPart, partId: string) {
    const found = substitutes.find(({ part }) => part.partId === partId);
    if (found) chosen.set(key, found);
    else chosen.delete(key);
  }
</script>

<div class="grid gap-3" data-strangers>
  <p>
    <span class="font-semibold">{train.name}</span> has {strangers.length}
    {strangers.length === 1 ? 'part that is' : 'parts that are'} not in your drawer. Choose your own, or keep theirs.
  </p>
  <ul
    class="divide-line border-line max-h-[45dvh] divide-y overflow-y-auto border-y"
    aria-label="Parts that are not yours"
  >
    {#each strangers as stranger (stranger.key)}
      {@const { key, element, inside, number, isNamesake, substitutes } = stranger}
      {@const name = inside ? `${inside.name}, in ${element.name}` : element.name}
      <li class="grid gap-x-4 gap-y-1 py-2 sm:grid-cols-2">
        <div class="min-w-0">
          <span class="block truncate">{name}</span>
          <span class="text-muted block text-xs"
            >{number}, {display.length(inside ? inside.lengthMm : lengthOf(element))}{isNamesake
              ? `. Your ${number} is another part.`
              : ''}</span
          >
        </div>
        {#if substitutes.length > 0}
          <select
            class="select select-sm w-full"
            aria-label="In place of {name}"
            value={chosen.get(key)?.part.partId ?? ''}
            onchange={({ currentTarget: { value } }) => choose(stranger, value)}
          >
            <option value="">keep theirs, to be bought</option>
            {#each substitutes as substitute (substitute.part.partId)}
              <option value={substitute.part.partId}>{inWords(substitute)}</option>
            {/each}
          </select>
        {:else}
          <p class="text-muted text-xs">Nothing in your drawer does the same. It is kept as theirs, to be bought.</p>
        {/if}
      </li>
    {/each}
  </ul>
  <p aria-live="polite">
    With these parts: <span class="font-semibold" data-substituted>{assess(result).verdictInWords(display.unit)}</span
    >{toBuy > 0 ? `, ${toBuy} to be bought` : ''}.
    <span class="text-muted">As it came: {assess(train).verdictInWords(display.unit)}.</span>
  </p>
  <div class="flex flex-wrap justify-end gap-2">
    <button class="btn btn-ghost btn-sm" disabled={busy} onclick={() => oncreate(train)}
      >Keep the part numbers as they are</button
    >
    <button class="btn btn-primary btn-sm" disabled={busy} onclick={() => oncreate(result)}
      >Import with these parts</button
    >
  </div>
</div>
