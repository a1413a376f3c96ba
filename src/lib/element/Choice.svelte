<script lang="ts">
  import { useEditing } from './editing.ts';
  import Term from '$lib/ui/Term.svelte';
  import { useNotices } from '$lib/ui/notices.svelte.ts';

  interface Props {
    label: string;
    at: string;
    path: [string, ...string[]];
    current: string;
    /** Value and words. */
    options: readonly (readonly [string, string])[];
    /** Choosing this value takes the key out of the document. */
    unset?: string;
  }
  const { label, at, path, current, options, unset }: Props = $props();
  const editing = useEditing();
  const notices = useNotices();

  function choose(event: Event & { currentTarget: HTMLSelectElement }) {
    const picked = event.currentTarget.value;
    const refusal = editing.dispatch(
      { op: 'set', at, path, to: picked === unset ? undefined : picked },
      `Change ${label.toLowerCase()}`
    );
    if (refusal) {
      event.currentTarget.value = current;
      notices.complain(refusal);
    }
  }
</script>

<div class="grid min-w-0 content-start gap-0.5" data-field={path.join('.')}>
  <Term {label} word={path.at(-1)!} />
  <select class="select select-sm w-full" aria-label={label} value={current} onchange={choose}>
    {#each options as [option, words] (option)}
      <option value={option}>{words}</option>
    {/each}
  </select>
</div>
