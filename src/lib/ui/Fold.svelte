<script lang="ts">
  import { untrack, type Snippet } from 'svelte';
  import type { HTMLAttributes } from 'svelte/elements';

  /** Something that is folded away until it is wanted. It unfolds by itself when there is a reason to, and never folds by itself. */
  interface Props extends Omit<HTMLAttributes<HTMLElement>, 'title' | 'class'> {
    title: string;
    /** There is a reason to see it. */
    wanted?: boolean;
    class?: string;
    titleClass?: string;
    children: Snippet;
  }
  const { title, wanted = false, class: looks = '', titleClass = '', children, ...further }: Props = $props();
  let open = $state(untrack(() => wanted));
  let was = untrack(() => wanted);
  $effect.pre(() => {
    if (wanted && !was) open = true;
    was = wanted;
  });
</script>

<details class={looks} bind:open>
  <summary class={['cursor-pointer py-1', titleClass]} {...further}>{title}</summary>
  {@render children()}
</details>
