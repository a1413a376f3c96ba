import { describe, expect, it } from 'vitest';
import { decodeFile } from './decode.ts';

const TABLE = 'id;kind;name;length\nR-1;spacer;Zwischenring für Kamera;10,5\n';
const wide = (text: string, order: 'le' | 'be'): Uint8Array => {
  const bytes = Buffer.from(text, 'utf16le');
  return order === 'le' ? bytes : bytes.swap16();
};

describe('a file in whatever encoding', () => {
  it.each([
    ['UTF-8', Buffer.from(TABLE)],
    ['UTF-16, little end first, without a mark', wide(TABLE, 'le')],
    ['UTF-16, big end first, without a mark', wide(TABLE, 'be')],
    ['UTF-16 with a mark', Buffer.concat([Buffer.from([0xff, 0xfe]), wide(TABLE, 'le')])]
  ])('%s is read', (_, bytes) => {
    expect(decodeFile(bytes)).toEqual({ text: TABLE, doubt: undefined });
  });

  it('what is no UTF-8 is read as Windows-1252, and said', () => {
    const { text, doubt } = decodeFile(Buffer.from(TABLE, 'latin1'));
    expect(text).toBe(TABLE);
    expect(doubt).toContain('Windows-1252');
  });
});
