import { reasonOf } from '$lib/api/reason.ts';
import { getContext, setContext } from 'svelte';

export interface Notice {
  id: number;
  text: string;
  tone: 'plain' | 'error';
  action?: { label: string; run: () => void };
  /** Whether what it tells still stands; a notice of what was taken back is not shown. */
  stands?: () => boolean;
}

/** Whatever keeps steps that can each be taken back: a drawer, a train. */
export interface Steps {
  readonly lastStep: string | undefined;
  stands: (step: string) => boolean;
  takeBack: (step: string) => string | undefined;
}

/** More at once are not read; the oldest go, errors last. */
const MOST_SHOWN = 4;

const SHOWN_MS = 8000;

/** What can still be taken back is offered for longer. */
const SHOWN_WITH_ACTION_MS = 20_000;

/** Short messages at the foot of the page; each goes after a while, errors stay until they are closed. */
export class Notices {
  shown = $state.raw<readonly Notice[]>([]);
  #next = 0;

  say(text: string, action?: Notice['action'], stands?: Notice['stands']): void {
    const id = this.#add({ text, tone: 'plain', ...(action ? { action } : {}), ...(stands ? { stands } : {}) });
    setTimeout(() => this.close(id), action ? SHOWN_WITH_ACTION_MS : SHOWN_MS);
  }

  /** Tells what was done last, with a button that takes back just that, whatever is done after it. */
  sayDone(steps: Steps, text: string, after?: () => void): void {
    const step = steps.lastStep;
    if (step === undefined) return this.say(text);
    const run = (): void => {
      this.complain(steps.takeBack(step));
      after?.();
    };
    this.say(text, { label: 'Undo', run }, () => steps.stands(step));
  }

  /** Tells what went wrong, or was refused; nothing where nothing was. */
  complain(text: string | undefined, action?: Notice['action']): void {
    if (text === undefined) return;
    this.#add({ text, tone: 'error', ...(action ? { action } : {}) });
  }

  /** Does something that may fail, and tells when it does. @returns whether it was done */
  async attempt(work: () => Promise<void>): Promise<boolean> {
    try {
      await work();
      return true;
    } catch (error) {
      this.complain(reasonOf(error));
      return false;
    }
  }

  close(id: number): void {
    this.shown = this.shown.filter((notice) => notice.id !== id);
  }

  #add(notice: Omit<Notice, 'id'>): number {
    const id = this.#next++;
    const all = [...this.shown.filter(({ text }) => text !== notice.text), { ...notice, id }];
    const byAge = [...all.filter(({ tone }) => tone === 'plain'), ...all.filter(({ tone }) => tone === 'error')];
    const going = byAge.slice(0, Math.max(all.length - MOST_SHOWN, 0));
    this.shown = all.filter((each) => !going.includes(each));
    return id;
  }
}

const KEY = Symbol('notices');
export const provideNotices = (): Notices => setContext(KEY, new Notices());
export const useNotices = (): Notices => getContext<Notices>(KEY);
