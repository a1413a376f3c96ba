import { parseThread } from '../joint/thread.ts';
import { KINDS, type ElementKind, type Port } from '../train/model.ts';
import { capitalised } from '../why/wording.ts';

/** A name for a part that was given none: what it is, its length as written, and of a ring its sky thread. */
export function usualName(kind: ElementKind, lengthText: string, sky: Port | undefined): string {
  const words = KINDS[kind].words;
  if (kind !== 'spacer') return [capitalised(words), lengthText].filter(Boolean).join(' ');
  const thread = sky && 'thread' in sky ? parseThread(sky.thread)?.designation : undefined;
  return ['Ring', lengthText, thread].filter(Boolean).join(' ');
}
