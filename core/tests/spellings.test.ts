import { describe, expect, it } from 'vitest';
import { parsePortCell } from '../src/drawer/csv.ts';
import { readQuickLine, type QuickEntry } from '../src/drawer/index.ts';
import { parseThread, pitchChoices } from '../src/joint/index.ts';

const shown = ({ quantity, kind, lengthMm, toleranceMm, sky, camera }: QuickEntry): string =>
  [
    quantity,
    kind,
    toleranceMm === undefined ? lengthMm : `${lengthMm}±${toleranceMm}`,
    ...(sky ? [[sky, camera].map((port) => (port ? `${port.thread}${port.gender[0]}` : '?')).join('/')] : [])
  ].join(' ');

const ring = '1 spacer 10 M48×0.75f/M48×0.75m';
const tRing = '1 spacer 10 M42×0.75f/M42×0.75m';
const step = '1 adapter 4 M54×0.75f/M48×0.75m';
const sct = '1 spacer 12 2″-24 UNf/2″-24 UNm';

/** Lines as people write them, one language beside the other (common practice, no source), and what they say. */
const READ: readonly [line: string, ...entries: string[]][] = [
  // Threads.
  ['M48x0.75 f-m 10', ring],
  // The only pitch in use is taken, and marked as assumed.
  ['M48 f-m 10', ring],
  ['M54F M48M 4', step],
  ['48x0.75 f-m 10', ring],
  ['M48×0,75 f–m 10', ring],
  ['M48 x 0.75 mm f-m 10', ring],
  ['M48-0.75 f-m 10', ring],
  ['m48*.75 f/m 10', ring],
  ['48/0,75 f-m 10', ring],
  ['M48x0.75\u00a0f\u2011m\u00a010', ring],
  ['2" filter f-m 8', '1 spacer 8 M48×0.75f/M48×0.75m'],
  ['1.25” filter f-m 8', '1 spacer 8 M28.5×0.6f/M28.5×0.6m'],
  ['C-mount f-m 5', '1 spacer 5 1″-32 UNf/1″-32 UNm'],
  ['CS-mount f-m 5', '1 spacer 5 1″-32 UNf/1″-32 UNm'],
  ['1"-32 UN f-m 5', '1 spacer 5 1″-32 UNf/1″-32 UNm'],
  ['T-mount f-m 10', tRing],
  ['T-thread f-m 10', tRing],
  ['T2 f-m 10', tRing],
  ['T-2 f-m 10', tRing],
  ['T f-m 10', tRing],
  ['2-24 UN f-m 12', sct],
  ['2-24 f-m 12', sct],
  ['2"-24 f-m 12', sct],
  ['2" 24 tpi f-m 12', sct],
  ['2 inch SCT f-m 12', sct],
  ['SCT f-m 12', sct],
  ['3.25"-16 UN f-m 20', '1 spacer 20 3.25″-16 UNf/3.25″-16 UNm'],
  ['3 1/4-16 UN f-m 20', '1 spacer 20 3.25″-16 UNf/3.25″-16 UNm'],
  ['M68x1 f-m 10 20', '1 spacer 10 M68×1f/M68×1m', '1 spacer 20 M68×1f/M68×1m'],
  // Faces.
  ['M48x0.75 f m 10', ring],
  ['M48x0.75 fm 10', ring],
  ['M48x0.75 F/M 10 mm', ring],
  ['M48x0.75 (f) - M48x0.75 (m) 10mm', ring],
  ['M48x0.75 female/male 10', ring],
  ['M48x0.75 female to male 10', ring],
  ['M48x0.75 Innengewinde - Außengewinde 10', ring],
  ['M48x0.75 IG/AG 10', ring],
  ['M48x0,75 IG-AG 7,5', '1 spacer 7.5 M48×0.75f/M48×0.75m'],
  ['M48x0.75 femelle-mâle 10', ring],
  ['M48x0.75 hembra-macho 10', ring],
  ['M48x0.75 femmina/maschio 10', ring],
  ['M48x0.75 f-f 5', '1 spacer 5 M48×0.75f/M48×0.75f'],
  ['female M54x0.75 - male M48x0.75 4', step],
  ['IG M54x0.75, AG M48x0.75 4', step],
  ['M54x0.75 f x M48x0.75 m 4', step],
  ['M54x0.75f/M48x0.75m 4', step],
  ['adapter M54x0.75 f M48x0.75 m 4', step],
  ['M 54 x 0.75 f - M 48 x 0.75 m 4', step],
  // Lengths, and where they stand.
  ['10 mm M48x0.75 f-m', ring],
  ['10 mm M48x0.75 f-m spacer', ring],
  ['length 10 M48x0.75 f-m', ring],
  ['L=10 M48x0.75 f-m', ring],
  ['M48x0.75 f-m 10 long', ring],
  ['0.5" spacer', '1 spacer 12.7'],
  ['1/2" spacer', '1 spacer 12.7'],
  ['.5in ring', '1 spacer 12.7'],
  ['0,5', '1 spacer 0.5'],
  ['10, 7', '1 spacer 10', '1 spacer 7'],
  ['10 7.5 5', '1 spacer 10', '1 spacer 7.5', '1 spacer 5'],
  ['10/7.5/5', '1 spacer 10', '1 spacer 7.5', '1 spacer 5'],
  ['10 + 7.5', '1 spacer 10', '1 spacer 7.5'],
  ['10 and 7.5', '1 spacer 10', '1 spacer 7.5'],
  ['10,7; 5', '1 spacer 10.7', '1 spacer 5'],
  ['10,7.5', '1 spacer 10', '1 spacer 7.5'],
  ['M48x0.75 f-m 10 ±0.05', '1 spacer 10±0.05 M48×0.75f/M48×0.75m'],
  ['M48x0.75 f-m 10 +/-0.05', '1 spacer 10±0.05 M48×0.75f/M48×0.75m'],
  ['M48x0.75 f-m 10 mm ± 0.02 mm', '1 spacer 10±0.02 M48×0.75f/M48×0.75m'],
  // Counts.
  ['10 ×2, 7.5 ×3', '2 spacer 10', '3 spacer 7.5'],
  ['10 x2', '2 spacer 10'],
  ['10.5x2', '2 spacer 10.5'],
  ['2x10.5', '2 spacer 10.5'],
  ['2 x 10 mm', '2 spacer 10'],
  ['10 mm x 2', '2 spacer 10'],
  ['10 2 pcs', '2 spacer 10'],
  ['2 pcs of 10', '2 spacer 10'],
  ['3 Stk. 10', '3 spacer 10'],
  ['2 pcs M48x0.75 f-m 10', '2 spacer 10 M48×0.75f/M48×0.75m'],
  ['shim 0.1 x3', '3 shim 0.1'],
  // Kinds.
  ['wheel 20', '1 filter-wheel 20'],
  ['20 mm filter wheel', '1 filter-wheel 20'],
  ['Filterrad 20', '1 filter-wheel 20'],
  ['roue à filtres 20', '1 filter-wheel 20'],
  ['OAG 17.5', '1 off-axis-guider 17.5'],
  ['off-axis guider 17', '1 off-axis-guider 17'],
  ['T-ring 11', '1 bayonet-adapter 11'],
  ['camera T2 f 17.5', '1 camera 17.5 M42×0.75f/?'],
  ['kamera T2 IG 17.5', '1 camera 17.5 M42×0.75f/?']
];

