import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readCorrectorLine, readHostLine, readNotes, trainOfNotes, type NotePiece } from '../src/catalogue/index.ts';
import { assess } from '../src/check/index.ts';
import { readTrain } from '../src/train/index.ts';

const trainOf = (text: string) => {
  const train = trainOfNotes(readNotes(text));
  if (!train) throw new Error(JSON.stringify(readNotes(text), null, 1));
  const reading = readTrain(train);
  if (!reading.ok) throw new Error(JSON.stringify(reading.complaints));
  return reading.document;
};
const sketch = (text: string): string[] =>
  trainOf(text).elements.map((element) => `${element.kind} ${'lengthMm' in element ? element.lengthMm : ''}`);

/** Notes as people post them, and the train they mean (from memory: forum practice, without a maker). */
const NOTES: readonly [text: string, ...elements: string[]][] = [
  [
    '115 f/7, 0.79x reducer 58.3, OAG 17.2 M54 f–m, wheel 21.6, cam 12.5',
    'corrector 30',
    'off-axis-guider 17.2',
    'filter-wheel 21.6',
    'camera 12.5'
  ],
  ['115 f/7; 0,79x reducer 58,3; wheel 21,6; cam 12,5', 'corrector 30', 'filter-wheel 21.6', 'camera 12.5'],
  ['cam 17.5, T-ring 11, 0.63 reducer 105, 8in f/10 SCT', 'corrector 30', 'bayonet-adapter 11', 'camera 17.5'],
  [
    '- Harnwick apo 100/550\n- flattener 55mm M48\n- M48 f–m 16.5, 7.5, 0.5\n- Fenlark OAG, 17.2 mm\n- camera 6.5',
    'corrector 30',
    'spacer 16.5',
    'spacer 7.5',
    'spacer 0.5',
    'off-axis-guider 17.2',
    'camera 6.5'
  ],
  [
    '115 f/7\nflattener 55\n21\n16.5 ×2\ncamera 17.5',
    'corrector 30',
    'spacer 21',
    'spacer 16.5',
    'spacer 16.5',
    'camera 17.5'
  ],
  ['newton 200 f/4 > coma corrector 55 > tilter 10 > camera 17.5', 'corrector 30', 'tilt-plate 10', 'camera 17.5']
];

