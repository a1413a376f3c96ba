import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseThread, pitchChoices } from '../src/joint/index.ts';
import { MOST_QUICK, elementOfEntry, readQuickLine, type QuickEntry } from '../src/drawer/index.ts';

function entries(line: string): QuickEntry[] {
  const reading = readQuickLine(line);
  if (!reading.ok) throw new Error(`${line}: ${reading.message}`);
  return reading.entries;
}
const short = (line: string): string[] =>
  entries(line).map(
    ({ kind, lengthMm, quantity, sky, camera }) =>
      `${quantity} ${kind} ${lengthMm} ${[sky, camera].map((port) => (port ? `${port.thread} ${port.gender[0]}` : '?')).join(' / ')}`
  );

describe('threads as people spell them', () => {
  it.each([
    ['M48x.75', 'M48×0.75'],
    ['48/0.75', 'M48×0.75'],
    ['48/0,75', 'M48×0.75'],
    ['M 48 x 0,75 mm', 'M48×0.75'],
    ['m48*0.75', 'M48×0.75'],
    ['T2 thread', 'M42×0.75'],
    ['T-thread', 'M42×0.75'],
    ['2in SCT', '2″-24 UN'],
    ['SCT thread', '2″-24 UN']
  ])('%s is %s', (text, designation) => {
    expect(parseThread(text)?.designation).toBe(designation);
  });

  it('a missing pitch becomes choices, never a guess', () => {
    expect(pitchChoices('M42')).toEqual(['M42×0.75', 'M42×1']);
    expect(pitchChoices('M48 thread')).toEqual(['M48×0.75']);
    expect(parseThread('M48')).toBeUndefined();
    expect(pitchChoices('M48x0.75')).toEqual([]);
    expect(pitchChoices('something')).toEqual([]);
    expect(pitchChoices('M49')).toEqual([]);
  });
});

