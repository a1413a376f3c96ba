<script lang="ts">
  import { Combobox } from './combobox.svelte.ts';
  import { keyInWords, useCommands, type Command } from './commands.svelte.ts';
  import { Finding } from './finding.svelte.ts';
  import Modal from './Modal.svelte';

  const commands = useCommands();
  let words = $state('');

  const finding = new Finding();
  $effect(() => finding.look(words));

  /** Commands whose title holds every word typed, in any order, then what else is called that. */
  const found = $derived.by(() => {
    const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
    const own = commands.available.filter(({ title, group }) =>
      wanted.every((word) => `${group} ${title}`.toLowerCase().includes(word))
    );
    return [...own, ...finding.found];
  });

  function run(command: Command) {
    commands.paletteOpen = false;
    // After the dialog is gone, so that the command may move the focus.
    setTimeout(command.run);
  }

  const combo = new Combobox<Command>({
    id: 'command',
    items: () => found,
    pick: run,
    takesFirst: () => true,
    goesRound: true
  });
</script>

<Modal title="Type a command" bind:open={commands.paletteOpen} onclose={() => (words = '')}>
  <!-- svelte-ignore a11y_autofocus -->
  <input
    class="input w-full"
    placeholder="A command, a train, a part, a word"
    role="combobox"
    aria-label="Command"
    aria-expanded="true"
    aria-controls={combo.listId}
    aria-activedescendant={combo.activeId}
    autocomplete="off"
    autofocus
    bind:value={words}
    oninput={combo.reset}
    onkeydown={combo.onkeydown}
  />
  <ul id={combo.listId} role="listbox" aria-label="Commands" class="mt-2 max-h-80 overflow-y-auto">
    {#each found as command, index (command.id)}
      <!-- svelte-ignore a11y_click_events_have_key_events -->
      <li
        id={combo.optionId(index)}
        role="option"
        aria-selected={index === combo.active}
        class={[
          'flex cursor-pointer items-center justify-between rounded px-3 py-1.5',
          index === combo.active && 'bg-neutral text-neutral-content [&_.text-muted]:text-neutral-content'
        ]}
        onclick={() => run(command)}
      >
        <span class="flex min-w-0 gap-2"
          ><span class="text-muted w-20 shrink-0">{command.group}</span><span class="truncate">{command.title}</span
          ></span
        >
        {#if command.key}<kbd class="kbd kbd-sm">{keyInWords(command.key)}</kbd>{/if}
      </li>
    {:else}
      <li class="text-muted px-3 py-2">Nothing is called that.</li>
    {/each}
  </ul>
</Modal>
