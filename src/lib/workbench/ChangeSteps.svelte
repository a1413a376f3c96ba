<script lang="ts">
  /** What is opened, put away, fetched and closed on the way from one train to another, to tick off or to print. */
  import { findElement, nameOf, partIdOf, type Train } from '@lodestone/core/train';
  import { settingInWords, type ChangeOver, type Lying } from '@lodestone/core/assembly';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { SvelteSet } from 'svelte/reactivity';

  interface Props {
    from: Train;
    to: Train;
    change: ChangeOver;
  }
  const { from, to, change }: Props = $props();
  /** A step to tick off: its number on the picture, and where what it is about lies. */
  interface Line {
    key: string;
    words: string;
    n?: number;
    where?: string | null;
  }
  const ticked = new SvelteSet<string>();
  const display = useDisplay();

  const jointIn = (train: Train, joint: string): string => {
    const at = train.elements.findIndex(({ id }) => id === joint);
    const before = train.elements.slice(0, at).findLast(({ kind }) => kind !== 'shim');
    return `${before?.name ?? train.host.name} from ${nameOf(train, joint)}`;
  };
  const joinIn = (train: Train, joint: string): string => jointIn(train, joint).replace(' from ', ' to ');
  const partIn = (train: Train, { id }: Lying): string => {
    const element = findElement(train, id);
    const partId = element && partIdOf(element);
    return `${partId === undefined ? '' : `${partId}, `}${nameOf(train, id)}`;
  };
</script>

{#snippet steps(title: string, lines: readonly Line[])}
  {#if lines.length > 0}
    <section class="mt-5">
      <h2 class="font-semibold">{title}</h2>
      <ol class="mt-1">
        {#each lines as { key, n, words, where } (key)}
          <li class="border-line border-t">
            <label class="flex min-h-11 items-center gap-3 py-1"
              ><input
                type="checkbox"
                class="checkbox"
                checked={ticked.has(key)}
                onchange={({ currentTarget: { checked } }) => (checked ? ticked.add(key) : ticked.delete(key))}
              />{#if n !== undefined}<span class="text-muted w-4 text-right">{n}</span>{/if}<span
                class={['min-w-0 flex-1 wrap-anywhere', ticked.has(key) && 'text-muted']}>{words}</span
              >
              {#if where !== undefined}<span class="text-muted text-sm">{where ?? 'place not known'}</span>{/if}</label
            >
          </li>
        {/each}
      </ol>
    </section>
  {/if}
{/snippet}

{@render steps(
  'Open, in this order',
  change.open
    .toReversed()
    .map((joint, at) => ({ key: `open ${joint}`, n: at + 1, words: `Part ${jointIn(from, joint)}` }))
)}
{#if change.keep.length > 0}
  <section class="mt-5">
    <h2 class="font-semibold">Keep assembled</h2>
    <ul class="mt-1 list-disc pl-5">
      {#each change.keep as run (run.join(' '))}<li>{run.map((id) => nameOf(from, id)).join(' · ')}</li>{/each}
    </ul>
  </section>
{/if}
{@render steps(
  'Put away',
  change.aside.map((part) => ({ key: `aside ${part.id}`, words: partIn(from, part), where: part.location }))
)}
{@render steps(
  'Fetch',
  change.bring.map((part) => ({ key: `bring ${part.id}`, words: partIn(to, part), where: part.location }))
)}
{@render steps(
  'Set',
  change.set.map((each) => ({ key: `set ${each.id}`, words: settingInWords(to, each, display.unit) }))
)}
{@render steps(
  'Close, in this order',
  change.close
    .toReversed()
    .map((joint, at) => ({ key: `close ${joint}`, n: at + 1, words: `Join ${joinIn(to, joint)}` }))
)}
