import { goto } from '$app/navigation';
import { ask, isRecord, settled } from '$lib/api/ask.ts';
import type { Found } from '$lib/api/search.ts';
import type { Command } from './commands.svelte.ts';

/** Fewer letters lead everywhere. */
const LEAST_LETTERS = 2;
/** Typing has paused. */
const PAUSE_MS = 120;
const MOST_WORDS = 4;

const GROUPS: Readonly<Record<Found['what'], string>> = {
  train: 'Train',
  part: 'Part',
  record: 'Record',
  night: 'Night'
};

/** What of the owner's the palette finds beside commands: trains, parts and records by the server, words by the guide. */
export class Finding {
  found = $state.raw<readonly Command[]>([]);
  #timer: ReturnType<typeof setTimeout> | undefined;
  #asked = 0;

  /** Looks for words; the answer comes a moment later, and only that to the last question counts. */
  look(words: string): void {
    clearTimeout(this.#timer);
    const asked = ++this.#asked;
    const wanted = words.trim();
    if (wanted.length < LEAST_LETTERS) {
      this.found = [];
      return;
    }
    this.#timer = setTimeout(() => {
      void this.#ask(wanted).then(
        (found) => {
          if (asked === this.#asked) this.found = found;
        },
        // Without the server the commands are there all the same.
        () => undefined
      );
    }, PAUSE_MS);
  }

  async #ask(wanted: string): Promise<Command[]> {
    // Many words, of use to few: fetched when the palette is first asked.
    const [{ GLOSSARY }, reply] = await Promise.all([
      import('./glossary.ts'),
      ask('GET', `/api/search?words=${encodeURIComponent(wanted)}`)
    ]);
    const answer = settled(reply);
    const terms = Object.values(GLOSSARY)
      .filter(({ term }) => term.toLowerCase().includes(wanted.toLowerCase()))
      .slice(0, MOST_WORDS);
    const found = isRecord(answer) && Array.isArray(answer.found) ? (answer.found as Found[]) : [];
    return [
      ...found.map(({ what, title, beside, href }, index): Command => ({
        id: `found ${index} ${href}`,
        group: GROUPS[what],
        title: beside === '' ? title : `${title}, ${beside}`,
        run: () => void goto(href)
      })),
      ...terms.map(({ term }): Command => ({
        id: `word ${term}`,
        group: 'Guide',
        title: term,
        run: () => void goto('/guide#words')
      }))
    ];
  }
}
