<script lang="ts">
  import { MOST_WITH_PIXELS } from '$lib/api/frames.ts';
  import type { Who } from '$lib/api/owners.ts';
  import type { KeptBackups } from '$lib/api/backup.ts';
  import { MOST_FRAME_BYTES, type Room } from '$lib/api/room.ts';
  import { LONGEST_DEVICE_NAME, deviceName, nameDevice } from '$lib/ui/device.ts';
  import { useCommands } from '$lib/ui/commands.svelte.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import Modal from '$lib/ui/Modal.svelte';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { parseNumber } from '$lib/ui/parse.ts';
  import { THEMES } from '$lib/ui/preferences.ts';
  import { counted, sizeInWords } from '$lib/ui/size.ts';
  import CircleUserRound from '@lucide/svelte/icons/circle-user-round';
  import { scaleLinear } from 'd3-scale';
  import CalculationSection from './CalculationSection.svelte';
  import { onMount } from 'svelte';
  import BackupSection from './BackupSection.svelte';
  import OfflineSection from './OfflineSection.svelte';
  import { setFrameLimit } from './transport.ts';

  interface Props {
    room: Room;
    kept: KeptBackups;
    /** Who is signed in, where everybody signs in. */
    who: Who | undefined;
  }
  const { room: loaded, kept, who }: Props = $props();
  let room = $derived(loaded);
  const display = useDisplay();
  const commands = useCommands();
  const notices = useNotices();
  let device = $state('');
  onMount(() => (device = deviceName() ?? ''));

  const rows = $derived([
    ['trains', 'Trains', counted(room.trains.count, 'train'), room.trains.bytes],
    ['deleted', 'Deleted trains', counted(room.deleted.count, 'train'), room.deleted.bytes],
    ['pixels', 'Pixels of test frames', counted(room.pixels.count, 'frame'), room.pixels.bytes],
    ['readings', 'Readings of test frames', counted(room.readings.count, 'frame'), room.readings.bytes],
    ['photos', 'Photos and scans', counted(room.photos.count, 'picture'), room.photos.bytes],
    ['parts', 'Parts', counted(room.parts.count, 'part'), room.parts.bytes]
  ] as const);
  const total = $derived(rows.reduce((sum, [, , , bytes]) => sum + bytes, 0));
  const x = $derived(scaleLinear([0, Math.max(1, ...rows.map(([, , , bytes]) => bytes))], [0, 100]));
  const share = $derived(room.frameLimit > 0 ? Math.min(1, room.pixels.bytes / room.frameLimit) : 1);

  const GB = 1e9;
  const limitText = $derived(String(Number((room.frameLimit / GB).toFixed(3))));
  let typed = $state<string>();
  let message = $state<string>();
  /** A room that is smaller than what is there, bytes; it is kept only once somebody has agreed. */
  let smaller = $state(0);
  let isAsking = $state(false);

  function change(text: string) {
    typed = text;
    const parsed = parseNumber(text);
    const bytes = parsed.ok && parsed.parsed !== undefined ? Math.round(parsed.parsed * GB) : Number.NaN;
    const fits = bytes >= 0 && bytes <= MOST_FRAME_BYTES;
    message = fits ? undefined : `“${text}” is not a size. Use a number of gigabytes, as 8 or 2.5.`;
    if (!fits) return;
    if (bytes >= room.pixels.bytes) return void keep(bytes);
    smaller = bytes;
    isAsking = true;
  }

  async function keep(bytes: number) {
    isAsking = false;
    const before = room.pixels.count;
    await notices.attempt(async () => {
      room = await setFrameLimit(bytes);
      const gone = before - room.pixels.count;
      const deleted = gone > 0 ? ` The pixels of ${counted(gone, 'frame')} were deleted.` : '';
      notices.say(`Test frames may take ${sizeInWords(room.frameLimit)}.${deleted}`);
    });
    typed = undefined;
  }
</script>

