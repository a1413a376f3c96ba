import { describe, expect, it } from 'vitest';
import { KITS, kitsCalled } from '../src/catalogue/index.ts';
import { elementOfEntry, readQuickLine } from '../src/drawer/index.ts';
import { readElement } from '../src/train/index.ts';

describe('kits', () => {
  it.each(KITS.map((kit) => [kit.words, kit.line] as const))(
    '%s is a line that is understood, each part of it valid',
    (_words, line) => {
      const reading = readQuickLine(line);
      if (!reading.ok) throw new Error(reading.message);
      const parts = reading.entries.reduce((sum, { quantity }) => sum + quantity, 0);
      expect(parts).toBeGreaterThan(1);
      for (const [at, entry] of reading.entries.entries()) {
        expect(readElement(elementOfEntry(entry, `part-${at}`))).toMatchObject({ ok: true });
      }
    }
  );

  it('are called by the beginnings of their words, and by nothing that is a part', () => {
    expect(kitsCalled('kit').length).toBe(KITS.length);
    expect(kitsCalled('kit rings m48').map(({ words }) => words)).toEqual(['Kit: rings M48']);
    expect(kitsCalled('camera box')).toHaveLength(1);
    expect(kitsCalled('ring set m42')).toHaveLength(1);
    for (const line of ['', 'm48 f–m 10', 'ki', 'wheel 20', 'rings M48 f–m 5', 't-ring 44.0', 'rings', 'filters'])
      expect(kitsCalled(line), line).toEqual([]);
    for (const { line } of KITS) expect(kitsCalled(line)).toEqual([]);
  });
});
