// Every magnitude is bounded before work is done on it, and what goes out carries nothing that takes itself for more.
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { guessMapping, readCsv, splitCsv, writeCsv } from '../src/drawer/csv.ts';
import { isCalendarDate, readPart } from '../src/drawer/index.ts';
import { ringDrawing, ringFault, writeDxf, writeSvg } from '../src/drawing/index.ts';
import type { RingSpec } from '../src/finder/ring.ts';
import { findStacks } from '../src/finder/index.ts';
import { assess, nextStep } from '../src/check/index.ts';
import { layoutOf } from '../src/shape/index.ts';
import { parseThread } from '../src/joint/index.ts';
import { readElement, readTrain, type Train } from '../src/train/index.ts';
import { drawer } from './drawer.ts';
import { anyTrain } from './trains.ts';

describe('a thread', () => {
  // No thread of the field is near a metre (common practice, no source).
  it.each(['M1000x1', '39in-8'])('%s is read', (text) => expect(parseThread(text)).toBeDefined());
  it.each(['M1000.1x1', 'M99999999x1', `M${'9'.repeat(400)}x1`, '40in-8', 'M0x0', '0in-8', 'M48x0', 'M48x48'])(
    '%s is none',
    (text) => expect(parseThread(text)).toBeUndefined()
  );
});

describe('a ring to be made', () => {
  const face = (thread: string, gender: 'male' | 'female' = 'female') => ({ thread, gender });
  const ring = (more: Partial<RingSpec> = {}): RingSpec => ({
    lengthMm: 5,
    toleranceMm: 0.02,
    clearMm: 40,
    outerMm: 60,
    sky: face('M54x0.75'),
    camera: face('M48x0.75', 'male'),
    ...more
  });

  it('is drawn where its blank allows it', () => {
    expect(ringFault(ring())).toBeUndefined();
    expect(ringFault(ring({ sky: face('M60x1') }))).toBeUndefined();
  });

  it.each<[string, Partial<RingSpec>, RegExp]>([
    ['a face wider than the blank', { sky: face('M68x1') }, /sky face.*wider than its outer diameter/],
    ['clear to its outer diameter', { clearMm: 60 }, /clear to its outer diameter/],
    ['a face that is no thread', { camera: face('M99999999x1') }, /camera face is not a thread/]
  ])('%s is refused', (_what, more, expected) => expect(ringFault(ring(more))).toMatch(expected));

  it('says one line where its title has several: no file takes it for lines of its own', () => {
    const drawing = ringDrawing(ring(), 'a\n0\nEOF\u0000\u2028b');
    const dxf = writeDxf(drawing);
    expect(dxf.split('\r\n').filter((line) => line === 'EOF')).toHaveLength(1);
    expect(dxf).toContain('a 0 EOF b');
    // eslint-disable-next-line no-control-regex
    expect(writeSvg(drawing)).not.toMatch(/[\u0000-\u0009\u000b-\u001f]/);
  });
});

describe('a date', () => {
  it.each(['2024-02-29', '2000-02-29', '2026-12-31', '0001-01-01'])('%s is in the calendar', (date) =>
    expect(isCalendarDate(date)).toBe(true)
  );
  // Gregorian rule of leap years, ISO 8601.
  it.each(['2026-02-30', '2023-02-29', '1900-02-29', '2026-13-01', '2026-00-10', '2026-04-31', '0000-01-01'])(
    '%s is not',
    (date) => expect(isCalendarDate(date)).toBe(false)
  );

  it('agrees with the calendar of JavaScript on every day', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 9999 }),
        fc.integer({ min: 0, max: 13 }),
        fc.integer({ min: 0, max: 32 }),
        (y, m, d) => {
          const text = [String(y).padStart(4, '0'), String(m).padStart(2, '0'), String(d).padStart(2, '0')].join('-');
          const day = new Date(0);
          day.setUTCFullYear(y, m - 1, d);
          const exists = day.getUTCFullYear() === y && day.getUTCMonth() === m - 1 && day.getUTCDate() === d;
          expect(isCalendarDate(text)).toBe(exists);
        }
      ),
      { numRuns: 1000 }
    );
  });

  it('of a reading that does not exist is refused where it stands', () => {
    const part = { partId: 'R-1', kind: 'spacer', name: 'r', lengthMm: 5 };
    const reading = readPart({ ...part, measurements: [{ lengthMm: 5 }, { lengthMm: 5, date: '2026-02-30' }] });
    expect(reading).toMatchObject({ ok: false, complaints: [{ pointer: '/measurements/1/date' }] });
    const twice = readPart({ ...part, measurements: ['a', 'a'].map((id) => ({ id, lengthMm: 5 })) });
    expect(twice).toMatchObject({ ok: false, complaints: [{ pointer: '/measurements/1/id' }] });
  });
});

