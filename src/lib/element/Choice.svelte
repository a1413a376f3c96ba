<script lang="ts">
  import { useEditing } from './editing.ts';
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

<label class="grid min-w-0 content-start gap-0.5" data-field={path.join('.')}>
  <span class="text-muted text-xs">{label}</span>
  <select class="select select-sm w-full" value={current} onchange={choose}>
    {#each options as [option, words] (option)}
      <option value={option}>{words}</option>
    {/each}
  </select>
</label>
