<script lang="ts">
  import type { Subject } from '@lodestone/core/why';
  import { useWhy } from './why.svelte.ts';
  import type { Snippet } from 'svelte';

  /** A number that can be asked "why?": a button whose explanation is what describes it. */
  const { subject, strong = false, children }: { subject: Subject; strong?: boolean; children: Snippet } = $props();
  const why = useWhy();
</script>

<button
  {@attach why.asks(subject)}
  type="button"
  class={['asks-why inline cursor-help text-left', strong && 'font-semibold']}
  aria-describedby={why.subject === subject ? 'why' : undefined}>{@render children()}</button
>
