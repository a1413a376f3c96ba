import { expect, it } from 'vitest';
import { linesOf } from './calipers.ts';

async function* pieces(...texts: string[]): AsyncGenerator<string> {
  for (const text of texts) yield await Promise.resolve(text);
}

it('lines come whole, however they are cut and ended', async () => {
  const lines: string[] = [];
  for await (const line of linesOf(pieces('12.', '34\r\n5.6', '7\r', '8.90\n', 'half'))) lines.push(line);
  expect(lines).toEqual(['12.34', '5.67', '8.90']);
});