describe('a line of shorthand', () => {
  it('makes an entry a length, with how many', () => {
    expect(short('M48x0.75 f–m 10, 7.5, 16.5 ×2')).toEqual([
      '1 spacer 10 M48×0.75 f / M48×0.75 m',
      '1 spacer 7.5 M48×0.75 f / M48×0.75 m',
      '2 spacer 16.5 M48×0.75 f / M48×0.75 m'
    ]);
  });

  it.each([
    ['T2 m-f 5', ['1 spacer 5 M42×0.75 m / M42×0.75 f']],
    ['48/0,75 f/m 7,5 10', ['1 spacer 7.5 M48×0.75 f / M48×0.75 m', '1 spacer 10 M48×0.75 f / M48×0.75 m']],
    ['M48x.75 female - male 10,7.5', ['1 spacer 10 M48×0.75 f / M48×0.75 m', '1 spacer 7.5 M48×0.75 f / M48×0.75 m']],
    ['M54x0.75f-M48x0.75m 4', ['1 adapter 4 M54×0.75 f / M48×0.75 m']],
    ['M54×0.75 m to M48×0.75 f 4.5mm', ['1 adapter 4.5 M54×0.75 m / M48×0.75 f']],
    ['2in SCT f-m 12', ['1 spacer 12 2″-24 UN f / 2″-24 UN m']],
    ['shims 0.1 x3 0.3', ['3 shim 0.1 ? / ?', '1 shim 0.3 ? / ?']],
    ['filter wheel 20', ['1 filter-wheel 20 ? / ?']],
    ['oag 17', ['1 off-axis-guider 17 ? / ?']],
    ['ring 0.5in', ['1 spacer 12.7 ? / ?']],
    ['camera M42x0.75 f 17.5', ['1 camera 17.5 M42×0.75 f / ?']],
    [
      'tube M48x0.75 f-m 35 50',
      ['1 extension-tube 35 M48×0.75 f / M48×0.75 m', '1 extension-tube 50 M48×0.75 f / M48×0.75 m']
    ],
    ['10', ['1 spacer 10 ? / ?']],
    ['M48 f–m 10', ['1 spacer 10 M48×0.75 f / M48×0.75 m']],
    [
      'wheel 20, drawer 15, T-ring 11',
      ['1 filter-wheel 20 ? / ?', '1 filter-drawer 15 ? / ?', '1 bayonet-adapter 11 ? / ?']
    ],
    ['shims 0.1, 0.3, wheel 20', ['1 shim 0.1 ? / ?', '1 shim 0.3 ? / ?', '1 filter-wheel 20 ? / ?']],
    ['20 mm wheel and 17 mm oag', ['1 filter-wheel 20 ? / ?', '1 off-axis-guider 17 ? / ?']],
    ['wheel 20, M54x0.75 f-m 10', ['1 filter-wheel 20 ? / ?', '1 spacer 10 M54×0.75 f / M54×0.75 m']],
    ['M48 f–m 12 long, 3.5 of it screws in', ['1 spacer 8.5 M48×0.75 f / M48×0.75 m']],
    ['M48 f–m 12, thread 3.5', ['1 spacer 12 M48×0.75 f / M48×0.75 m']]
  ] as const)('%s', (line, expected) => {
    expect(short(line)).toEqual(expected);
  });

  it.each([
    ['M42 f-m 10', ['M42×0.75 f-m 10', 'M42×1 f-m 10']],
    ['wheel 20, ring M42 f-m 10', ['wheel 20, ring M42×0.75 f-m 10', 'wheel 20, ring M42×1 f-m 10']],
    ['filter 36', ['filter 36 1 mm', 'filter 36 2 mm', 'filter 36 3 mm']],
    ['M54x0.75f-M42m 4', ['M54x0.75f-M42×0.75m 4', 'M54x0.75f-M42×1m 4']],
    ['camera T2 17.5', ['camera T2 female 17.5', 'camera T2 male 17.5']]
  ])('%s asks, and every choice is a line that is understood', (line, choices) => {
    const reading = readQuickLine(line);
    if (reading.ok) throw new Error('this was to be asked');
    expect(reading.choices.map((each) => each.line)).toEqual(choices);
    for (const each of reading.choices) expect(readQuickLine(each.line).ok, each.line).toBe(true);
  });

  it('a face may be a bolt circle or a bayonet, and a male may have a lock ring', () => {
    const bolts = { bolts: { count: 4, circleMm: 60 } };
    expect(entries('adapter 11.4 4 bolts on 60, M54 male')).toMatchObject([
      { kind: 'adapter', lengthMm: 11.4, sky: bolts, camera: { thread: 'M54×0.75', gender: 'male' } }
    ]);
    expect(entries('bolts 4 on a circle of 60 M54 male 11.4')).toMatchObject([{ kind: 'adapter', sky: bolts }]);
    expect(entries('T-ring 11 M42×0.75 f DSLR 44')).toMatchObject([
      { kind: 'bayonet-adapter', camera: { bayonet: 'dslr-44.0', gender: 'male', assumed: true } }
    ]);
    expect(entries('M48 f–m lock ring 12.5')).toMatchObject([
      { sky: { gender: 'female' }, camera: { lockRing: true } }
    ]);
    for (const [line, message] of [
      ['wheel 20 6 bolts on 62', /On which side/],
      ['adapter 5 M48 4 bolts on 60', /Is M48×0.75 male or female/],
      ['M48 f–f lock ring 5', /Which thread has the lock ring/],
      ['adapter 5 M48 f DSLR 44 4 bolts on 60', /two faces/]
    ] as const) {
      const reading = readQuickLine(line);
      expect(reading.ok ? line : reading.message).toMatch(message);
    }
  });

  it('a thread’s only pitch is assumed, its length stands at the male face, and filters have glass', () => {
    expect(entries('M48 f–m 12 long, 3.5 of it screws in')).toMatchObject([
      { sky: { thread: 'M48×0.75', assumed: true }, camera: { gender: 'male', lengthMm: 3.5 } }
    ]);
    expect(entries('M48×0.75 f–m 12')[0]!.sky).not.toHaveProperty('assumed');
    for (const line of ['filter 36 2mm', 'filter ø36 2', 'filter 2 mm, 36 across']) {
      expect(entries(line), line).toEqual([{ kind: 'filter', lengthMm: 0, glassMm: 2, outerMm: 36, quantity: 1 }]);
    }
    expect(entries('filters 2, 3')).toMatchObject([{ glassMm: 2 }, { glassMm: 3 }]);
    const [filter] = entries('filter 36 2mm').map((entry) => elementOfEntry(entry, 'f'));
    expect(filter).toMatchObject({ name: 'Filter 36 × 2', outerMm: 36, glass: [{ thicknessMm: 2 }] });
  });

  it('a gender that is missing is asked, and each answer is understood', () => {
    const reading = readQuickLine('M48x0.75 10, 7.5');
    if (reading.ok) throw new Error('this was to be asked');
    expect(reading.choices).toHaveLength(4);
    expect(short(reading.choices[1]!.line)[0]).toBe('1 spacer 10 M48×0.75 m / M48×0.75 f');
  });

  it.each([
    '',
    'M48x0.75 f-m',
    'M48x0.75 f-m ten',
    'M49 f-m 5',
    'M48x0.75 f-m 0',
    'M48x0.75 f-m 20000',
    'wheel',
    '10 ×0',
    '10 ×5000',
    '10 mm 2000 pcs',
    '10 ±11',
    'flattener 55',
    'wheel 20 drawer 15',
    'wheel 20 ø36',
    '10 thread 3',
    'M48 f–m 3 of which 3.5 thread',
    'filters 36 50 2'
  ])('%s is refused with a reason', (line) => {
    expect(readQuickLine(line)).toMatchObject({ ok: false, message: expect.stringMatching(/\.$|\?$/) as string });
  });

  it('never throws, and never makes more than a line may', () => {
    fc.assert(
      fc.property(
        fc.oneof(
          fc.string({ maxLength: 80 }),
          fc
            .array(
              fc.constantFrom('M48', '×0.75', ' f', '–', 'm ', '10', ', ', '7.5', '×2', 'shim ', 'T2', ' to ', '/'),
              {
                maxLength: 40
              }
            )
            .map((words) => words.join(''))
        ),
        (line) => {
          const reading = readQuickLine(line);
          if (reading.ok) {
            expect(reading.entries.length).toBeLessThanOrEqual(MOST_QUICK);
            for (const { lengthMm, quantity } of reading.entries) {
              expect(lengthMm).toBeGreaterThan(0);
              expect(quantity).toBeGreaterThanOrEqual(1);
            }
          } else expect(reading.message).not.toBe('');
        }
      ),
      { numRuns: 500 }
    );
  });
});

