import type { Attachment } from 'svelte/attachments';
import { getContext, setContext } from 'svelte';
import type { Subject } from '@lodestone/core';

/** Which number is being asked about, and where on the page it stands. */
export class WhyState {
  subject = $state.raw<Subject>();
  anchor = $state.raw<DOMRect>();

  readonly #attachments: Record<string, Attachment<Element>> = {};

  /** Makes an element ask "why?" on hover and on focus. The same subject gives the same attachment, so that it stays. */
  asks = (subject: Subject): Attachment<Element> => (this.#attachments[subject] ??= this.#asking(subject));

  #asking(subject: Subject): Attachment<Element> {
    return (element) => {
      let timer: ReturnType<typeof setTimeout> | undefined;
      const open = (): void => {
        this.subject = subject;
        this.anchor = element.getBoundingClientRect();
      };
      const soon = (): void => {
        timer = setTimeout(open, 180);
      };
      const close = (): void => {
        clearTimeout(timer);
        if (this.subject === subject) this.subject = undefined;
      };
      const escape = (event: Event): void => {
        if (event instanceof KeyboardEvent && event.key === 'Escape') close();
      };
      const listeners: [string, (event: Event) => void][] = [
        ['pointerenter', soon],
        ['pointerleave', close],
        ['focus', open],
        ['blur', close],
        ['click', open],
        ['keydown', escape]
      ];
      for (const [name, listener] of listeners) element.addEventListener(name, listener);
      return () => {
        close();
        for (const [name, listener] of listeners) element.removeEventListener(name, listener);
      };
    };
  }
}

const KEY = Symbol('why');
export const provideWhy = (): WhyState => setContext(KEY, new WhyState());
export const useWhy = (): WhyState => getContext<WhyState>(KEY);
