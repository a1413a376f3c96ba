import type { Notices } from '$lib/ui/notices.svelte.ts';
import type { Drawer } from './drawer.svelte.ts';

/** Tells what became of changes of the drawer: turned down, or followed by trains. To be called by a screen once. */
export function tellOf(drawer: Drawer, notices: Notices): void {
  $effect(() => {
    const { refusal } = drawer;
    if (refusal === undefined) return;
    drawer.refusal = undefined;
    const again = async (): Promise<void> => {
      const why = await drawer.repeat();
      if (why !== undefined) notices.complain(why);
    };
    notices.complain(
      refusal.message,
      refusal.repeatable ? { label: 'Make my change all the same', run: () => void notices.attempt(again) } : undefined
    );
  });
  $effect(() => {
    const { followed } = drawer;
    if (followed.length === 0) return;
    drawer.followed = [];
    notices.say(`${followed.join(', ')} follow${followed.length === 1 ? 's' : ''} the change.`);
  });
}