describe('lengths of threads behind their faces', () => {
  const faces = (line: string) => {
    const reading = readQuickLine(line);
    return reading.ok ? reading.entries.map(({ lengthMm, sky, camera }) => ({ lengthMm, sky, camera })) : reading;
  };

  it.each([
    ['M48x0.75 f 5 m 3.5 10', 10],
    ['M48×0.75 female 5 male 3.5, 10 long', 10],
    ['10 mm M48x0.75 f 5 m 3.5', 10]
  ])('%s: a bore 5 deep, a thread of 3.5, and its own length', (line, lengthMm) => {
    expect(faces(line)).toEqual([
      {
        lengthMm,
        sky: { thread: 'M48×0.75', gender: 'female', lengthMm: 5 },
        camera: { thread: 'M48×0.75', gender: 'male', lengthMm: 3.5 }
      }
    ]);
  });

  it('of two threads each has its own', () => {
    expect(faces('M54x0.75 f 4.5 M48x0.75 m 4 12')).toEqual([
      {
        lengthMm: 12,
        sky: { thread: 'M54×0.75', gender: 'female', lengthMm: 4.5 },
        camera: { thread: 'M48×0.75', gender: 'male', lengthMm: 4 }
      }
    ]);
  });

  it('where nothing else is said it is asked what they are, and the answer is read', () => {
    const asked = readQuickLine('M48x0.75 f 5 m 3.5');
    expect(asked).toMatchObject({
      ok: false,
      message: expect.stringMatching(/^Are 5 and 3\.5 the lengths of its threads/)
    });
    const answered = readQuickLine((asked as { choices: { line: string }[] }).choices[0]!.line);
    expect(answered).toMatchObject({ ok: true, entries: [{ lengthMm: 5 }, { lengthMm: 3.5 }] });
    expect(faces('M48x0.75 f–m 5, 3.5')).toHaveLength(2);
    expect(faces('M48x0.75 f m 5 3.5 10')).toHaveLength(3);
  });
});
