<script lang="ts">
  import { keyInWords, useCommands } from './commands.svelte.ts';
  import Modal from './Modal.svelte';

  const commands = useCommands();
  let words = $state('');
  let chosen = $state(0);

  /** Commands whose title holds every word typed, in any order. */
  const found = $derived.by(() => {
    const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
    return commands.available.filter(({ title, group }) =>
      wanted.every((word) => `${group} ${title}`.toLowerCase().includes(word))
    );
  });

  function run(index: number) {
    const command = found[index];
    if (!command) return;
    commands.paletteOpen = false;
    // After the dialog is gone, so that the command may move the focus.
    setTimeout(command.run);
  }

  function onkeydown(event: KeyboardEvent) {
    const moves: Record<string, number> = { ArrowDown: 1, ArrowUp: -1 };
    const move = moves[event.key];
    if (move !== undefined && found.length > 0) {
      event.preventDefault();
      chosen = (chosen + move + found.length) % found.length;
      document.getElementById(`command-${chosen}`)?.scrollIntoView({ block: 'nearest' });
    } else if (event.key === 'Enter') {
      event.preventDefault();
      run(chosen);
    }
  }
</script>

<Modal title="What do you want to do?" bind:open={commands.paletteOpen} onclose={() => (words = '')}>
  <!-- svelte-ignore a11y_autofocus -->
  <input
    class="input w-full"
    placeholder="Type a few letters"
    role="combobox"
    aria-label="Command"
    aria-expanded="true"
    aria-controls="command-list"
    aria-activedescendant={found[chosen] ? `command-${chosen}` : undefined}
    autocomplete="off"
    autofocus
    bind:value={words}
    oninput={() => (chosen = 0)}
    {onkeydown}
  />
  <ul id="command-list" role="listbox" aria-label="Commands" class="mt-2 max-h-80 overflow-y-auto">
    {#each found as command, index (command.id)}
      <!-- svelte-ignore a11y_click_events_have_key_events -->
      <li
        id="command-{index}"
        role="option"
        aria-selected={index === chosen}
        class={[
          'flex cursor-pointer items-center justify-between rounded px-3 py-1.5',
          index === chosen && 'bg-neutral text-neutral-content'
        ]}
        onclick={() => run(index)}
      >
        <span class="flex gap-2"><span class="text-muted w-20">{command.group}</span>{command.title}</span>
        {#if command.key}<kbd class="kbd kbd-sm">{keyInWords(command.key)}</kbd>{/if}
      </li>
    {:else}
      <li class="text-muted px-3 py-2">Nothing is called that.</li>
    {/each}
  </ul>
</Modal>
