import { afterEach, expect, it, vi } from 'vitest';
import { beginAs, whose } from './whose.ts';

const remembered = new Map<string, string>();
vi.stubGlobal('sessionStorage', {
  getItem: (key: string) => remembered.get(key) ?? null,
  setItem: (key: string, text: string) => void remembered.set(key, text),
  clear: () => remembered.clear()
});
afterEach(() => {
  remembered.clear();
  beginAs(undefined);
});

it('names are everybody’s where one person uses the server, and an owner’s own where there are several', () => {
  expect(whose('work')).toBe('work');
  beginAs('one');
  const mine = whose('work');
  beginAs('other');
  expect(new Set(['work', mine, whose('work')]).size).toBe(3);
});

it('what a tab remembers stays for its owner, and is not there for another', () => {
  beginAs('one');
  remembered.set('draft', 'M54, somewhere');
  beginAs('one');
  expect(remembered.get('draft')).toBe('M54, somewhere');
  beginAs('other');
  expect(remembered.has('draft')).toBe(false);
});
