import type { Attachment } from 'svelte/attachments';
import { getContext, setContext } from 'svelte';
import type { Subject } from '@lodestone/core/why';

/** How long a pointer has to rest before it asks, and how long it may be away on its way into the answer, ms. */
const ASKS_MS = 180;
const LEAVES_MS = 250;

/** Which number is being asked about, and where on the page it stands. */
export class WhyState {
  subject = $state.raw<Subject>();
  anchor = $state.raw<DOMRect>();

  /** It was clicked: it stays until it is closed, or something else is clicked (WCAG 1.4.13). */
  #pinned = false;

  readonly #attachments: Record<string, Attachment<Element>> = {};
  #timer: ReturnType<typeof setTimeout> | undefined;

  /** Makes an element ask "why?" on hover and on focus. The same subject gives the same attachment, so that it stays. */
  asks = (subject: Subject): Attachment<Element> => (this.#attachments[subject] ??= this.#asking(subject));

  /** Asks on from inside an answer: the answer stays where it is. */
  ask = (subject: Subject): void => {
    this.hold();
    this.subject = subject;
  };

  /** The pointer or the focus is inside the answer: it stays. */
  hold = (): void => clearTimeout(this.#timer);

  /** It may go, unless the pointer comes back in a moment. */
  release = (): void => {
    clearTimeout(this.#timer);
    if (this.#pinned) return;
    this.#timer = setTimeout(this.close, LEAVES_MS);
  };

  close = (): void => {
    clearTimeout(this.#timer);
    this.#pinned = false;
    this.subject = undefined;
  };

  #asking(subject: Subject): Attachment<Element> {
    return (element) => {
      const open = (): void => {
        clearTimeout(this.#timer);
        this.subject = subject;
        this.anchor = element.getBoundingClientRect();
      };
      const pin = (): void => {
        open();
        this.#pinned = true;
      };
      const soon = (): void => {
        if (this.#pinned) return;
        clearTimeout(this.#timer);
        this.#timer = setTimeout(open, ASKS_MS);
      };
      const escape = (event: Event): void => {
        if (event instanceof KeyboardEvent && event.key === 'Escape') this.close();
      };
      const listeners: [string, (event: Event) => void][] = [
        ['pointerenter', soon],
        ['pointerleave', this.release],
        ['focus', open],
        ['blur', this.release],
        ['click', pin],
        ['keydown', escape]
      ];
      for (const [name, listener] of listeners) element.addEventListener(name, listener);
      return () => {
        if (this.subject === subject) this.close();
        for (const [name, listener] of listeners) element.removeEventListener(name, listener);
      };
    };
  }
}

const KEY = Symbol('why');
export const provideWhy = (): WhyState => setContext(KEY, new WhyState());
export const useWhy = (): WhyState => getContext<WhyState>(KEY);
