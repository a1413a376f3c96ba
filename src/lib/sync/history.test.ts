import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { inverseOf, wordsRules, type Words, type WordsChange } from '$lib/testing/sync.ts';
import { History, RUN_PAUSE_MS } from './history.ts';

/** A state with a history, as whoever keeps one has it. */
class Editor {
  state: Words = { number: 1, words: { a: '1', b: '1' } };
  now = 0;
  readonly history = new History<Words, WordsChange, undefined>(wordsRules, () => this.now);
  #entries = 0;

  do(change: WordsChange, run?: string, entry = `e${++this.#entries}`): void {
    const undo = inverseOf(this.state, change);
    this.state = wordsRules.apply(this.state, change);
    this.history.add({ label: Object.keys(change).join(), undo, run, entry, after: this.state, extra: undefined });
  }

  /** Somebody else changes something. */
  theirs(change: WordsChange): void {
    this.state = wordsRules.apply(this.state, change);
  }

  travel(direction: 'undo' | 'redo', step?: string): string | undefined {
    const carryOut = (change: WordsChange) => {
      const undo = inverseOf(this.state, change);
      this.state = wordsRules.apply(this.state, change);
      return { undo, entry: `e${++this.#entries}`, after: this.state };
    };
    return this.history.travel(direction, this.state, carryOut, step);
  }
}

describe('steps that are written down', () => {
  it('are taken back and done again by who reads them, on what is there then', () => {
    const editor = new Editor();
    editor.do({ a: '2' });
    editor.do({ b: '2' });
    editor.do({ a: '3' });
    editor.travel('undo');
    const reloaded = new Editor();
    reloaded.state = editor.state;
    reloaded.history.restore(editor.history.written(100_000));
    expect(reloaded.history.undoLabel).toBe('b');
    reloaded.theirs({ c: 'theirs' });
    expect(reloaded.travel('redo')).toBeUndefined();
    expect(reloaded.state.words).toEqual({ a: '3', b: '2', c: 'theirs' });
    for (let each = 0; each < 3; each++) reloaded.travel('undo');
    expect(reloaded.state.words).toEqual({ a: '1', b: '1', c: 'theirs' });
  });

  it('are no longer than asked for, the newest kept, and what is no text of steps is none', () => {
    const editor = new Editor();
    for (let each = 0; each < 60; each++) editor.do({ a: `${each} ${'long '.repeat(100)}` });
    const text = editor.history.written(5000);
    expect(text.length).toBeLessThanOrEqual(5000);
    const reloaded = new Editor();
    reloaded.state = editor.state;
    reloaded.history.restore(text);
    expect(reloaded.history.undoLabel).toBe('a');
    for (const broken of ['', '{', '[]', '{"past":1}', '{"past":[{}],"future":[]}', 'null']) {
      const other = new Editor();
      other.history.restore(broken);
      expect(other.history.undoLabel).toBeUndefined();
    }
  });

  it('do not replace what was done since', () => {
    const editor = new Editor();
    editor.do({ a: '2' });
    const text = editor.history.written(100_000);
    const other = new Editor();
    other.do({ b: '9' });
    other.history.restore(text);
    expect(other.history.undoLabel).toBe('b');
  });
});

describe('undo', () => {
  it('leaves alone what somebody else has changed meanwhile', () => {
    const editor = new Editor();
    editor.do({ a: '2' });
    editor.theirs({ b: 'measured on the phone' });
    expect(editor.travel('undo')).toBeUndefined();
    expect(editor.state.words).toEqual({ a: '1', b: 'measured on the phone' });
  });

  it('of one step takes back that one, whatever was done since, and only once', () => {
    const editor = new Editor();
    editor.do({ a: '2' }, undefined, 'first');
    editor.do({ b: '2' }, undefined, 'second');
    expect(editor.history.holds('first')).toBe(true);
    expect(editor.travel('undo', 'first')).toBeUndefined();
    expect(editor.state.words).toEqual({ a: '1', b: '2' });
    expect(editor.history.holds('first')).toBe(false);
    expect(editor.history.holds('second')).toBe(true);
    editor.travel('undo', 'first');
    expect(editor.state.words).toEqual({ a: '1', b: '2' });
    editor.travel('undo');
    expect(editor.state.words).toEqual({ a: '1', b: '1' });
  });

  it('of a key that somebody else has set since leaves theirs, says so, and goes on with the step before', () => {
    const editor = new Editor();
    editor.do({ b: '2' });
    editor.do({ a: '2' });
    editor.theirs({ a: 'theirs' });
    expect(editor.travel('undo')).toBe('a changed there too');
    expect(editor.state.words.a).toBe('theirs');
    expect(editor.history.redoLabel).toBeUndefined();
    editor.travel('undo');
    expect(editor.state.words).toEqual({ a: 'theirs', b: '1' });
  });

  it('of a step of several keys takes back those that are still ours', () => {
    const editor = new Editor();
    editor.do({ a: '2', b: '2', c: '2' });
    editor.theirs({ b: 'theirs' });
    expect(editor.travel('undo')).toBe('b changed there too');
    expect(editor.state.words).toEqual({ a: '1', b: 'theirs' });
    editor.travel('redo');
    expect(editor.state.words).toEqual({ a: '2', b: 'theirs', c: '2' });
  });

  it('of what has come to nothing by itself does nothing', () => {
    const editor = new Editor();
    editor.do({ c: '2' });
    editor.theirs({ c: undefined });
    expect(editor.travel('undo')).toBeUndefined();
    expect(editor.state.words).toEqual({ a: '1', b: '1' });
  });
});

