import { describe, expect, it } from 'vitest';
import { partIdOfLabel } from '../src/drawer/index.ts';

describe('what a code on a label names', () => {
  it.each([
    ['http://127.0.0.1:4180/drawer/R-12', 'R-12'],
    ['https://lodestone.example.org/drawer/Ring%205%2C9', 'Ring 5,9'],
    ['http://shed.local:4180/drawer/R%2F7?from=label', 'R/7'],
    ['R-12', 'R-12'],
    ['  OAG-1\n', 'OAG-1']
  ])('%s: %s', (text, partId) => expect(partIdOfLabel(text)).toBe(partId));

  it.each([
    'https://example.org/',
    'https://example.org/shop/R-12',
    'http://127.0.0.1:4180/drawer/',
    'http://127.0.0.1:4180/drawer/%E0%A4%A',
    'WIFI:S:shed;T:WPA;P:secret;;',
    'mailto:someone@example.org',
    'a\u0000b',
    '',
    'x'.repeat(101)
  ])('nothing of the drawer: %j', (text) => expect(partIdOfLabel(text)).toBeUndefined());
});
