import type { Train } from '@lodestone/core/train';
import { describe, expect, it } from 'vitest';
import heron from '../../../demo/heron.json';
import { shelved, tagsOf } from './shelf.ts';

const train = (name: string, savedAt: string, more: Partial<Train> = {}) => ({
  document: { ...(heron as unknown as Train), name, ...more },
  revision: { savedAt }
});
const trains = [
  train('Long Tom 10', '2026-11-03T00:00:00Z', { note: 'Für den Schwan, f/8' }),
  train('Long Tom 9', '2026-11-01T00:00:00Z', { tags: ['galaxies', 'dark site'] }),
  train('Été', '2026-11-02T00:00:00Z', { elements: [], tags: ['galaxies'] })
];
const names = (query: string, order: 'recent' | 'name' = 'recent'): string[] =>
  shelved(trains, query, order).map(({ document }) => document.name);

describe('the shelf', () => {
  it('has the latest change first, or names as a person sorts them', () => {
    expect(names('')).toEqual(['Long Tom 10', 'Été', 'Long Tom 9']);
    expect(names('', 'name')).toEqual(['Été', 'Long Tom 9', 'Long Tom 10']);
  });

  it('is searched by name, note and parts, every word, without marks', () => {
    expect(names('ete')).toEqual(['Été']);
    expect(names('fur schwan')).toEqual(['Long Tom 10']);
    expect(names('harnwick wheel')).toEqual(['Long Tom 10', 'Long Tom 9']);
    expect(names('harnwick schwan')).toEqual(['Long Tom 10']);
    expect(names('anchor')).toEqual([]);
  });

  it('is narrowed down to a tag, and tags are words to search by', () => {
    expect(tagsOf(trains)).toEqual([
      ['galaxies', 2],
      ['dark site', 1]
    ]);
    expect(shelved(trains, '', 'name', 'galaxies').map(({ document }) => document.name)).toEqual(['Été', 'Long Tom 9']);
    expect(names('dark')).toEqual(['Long Tom 9']);
    expect(shelved(trains, 'ete', 'recent', 'dark site')).toEqual([]);
  });
});