<main class="mx-auto max-w-3xl px-6 py-8">
  <div class="flex flex-wrap items-center justify-between gap-3">
    <h1 class="text-2xl font-semibold">Settings</h1>
    {#if who}<a class="btn btn-outline btn-sm" href="/account"><CircleUserRound size={16} />Account: {who.name}</a>{/if}
  </div>

  <section class="mt-6" aria-labelledby="display">
    <h2 id="display" class="text-lg font-semibold">Display</h2>
    <div class="mt-2 grid gap-3 sm:grid-cols-2">
      <label class="grid gap-1"
        ><span class="text-muted text-sm">Theme</span>
        <select
          class="select select-sm"
          value={display.theme}
          onchange={({ currentTarget }) => display.chooseTheme(THEMES.find((each) => each === currentTarget.value)!)}
        >
          {#each THEMES as theme (theme)}<option value={theme}>{theme}</option>{/each}
        </select></label
      >
      <label class="grid gap-1"
        ><span class="text-muted text-sm">Lengths in</span>
        <select
          class="select select-sm"
          value={display.unit}
          onchange={({ currentTarget }) => currentTarget.value !== display.unit && display.toggleUnit()}
        >
          <option value="mm">millimetres</option>
          <option value="in">inches</option>
        </select></label
      >
      <label class="flex min-h-8 items-center gap-2 sm:col-span-2"
        ><input
          type="checkbox"
          class="checkbox checkbox-sm"
          checked={commands.singleKeys}
          onchange={({ currentTarget }) => commands.useSingleKeys(currentTarget.checked)}
        />Single letters are keys (Shift, Ctrl and Alt keys work either way)</label
      >
      <label class="grid gap-1"
        ><span class="text-muted text-sm">This device in the history of trains</span>
        <input
          class="input input-sm w-full"
          maxlength={LONGEST_DEVICE_NAME}
          autocomplete="off"
          bind:value={device}
          onchange={() => (device = nameDevice(device) ?? '')}
        /></label
      >
    </div>
  </section>

  <CalculationSection />

  <OfflineSection />

  <section class="mt-8" aria-labelledby="room">
    <div class="flex flex-wrap items-baseline justify-between gap-2">
      <h2 id="room" class="text-lg font-semibold">Storage</h2>
      <p class="text-muted text-sm" data-room-total={total}>{sizeInWords(total)} in the database</p>
    </div>
    <table class="mt-2 w-full text-sm" aria-labelledby="room">
      <thead class="sr-only"
        ><tr
          ><th scope="col">What</th><th scope="col">How many</th><th scope="col">Share</th><th scope="col">Size</th></tr
        ></thead
      >
      <tbody>
        {#each rows as [id, title, count, bytes] (id)}
          <tr class="border-line border-t" data-room={id} data-bytes={bytes}>
            <th scope="row" class="py-2 pr-4 text-left font-normal">{title}</th>
            <td class="text-muted pr-4 whitespace-nowrap max-sm:hidden">{count}</td>
            <td class="w-2/5 max-sm:w-1/4" aria-hidden="true">
              <svg class="block h-2 w-full" viewBox="0 0 100 4" preserveAspectRatio="none"
                ><rect class="track" width="100" height="4" /><rect class="share" width={x(bytes)} height="4" /></svg
              >
            </td>
            <td class="pl-4 text-right whitespace-nowrap">{sizeInWords(bytes)}</td>
          </tr>
        {/each}
      </tbody>
    </table>
    {#if room.deleted.count > 0}
      <p class="mt-2 text-sm">
        <a class="link" href="/?show=deleted">Show {counted(room.deleted.count, 'deleted train')}</a> to delete them permanently.
      </p>
    {/if}
  </section>

  <section class="mt-8" aria-labelledby="frames">
    <h2 id="frames" class="text-lg font-semibold">Room for test frames</h2>
    <p class="text-muted mt-1 max-w-prose text-sm">
      Frames sent over the network keep their pixels here: {MOST_WITH_PIXELS} a train, and all together no more than this.
      Then the oldest pixels are deleted. What was read in a frame stays.
    </p>
    <div class="mt-3 flex flex-wrap items-center gap-x-3 gap-y-2">
      <label class="flex items-center gap-2"
        ><span>At most</span>
        <input
          class={['input input-sm w-24 text-right', message && 'input-error']}
          inputmode="decimal"
          autocomplete="off"
          value={typed ?? limitText}
          aria-invalid={message !== undefined}
          aria-describedby={message ? 'limit-message' : undefined}
          onchange={({ currentTarget }) => change(currentTarget.value)}
        /><span>GB</span></label
      >
      <progress
        class="progress min-w-40 flex-1"
        max="1"
        value={share}
        aria-label="Room taken by pixels: {Math.round(share * 100)} %"
      ></progress>
      <span class="text-muted text-sm">{sizeInWords(room.pixels.bytes)} taken</span>
    </div>
    {#if message}<p id="limit-message" class="text-error mt-1 text-sm" role="alert">{message}</p>{/if}
  </section>

  <BackupSection pixelBytes={room.pixels.bytes} {kept} />
</main>

<Modal title="Delete the oldest pixels?" bind:open={isAsking} onclose={() => (typed = undefined)}>
  <p>
    Test frames take {sizeInWords(room.pixels.bytes)}; {sizeInWords(smaller)} is less. The pixels of the oldest frames will
    be deleted, except those of the newest frame. This cannot be undone.
  </p>
  <div class="mt-4 flex flex-wrap justify-end gap-2">
    <button class="btn btn-outline btn-sm" onclick={() => (isAsking = false)}>Keep them</button>
    <button class="btn btn-error btn-sm" onclick={() => void keep(smaller)}>Delete pixels</button>
  </div>
</Modal>

<style>
  .track {
    fill: var(--color-base-300);
  }
  .share {
    fill: var(--color-primary);
  }
</style>
