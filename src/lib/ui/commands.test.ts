import { describe, expect, it } from 'vitest';
import { keyOf } from './commands.svelte.ts';

const pressed = (event: Partial<KeyboardEvent>): string => keyOf(event as KeyboardEvent);

describe('a key as commands write it', () => {
  it.each([
    ['a letter', { key: 't', code: 'KeyT' }, 'T'],
    ['a mark that needs Shift', { key: '?', code: 'Slash', shiftKey: true }, '?'],
    ['⌥N on a Mac', { key: '˜', code: 'KeyN', altKey: true }, 'Alt+N'],
    ['⌥T on a Mac', { key: '†', code: 'KeyT', altKey: true }, 'Alt+T'],
    ['Ctrl+Z on a Russian keyboard', { key: 'я', code: 'KeyZ', ctrlKey: true }, 'Ctrl+Z'],
    ['⌘⇧Z', { key: 'z', code: 'KeyZ', metaKey: true, shiftKey: true }, 'Ctrl+Shift+Z'],
    // On a German keyboard the key at KeyZ says y: what it says counts.
    ['Ctrl+Y on a German keyboard', { key: 'y', code: 'KeyZ', ctrlKey: true }, 'Ctrl+Y'],
    ['Alt and an arrow', { key: 'ArrowLeft', code: 'ArrowLeft', altKey: true }, 'Alt+ArrowLeft']
  ])('%s', (_what, event, key) => {
    expect(pressed(event)).toBe(key);
  });
});
