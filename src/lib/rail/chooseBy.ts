import type { TrainSession } from '$lib/train/session.svelte.ts';

/** Chooses a part with the pointer: with Ctrl beside what is chosen, with Shift all up to it. */
export function chooseBy(
  train: TrainSession,
  { ctrlKey, metaKey, shiftKey }: Pick<MouseEvent, 'ctrlKey' | 'metaKey' | 'shiftKey'>,
  id: string,
  onchosen: () => void = () => undefined
): void {
  if (shiftKey) train.chooseTo(id);
  else if (ctrlKey || metaKey) train.toggle(id);
  else train.select({ kind: 'element', id });
  onchosen();
}