/** Lines that may mean several things, and what each of their buttons says. */
const ASKED: readonly [line: string, ...meanings: string[]][] = [
  ['10,7', '1 spacer 10.7', '1 spacer 10, 1 spacer 7'],
  ['10,7 mm', '1 spacer 10.7', '1 spacer 10, 1 spacer 7'],
  ['10,7,5,5', '1 spacer 10.7, 1 spacer 5.5', '1 spacer 10, 1 spacer 7, 1 spacer 5, 1 spacer 5'],
  ['10,7,5', '1 spacer 10, 1 spacer 7, 1 spacer 5'],
  ['2x10', '2 spacer 10', '10 spacer 2'],
  ['10 x 2', '10 spacer 2', '2 spacer 10'],
  ['10-15', '1 spacer 10, 1 spacer 15'],
  ['48x1', '1 spacer 48', '48 spacer 1'],
  ['M42 f-m 10', tRing, '1 spacer 10 M42×1f/M42×1m'],
  ['2" f-m 12', '1 spacer 12 M48×0.75f/M48×0.75m', sct],
  ['M48x0.75 10', ring],
  ['M48x0.75 f 10', ring],
  ['f M48x0.75 10', ring],
  ['M54x0.75 f - M48x0.75 4', step],
  ['M54x0.75 - M48x0.75 m 4', step],
  ['camera T2 17.5', '1 camera 17.5 M42×0.75f/?']
];

