<script lang="ts">
  import Camera from '@lucide/svelte/icons/camera';
  import FileUp from '@lucide/svelte/icons/file-up';
  import GraduationCap from '@lucide/svelte/icons/graduation-cap';
  import Terminal from '@lucide/svelte/icons/terminal';
  import { curlLine, type Shell } from '$lib/frames/curl.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import type { TuneDesk } from './desk.svelte.ts';
  import { NIGHTS } from './nights.ts';

  /** Where frames come from: files, the simulated camera, a capture program. */
  interface Props {
    desk: TuneDesk;
    /** Where a capture program sends its frames. */
    address: string;
    onopen: () => void;
  }
  const { desk, address, onopen }: Props = $props();
  const notices = useNotices();

  const SHELLS: Record<Shell, string> = {
    shell: 'Copied. Put it where your capture program runs something after each exposure.',
    windows: 'Copied. Put it into a .bat file that your capture program runs with the frame’s file after each exposure.'
  };
  const copy = (shell: Shell) =>
    notices.attempt(async () => {
      await navigator.clipboard.writeText(curlLine(address, shell));
      notices.say(SHELLS[shell]);
    });
</script>

<div class="flex flex-wrap items-center gap-2">
  <button class="btn btn-primary btn-sm" title="Open frames: O" onclick={onopen}><FileUp size={15} />Open</button>
  {#if desk.hasSensor}
    <span class="flex items-center gap-1">
      <button class="btn btn-outline btn-sm" title="Simulated camera: X" data-simulate onclick={() => desk.simulate()}
        ><Camera size={15} />Simulate</button
      >
      <select class="select select-sm w-36" aria-label="Night of the simulated camera" bind:value={desk.nightId}>
        {#each NIGHTS as { id, title } (id)}<option value={id}>{title}</option>{/each}
      </select>
    </span>
  {/if}
  <button
    class="btn btn-ghost btn-sm font-normal"
    title="A line that brings each frame by itself after it is taken"
    onclick={() => void copy('shell')}><Terminal size={15} />Copy a curl line</button
  >
  <button class="btn btn-ghost btn-sm font-normal" title="The same for a .bat file" onclick={() => void copy('windows')}
    >for Windows</button
  >
  <button class="btn btn-ghost btn-sm font-normal" data-train onclick={() => desk.nextRound()}
    ><GraduationCap size={15} />Trainer</button
  >
</div>
