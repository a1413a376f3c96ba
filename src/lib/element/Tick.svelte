<script lang="ts">
  import { useEditing } from './editing.ts';

  interface Props {
    label: string;
    at: string;
    path: [string, ...string[]];
    current: boolean | undefined;
  }
  const { label, at, path, current }: Props = $props();
  const editing = useEditing();
</script>

<label class="flex items-center gap-2 py-1" data-field={path.join('.')}>
  <input
    type="checkbox"
    class="checkbox checkbox-sm"
    checked={current ?? false}
    onchange={({ currentTarget: { checked } }) =>
      editing.dispatch({ op: 'set', at, path, to: checked ? true : undefined }, `Change “${label}”`)}
  />
  <span>{label}</span>
</label>