describe('lines as people write them', () => {
  it.each(READ)('%s', (line, ...entries) => {
    const reading = readQuickLine(line);
    expect(reading.ok ? reading.entries.map(shown) : reading.message).toEqual(entries);
  });

  it.each(ASKED)('%s is asked about', (line, ...meanings) => {
    const reading = readQuickLine(line);
    if (reading.ok) throw new Error('it was not asked about');
    expect(reading.choices.length).toBeGreaterThan(0);
    const answered = reading.choices.map((choice) => readQuickLine(choice.line));
    const said = answered.flatMap((each) => (each.ok ? [each.entries.map(shown).join(', ')] : []));
    for (const meaning of meanings) expect(said).toContain(meaning);
    // What is not answered by one button asks on, and never says the same again.
    for (const [index, each] of answered.entries()) {
      if (!each.ok) expect(each.message, reading.choices[index]!.line).not.toBe(reading.message);
    }
  });

  it('are a hundred', () => expect(READ.length + ASKED.length).toBeGreaterThanOrEqual(100));
});

describe('faces in a cell of a list', () => {
  const female = { thread: 'M48x0.75', gender: 'female' };
  it.each([
    ['M48x0.75 female', female],
    ['M48x0.75 f', female],
    ['M48x0.75F', female],
    ['M48x0.75 (f)', female],
    ['female M48x0.75', female],
    ['IG M48x0.75', female],
    ['Innengewinde: M48x0.75', female],
    ['M48x0.75 weiblich', female],
    ['M48x0.75 femelle 4,5 mm', { ...female, lengthMm: 4.5 }],
    ['M48x0.75\u00a0hembra', female],
    ['T2 mâle', { thread: 'T2', gender: 'male' }],
    ['C-mount m', { thread: 'C-mount', gender: 'male' }],
    ['2-24 UN AG', { thread: '2-24 UN', gender: 'male' }],
    ['2" filter male', { thread: '2" filter', gender: 'male' }]
  ])('%s', (cell, port) => {
    expect(parsePortCell(cell)).toEqual({ ok: true, port });
  });

  it('says what is missing', () => {
    expect(parsePortCell('M48 female')).toMatchObject({
      ok: false,
      message: expect.stringContaining('pitch') as string
    });
    expect(parsePortCell('M48x0.75').ok).toBe(false);
  });
});

describe('threads with signs no keyboard has', () => {
  it.each([
    ['M48\u00d70.75', 'M48×0.75'],
    ['2\u2033\u201124 UN', '2″-24 UN'],
    ['2\u201d-24 UN', '2″-24 UN'],
    ['M48\u202fx\u202f0.75', 'M48×0.75']
  ])('%s', (text, designation) => expect(parseThread(text)?.designation).toBe(designation));

  it('a size in inches may be a back or a filter', () => {
    expect(pitchChoices('2"')).toEqual(['M48×0.75', '2″-24 UN']);
    expect(pitchChoices('1.25 in')).toEqual(['M28.5×0.6']);
  });
});
