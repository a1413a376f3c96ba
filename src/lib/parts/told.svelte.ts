import type { Notices } from '$lib/ui/notices.svelte.ts';
import type { Drawer } from './drawer.svelte.ts';

/** Tells which trains followed a change of the drawer. To be called by a screen once. */
export function tellOf(drawer: Drawer, notices: Notices): void {
  $effect(() => {
    const { followed } = drawer;
    if (followed.length === 0) return;
    drawer.followed = [];
    notices.say(`${followed.join(', ')} follow${followed.length === 1 ? 's' : ''} the change.`);
  });
}