describe('notes of a train', () => {
  it.each(NOTES)('%s', (text, ...elements) => {
    expect(sketch(text)).toEqual(elements);
  });

  it('the sum and the back focus are those of the notes', () => {
    expect(assess(trainOf(NOTES[0]![0])).report.residualMm).toBeCloseTo(17.2 + 21.6 + 12.5 - 58.3, 9);
  });

  it('names of makers become names, filters go into the wheel before them', () => {
    const train = trainOf(
      'Harnwick 115 f/7, flattener 55, Harnwick X36 wheel 20, filter 36 2mm, filter 36 3mm, cam 17.5'
    );
    expect(train.host.name).toBe('Harnwick');
    const [, wheel] = train.elements;
    expect(wheel).toMatchObject({
      name: 'Harnwick X36 filter wheel',
      glass: [
        { thicknessMm: 2, slot: 1 },
        { thicknessMm: 3, slot: 2 }
      ]
    });
    expect(train.elements).toHaveLength(3);
  });

  it.each([
    ['115 f/7, reducer, cam 17.5', 'What back focus does it require?'],
    ['135mm f/2, cam 17.5', 'Is this a telescope or a lens?'],
    ['115 f/7, OAG 17 M42 f–m, cam 17.5', 'Which pitch?'],
    ['115 f/7, OAG 17.2 M54, cam 17.5', 'Which way is M54×0.75 cut'],
    ['115 f/7, thing 20, cam 17.5', 'What is “thing”?'],
    ['115 f/7, X26 2600MM wheel 20, cam 17.5', 'Which of these is its length?'],
    ['115 f/7, cam 12.5, cam 17.5', 'These notes have a camera already.'],
    ['115 f/7, dew heater, cam 17.5', '“dew heater” has no length']
  ])('%s asks, and every answer leads on', (text, question) => {
    const asked = (pieces: readonly NotePiece[]) => pieces.filter((piece) => piece.is === 'question');
    const [piece] = asked(readNotes(text).pieces);
    expect(piece).toMatchObject({ message: expect.stringContaining(question) as string });
    expect(trainOfNotes(readNotes(text))).toBeUndefined();
    expect(piece!.choices.at(-1)!.label).toBe('keep it as a note');
    for (const choice of piece!.choices) expect(asked(readNotes(choice.text).pieces).length).toBe(0);
  });

  it('faces are understood whatever they are: bolts, bayonets, a lock ring, those of the corrector', () => {
    const [flattener, , wheel, camera] = trainOf(
      'refractor 94/517\nflattener 55 M54 male\nOAG 12.5 M54 f–m\nwheel 20 M54 f 6 bolts on 62\ncam 12.5 6 bolts on 62'
    ).elements;
    expect(flattener).toMatchObject({ camera: { thread: 'M54×0.75', gender: 'male' } });
    expect(wheel).toMatchObject({ sky: { thread: 'M54×0.75' }, camera: { bolts: { count: 6, circleMm: 62 } } });
    expect(camera).toMatchObject({ sky: { bolts: { count: 6, circleMm: 62 } } });

    const body = trainOf('refractor 72/432\nflattener 55 M48 m lock ring\nT-ring 11 M48 f DSLR 44\nDSLR 44.0').elements;
    expect(body).toMatchObject([
      { camera: { thread: 'M48×0.75', gender: 'male', lockRing: true } },
      { kind: 'bayonet-adapter', sky: { gender: 'female' }, camera: { bayonet: 'dslr-44.0', gender: 'male' } },
      { kind: 'camera', lengthMm: 44, sky: { bayonet: 'dslr-44.0', gender: 'female' } }
    ]);
    expect(trainOf('115 f/7, flattener 55 M48, cam 17.5').elements[0]).toMatchObject({
      camera: { gender: 'male', assumed: true }
    });
  });

  it('a lens has the bayonet that is named, and its flange distance for a back focus', () => {
    const train = trainOf('lens 135 f/2.8 DSLR 44\nT-ring 11 DSLR 44 M48 m\ndrawer 15 M48 f–m\ncam 17.5 M48 f');
    expect(train.host).toMatchObject({ apertureMm: 48.21, focalLengthMm: 135, corrector: { backFocusMm: 44 } });
    expect(assess(train).report.residualMm).toBeCloseTo(11 + 15 + 17.5 - 44, 9);
    // Behind a flattener of its own the flange distance decides nothing.
    expect(trainOf('lens 135 f/2.8 DSLR 44, flattener 55, cam 17.5').host.corrector).toBeUndefined();
  });

  it('two lengths that contradict the focal ratio are refused, not sorted', () => {
    expect(readHostLine('lens 135 f/2.8 44')).toMatchObject({
      ok: false,
      message: expect.stringMatching(/not f\/2\.8/) as string
    });
    expect(readHostLine('100/600 f/6')).toMatchObject({ ok: true, host: { apertureMm: 100, focalLengthMm: 600 } });
    expect(readHostLine('8in 2032 mm f/10')).toMatchObject({ ok: true, host: { apertureMm: 203.2 } });
  });

  it('what is only kept stands in the note of the train', () => {
    expect(trainOf('115 f/7\n# dew heater on channel 2\ncam 17.5').note).toBe('dew heater on channel 2');
  });

  it('more pieces than are read are told, and kept apart by a word too', () => {
    const many = `115 f/7\n${'wheel 1\n'.repeat(70)}cam 17.5`;
    expect(readNotes(many).pieces).toHaveLength(61);
    expect(readNotes(many).pieces.at(-1)).toMatchObject({
      is: 'question',
      text: expect.stringMatching(/cam 17\.5$/) as string
    });
    expect(sketch('115 f/7, wheel 20 and cam 17.5')).toEqual(['filter-wheel 20', 'camera 17.5']);
  });

  it('no letter of any text is lost, none makes it throw, and what it makes is a train', () => {
    const word = fc.constantFrom(
      ...['115 f/7', '8in f/10 SCT', 'reducer 0.79x', '58.3', 'flattener 55', 'M48', 'f–m', 'wheel', '20', 'cam 17.5'],
      ...['Harnwick', '2600MM', '10,7', ', ', '\n', ' > ', '- ', '×2', 'shim 0.1', '# ', 'filter 36 2mm', ';']
    );
    const text = fc.oneof(
      fc.string({ maxLength: 100 }),
      fc.array(word, { maxLength: 25 }).map((words) => words.join(' '))
    );
    fc.assert(
      fc.property(text, (notes) => {
        const reading = readNotes(notes);
        // A number before a piece is a bullet; letters are none.
        const letters = (of: string): string => of.replace(/\P{L}/gu, '');
        expect(letters(reading.pieces.map((piece) => piece.text).join(''))).toBe(
          letters(notes.replace(/\s(and|und|et)\s/gi, ''))
        );
        const train = trainOfNotes(reading);
        if (train) expect(readTrain(train)).toMatchObject({ ok: true });
      }),
      { numRuns: 500 }
    );
  });
});

describe('a corrector in a line', () => {
  it.each([
    ['0.7x 105', { magnification: 0.7, backFocusMm: 105, name: '' }],
    ['x0.8 reducer 55', { magnification: 0.8, backFocusMm: 55, name: '' }],
    ['flattener 55 from the thread tip', { backFocusMm: 55, datum: 'thread-tip', flattensField: true, name: '' }],
    ['reducer 0.63 back focus 105 mm', { magnification: 0.63, backFocusMm: 105, name: '' }],
    ['Harnwick coma corrector 2.165"', { backFocusMm: 54.991, name: 'Harnwick' }],
    ['55', { backFocusMm: 55, name: '' }],
    ['reducer', undefined],
    ['0.5', undefined]
  ])('%s', (line, expected) => {
    expect(readCorrectorLine(line)).toEqual(expected);
  });
});

it('135mm f/2 may be a lens, 135 f/7 is a telescope, and a word settles it', () => {
  const lens = { kind: 'camera-lens', apertureMm: 67.5, focalLengthMm: 135 };
  expect(readHostLine('135mm f/2')).toMatchObject({ host: { focalLengthMm: 270 }, otherwise: lens });
  expect(readHostLine('lens 135 f/2')).toMatchObject({ host: lens });
  expect(readHostLine('135 f/7')).not.toHaveProperty('otherwise');
  expect(readHostLine('telescope 135mm f/2')).toMatchObject({ host: { focalLengthMm: 270, name: '' } });
  expect(readHostLine('telescope 135mm f/2')).not.toHaveProperty('otherwise');
});