describe('a run of typing', () => {
  it('is one step; after a pause begins another', () => {
    const editor = new Editor();
    for (const typed of ['1', '16', '16.5']) {
      editor.do({ a: typed }, 'field');
      editor.now += 200;
    }
    editor.now += RUN_PAUSE_MS;
    editor.do({ a: '17' }, 'field');
    editor.travel('undo');
    expect(editor.state.words.a).toBe('16.5');
    editor.travel('undo');
    expect(editor.state.words.a).toBe('1');
    expect(editor.history.undoLabel).toBeUndefined();
  });

  it('ends when the field is left', () => {
    const editor = new Editor();
    editor.do({ a: '2' }, 'field');
    editor.history.endRun();
    editor.do({ a: '3' }, 'field');
    editor.travel('undo');
    expect(editor.state.words.a).toBe('2');
  });

  it('that comes back to where it began, as with Escape, is no step', () => {
    const editor = new Editor();
    editor.do({ b: '2' });
    editor.do({ a: '2' }, 'field');
    editor.do({ a: '1' }, 'field');
    expect(editor.history.undoLabel).toBe('b');
  });
});

describe('what was refused', () => {
  it('takes its own steps with it, and no others', () => {
    const editor = new Editor();
    editor.do({ a: '2' }, undefined, 'first');
    editor.do({ b: '2' }, undefined, 'second');
    editor.do({ c: '2' }, undefined, 'third');
    editor.theirs({ b: '1' });
    editor.history.forget('second');
    editor.travel('undo');
    editor.travel('undo');
    expect(editor.state.words).toEqual({ a: '1', b: '1' });
    expect(editor.history.undoLabel).toBeUndefined();
  });

  it('of a run that was sent in two parts leaves the part that is stored', () => {
    const editor = new Editor();
    editor.do({ a: '2' }, 'field', 'sent');
    editor.do({ a: '3' }, 'field', 'refused');
    editor.theirs({ a: '2' });
    editor.history.forget('refused');
    editor.travel('undo');
    expect(editor.state.words.a).toBe('1');
  });
});

it('any steps, some of others between them: undone and done again, theirs is never touched', () => {
  const step = fc.record({
    theirs: fc.boolean(),
    key: fc.constantFrom('a', 'b', 'c', 'd'),
    to: fc.option(fc.integer({ min: 2, max: 5 }).map(String), { nil: undefined })
  });
  fc.assert(
    fc.property(fc.array(step, { maxLength: 15 }), (steps) => {
      const editor = new Editor();
      const last = new Map<string, { theirs: boolean; to: string | undefined }>();
      steps.forEach(({ theirs, key, to: value }, index) => {
        // What they set is told from what we set: the same twice is no change.
        const to = theirs && value !== undefined ? `theirs ${index}` : value;
        if (theirs) editor.theirs({ [key]: to });
        else editor.do({ [key]: to });
        last.set(key, { theirs, to });
      });
      const end = editor.state.words;
      let count = 0;
      while (editor.history.undoLabel !== undefined && count++ < 50) editor.travel('undo');
      expect(count).toBeLessThan(50);
      for (const [key, { theirs, to }] of last) {
        if (theirs && to !== undefined) expect(editor.state.words[key]).toBe(to);
      }
      if (steps.every(({ theirs }) => !theirs)) {
        expect(editor.state.words).toEqual({ a: '1', b: '1' });
        while (editor.history.redoLabel !== undefined) editor.travel('redo');
        expect(editor.state.words).toEqual(end);
      }
    }),
    { numRuns: 300 }
  );
});