describe('a document', () => {
  const zeros = (count: number) => Array.from({ length: count }, () => 0);

  it('of more values than anybody could mean is refused before it is looked at one by one', () => {
    expect(readTrain({ elements: zeros(1_000_000) })).toMatchObject({
      ok: false,
      complaints: [{ message: 'holds more than 200000 values' }]
    });
    expect(readElement({ glass: zeros(50_000) })).toMatchObject({
      ok: false,
      complaints: [{ message: 'holds more than 20000 values' }]
    });
  });

  it('nested without end is refused', () => {
    let nested: unknown = 'x';
    for (let depth = 0; depth < 100_000; depth++) nested = [nested];
    expect(readTrain({ note: nested })).toMatchObject({ ok: false, complaints: [{ message: /nested more than 32/ }] });
  });
});

describe('a cell of CSV', () => {
  const written = (name: string): string => writeCsv(drawer({ partId: 'R-1', name })).split('\r\n')[1]!;

  it.each(['=1+1', '+1', '-1', '@x', '＝1+1', "'=1", 'a;=1+1', 'a;  @x', 'a\t=1', 'x|-1'])(
    '%s begins no formula under any list separator, and comes back as it was',
    (name) => {
      const line = written(name);
      for (const cell of line.split(/[;\t|,]/)) expect(cell.trim().replace(/^"/, '')).not.toMatch(/^[=+\-@＝＋－＠]/);
      const table = splitCsv(writeCsv(drawer({ partId: 'R-1', name })));
      expect(readCsv(table, guessMapping(table.header)).parts[0]!.element.name).toBe(name);
    }
  );

  it('of any text comes back as it was', () => {
    const text = fc
      .array(fc.constantFrom('a', ';', ',', '\t', '|', "'", '=', '＝', '-', ' ', '"', '+'), {
        minLength: 1,
        maxLength: 8
      })
      .map((letters) => `x${letters.join('')}y`);
    fc.assert(
      fc.property(text, (name) => {
        const table = splitCsv(writeCsv(drawer({ partId: 'R-1', name })));
        expect(readCsv(table, guessMapping(table.header)).parts[0]!.element.name).toBe(name);
      }),
      { numRuns: 300 }
    );
  });
});

describe('the ends of what a document may say', () => {
  const EXTREMES = [0, 5e-324, 1e-9, 0.001, 1, 1.5, 360, 9999.999, 10_000, 100_000, -10_000];
  const extreme = fc
    .tuple(anyTrain, fc.array(fc.tuple(fc.nat(), fc.constantFrom(...EXTREMES)), { maxLength: 6 }))
    .map(([made, changes]) => {
      const document = JSON.parse(JSON.stringify(made)) as Train;
      const numbers: [Record<string, unknown>, string][] = [];
      const walk = (node: unknown): void => {
        if (typeof node !== 'object' || node === null) return;
        for (const [key, each] of Object.entries(node)) {
          if (typeof each === 'number') numbers.push([node as Record<string, unknown>, key]);
          else walk(each);
        }
      };
      walk(document);
      for (const [at, value] of changes) {
        const [node, key] = numbers[at % numbers.length]!;
        node[key] = value;
      }
      return document;
    });

  it('never let an exception out of core: every answer is there, and finite', () => {
    let valid = 0;
    fc.assert(
      fc.property(extreme, (document) => {
        const reading = readTrain(document);
        if (!reading.ok) return;
        valid++;
        const assessment = assess(reading.document);
        expect(JSON.stringify(assessment.report)).not.toMatch(/NaN|Infinity/);
        for (const finding of assessment.findings) expect(finding.say('mm')).not.toMatch(/NaN|undefined/);
        expect(nextStep(assessment, 'mm').sentence).not.toMatch(/NaN|undefined/);
        expect(Number.isFinite(layoutOf(reading.document, assessment.ledger).sensorMm)).toBe(true);
        findStacks(reading.document, { unit: 'mm', parts: [], maxPieces: 2 });
      }),
      { numRuns: 1000 }
    );
    expect(valid).toBeGreaterThan(300);
  });
});
