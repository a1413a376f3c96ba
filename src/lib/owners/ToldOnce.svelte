<script lang="ts">
  import Copy from '@lucide/svelte/icons/copy';

  /** A secret that is shown this once, to be copied. */
  interface Props {
    label: string;
    secret: string;
    /** What to do with it. */
    words: string;
  }
  const { label, secret, words }: Props = $props();
  const uid = $props.id();
  let isCopied = $state(false);

  async function copy() {
    await navigator.clipboard.writeText(secret);
    isCopied = true;
  }
</script>

<div class="panel mt-3 grid gap-2 p-3" role="status">
  <label for="{uid}-secret" class="text-sm">{words}</label>
  <div class="flex gap-2">
    <input
      id="{uid}-secret"
      class="input input-sm w-full font-mono"
      readonly
      aria-label={label}
      value={secret}
      onfocus={({ currentTarget }) => currentTarget.select()}
    />
    <button class="btn btn-primary btn-sm" onclick={() => void copy()}
      ><Copy size={14} />{isCopied ? 'Copied' : 'Copy'}</button
    >
  </div>
</div>
