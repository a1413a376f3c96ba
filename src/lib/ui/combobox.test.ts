import { describe, expect, it, vi } from 'vitest';
import { Combobox } from './combobox.svelte.ts';

vi.stubGlobal('document', { getElementById: () => null });

const key = (name: string) => ({ key: name, preventDefault: vi.fn() }) as unknown as KeyboardEvent;

function made(items: readonly string[], goesRound: boolean, takesFirst: boolean) {
  const pick = vi.fn();
  const combo = new Combobox({ id: 'c', items: () => items, pick, goesRound, takesFirst: () => takesFirst });
  return { combo, pick };
}

describe('a field with a list', () => {
  it('stands nowhere until it is walked; then Enter takes what was walked to', () => {
    const { combo, pick } = made(['a', 'b'], true, false);
    expect(combo.onkeydown(key('Enter'))).toBe(false);
    combo.onkeydown(key('ArrowDown'));
    combo.onkeydown(key('ArrowDown'));
    expect(combo.activeId).toBe('c-1');
    expect(combo.onkeydown(key('Enter'))).toBe(true);
    expect(pick).toHaveBeenCalledWith('b', 1);
  });

  it('takes the first by itself where that is meant', () => {
    const { combo, pick } = made(['a', 'b'], false, true);
    expect(combo.active).toBe(0);
    combo.onkeydown(key('ArrowDown'));
    expect(combo.active).toBe(1);
    combo.reset();
    combo.onkeydown(key('Enter'));
    expect(pick).toHaveBeenCalledWith('a', 0);
  });

  it('goes round at the ends, or stays there', () => {
    const round = made(['a', 'b', 'c'], true, false).combo;
    round.onkeydown(key('ArrowUp'));
    expect(round.active).toBe(2);
    round.onkeydown(key('ArrowDown'));
    expect(round.active).toBe(0);
    const ended = made(['a', 'b', 'c'], false, false).combo;
    for (let step = 0; step < 5; step++) ended.onkeydown(key('ArrowDown'));
    expect(ended.active).toBe(2);
  });

  it('has nothing to take from an empty list, and a list that got shorter is not overrun', () => {
    expect(made([], true, true).combo.active).toBeUndefined();
    const items = ['a', 'b', 'c'];
    const { combo } = made(items, true, false);
    combo.at = 2;
    items.length = 1;
    expect(combo.active).toBe(0);
  });
});
