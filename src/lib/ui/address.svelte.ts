import { replaceState } from '$app/navigation';
import { page } from '$app/state';
import { onMount } from 'svelte';

/**
 * Keeps in the address which of several panels is open, after a `#`: a reload, a bookmark or a link opens it again. To
 * be called while a component is made.
 */
export function inAddress<T extends string>(panels: readonly T[], open: () => T, show: (panel: T) => void): void {
  let last: T | undefined;
  onMount(() => {
    const wanted = location.hash.slice(1);
    const panel = panels.find((each) => each === wanted);
    if (panel !== undefined && panel !== open()) show(panel);
    last = open();
  });
  $effect(() => {
    const now = open();
    if (last === undefined || now === last) return;
    last = now;
    replaceState(`#${now}`, page.state);
  });
}
