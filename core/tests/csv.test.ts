import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  groupProblems,
  guessMapping,
  parsePortCell,
  readCsv,
  splitCsv,
  writeCsv,
  type CsvProblem
} from '../src/drawer/csv.ts';
import { differencesOf, drawerToDocument, readDrawer, readPart, type Part } from '../src/drawer/index.ts';
import { anyDrawer } from './anyDrawer.ts';
import { drawer } from './drawer.ts';

const read = (text: string, options = {}) => readCsv(splitCsv(text), undefined, options);
const lines = (problems: readonly CsvProblem[]) => problems.map(({ line, column }) => [line, column]);

describe('round trips are lossless', () => {
  it('CSV', () => {
    fc.assert(
      fc.property(anyDrawer, (parts: Part[]) => {
        const back = read(writeCsv(parts));
        expect(back.problems).toEqual([]);
        expect(back.parts).toEqual(parts);
      })
    );
  });

  it('JSON', () => {
    fc.assert(
      fc.property(anyDrawer, (parts: Part[]) => {
        const reading = readDrawer(JSON.parse(JSON.stringify(drawerToDocument(parts))));
        expect(reading.ok && reading.document).toEqual(parts);
      })
    );
  });

  it('a cell that a spreadsheet would run is guarded by an apostrophe', () => {
    for (const name of ['=1+2', '+1', '-1', '@sum', "'quoted", "''twice"]) {
      const text = writeCsv(drawer({ partId: 'a', name }));
      expect(text).toContain(`,'${name},`);
      expect(read(text).parts[0]?.element.name).toBe(name);
    }
  });
});

describe('what people’s files look like', () => {
  const expected = { partId: 'R-1', element: { name: 'Ring', lengthMm: 16.5, kind: 'spacer' } };

  it.each([
    ['commas', 'partId,kind,name,lengthMm\nR-1,spacer,Ring,16.5\n'],
    ['a byte order mark', '\uFEFFpartId,kind,name,lengthMm\r\nR-1,spacer,Ring,16.5\r\n'],
    ['semicolons and decimal commas', 'id;type;description;length\nR-1;spacer;Ring;16,5\n'],
    ['tabs', 'No\tKind\tName\tLength (mm)\nR-1\tSpacer\tRing\t16.5 mm\n'],
    ['quotes', '"partId","kind","name","lengthMm"\n"R-1","spacer","Ring","16,5"\n'],
    ['empty lines', 'partId,kind,name,lengthMm\n\n,,,\nR-1,spacer,Ring,16.5\n\n'],
    ['columns nobody knows', 'partId,kind,colour,name,lengthMm\nR-1,spacer,black,Ring,16.5\n'],
    ['old Macintosh line ends', 'partId,kind,name,lengthMm\rR-1,spacer,Ring,16.5\r']
  ])('%s', (_words, text) => {
    const { parts, problems } = read(text);
    expect(problems).toEqual([]);
    expect(parts).toMatchObject([expected]);
  });

  it('headings are guessed, each column once', () => {
    expect(guessMapping(['ID', 'Type', 'Description', 'Length', 'Notes', 'Length'])).toEqual([
      'partId',
      'kind',
      'name',
      'lengthMm',
      'note',
      undefined
    ]);
  });

  it('a line without a number gets a free one', () => {
    const { parts } = read('kind,name,lengthMm\nspacer,a,1\nspacer,b,2\n', { taken: new Set(['R-01']) });
    expect(parts.map(({ partId }) => partId)).toEqual(['R-02', 'R-03']);
  });
});

describe('bad lines', () => {
  it('are each told with the number an editor shows, line breaks in quotes counted', () => {
    const text = [
      'partId,kind,name,lengthMm,sky',
      '"R-1",spacer,"two',
      'lines",5,M48x0.75 f 4',
      'R-2,spacer,ring,five,',
      'R-3,spacer,ring',
      'R-4,spacer,ring,-2,',
      'R-5,widget,ring,2,',
      'R-6,spacer,ring,2,M42 male',
      'R-7,spacer,ring,2,M48x0.75',
      'R-1,spacer,ring,2,'
    ].join('\n');
    const { parts, problems } = read(text);
    expect(parts.map(({ partId }) => partId)).toEqual(['R-1']);
    expect(lines(problems)).toEqual([
      [4, 'lengthMm'],
      [5, undefined],
      [6, 'lengthMm'],
      [7, 'kind'],
      [8, 'sky'],
      [9, 'sky'],
      [10, undefined]
    ]);
  });

  it.each([
    ['M42', /has no pitch/],
    ['M42 male', /M42×0\.75 or M42×1/],
    ['T2? female', /has no diameter and pitch/],
    ['M48x0.75', /male or female/],
    ['', /has no diameter/]
  ])('the thread “%s” is asked about, never guessed', (cell, expected) => {
    const reading = parsePortCell(cell);
    expect(reading.ok ? '' : reading.message).toMatch(expected);
  });

  it('more lines than a drawer holds are refused as a whole', () => {
    const text = `partId,kind,name,lengthMm\n${'R,spacer,x,1\n'.repeat(100_000)}`;
    expect(() => splitCsv(text)).toThrow(/more than 20000 lines/);
  });

  it('garbage never throws', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 200 }), (text) => {
        const { parts } = read(text);
        expect(readDrawer(JSON.parse(JSON.stringify(drawerToDocument(parts)))).ok).toBe(true);
      })
    );
  });
});

describe('a file that changes parts that are there', () => {
  const reading = readPart({
    partId: 'A-03',
    kind: 'adapter',
    name: 'Adapter',
    lengthMm: 4.5,
    toleranceMm: 0.05,
    sky: { thread: 'M63×1', gender: 'female', lengthMm: 4, startDeg: 12 },
    camera: { thread: 'M54×0.75', gender: 'male' },
    clearMm: 51,
    massG: 40,
    measurements: [{ lengthMm: 4.49, date: '2026-01-02', instrument: 'calipers' }]
  });
  if (!reading.ok) throw new Error('the part of the test must be valid');
  const part = reading.document;
  const stored = new Map([[part.partId, part]]);
  const over = (text: string) => {
    const { parts, problems } = read(text, { stored });
    expect(problems).toEqual([]);
    return parts[0]!;
  };

  it('what it has no column for stays as it is', () => {
    const after = over('partId,kind,name,lengthMm,location\nA-03,adapter,Adapter,4.5,Garage\n');
    expect(after).toEqual({ ...part, location: 'Garage' });
    expect(differencesOf(part, after)).toEqual([{ what: 'place', from: undefined, to: 'Garage', lost: false }]);
  });

  it('an empty cell takes away, and is told as a loss; what a part needs it keeps', () => {
    const after = over('partId,name,sky,massG\nA-03,,,45\n');
    expect(differencesOf(part, after)).toEqual([
      { what: 'sky face', from: 'M63×1 female 4', to: undefined, lost: true },
      { what: 'mass', from: '40 g', to: '45 g', lost: false }
    ]);
    expect(after.element.name).toBe('Adapter');
    expect(after.measurements).toEqual(part.measurements);
  });

  it('our own file changes nothing, whatever stood in it', () => {
    fc.assert(
      fc.property(anyDrawer, (parts: Part[]) => {
        const back = read(writeCsv(parts), { stored: new Map(parts.map((each) => [each.partId, each])) });
        expect(back.parts).toEqual(parts);
        for (const [at, each] of parts.entries()) expect(differencesOf(each, back.parts[at]!)).toEqual([]);
      }),
      { numRuns: 50 }
    );
  });

  it('a thread whose face is guessed does not replace a face that was looked at', () => {
    expect(over('partId,female thread\nA-03,M63x1\n').element).toEqual(part.element);
    expect(over('partId,female thread\nA-03,M68x1\n').element).toMatchObject({
      sky: { thread: 'M68x1', gender: 'female', assumed: true }
    });
  });

  it('another measured length is not given the old one’s instrument', () => {
    const measured = { ...part, element: { ...part.element, measured: { lengthMm: 4.4, uncertaintyMm: 0.03 } } };
    const after = read('partId,measuredMm\nA-03,4.6\n', { stored: new Map([['A-03', measured]]) }).parts[0]!;
    expect(after.element.measured).toEqual({ lengthMm: 4.6 });
    const same = read('partId,measuredMm\nA-03,4.4\n', { stored: new Map([['A-03', measured]]) }).parts[0]!;
    expect(same.element.measured).toEqual({ lengthMm: 4.4, uncertaintyMm: 0.03 });
  });
});

describe('messy files of five countries (invented)', () => {
  it.each([
    [
      'German, one line, a final newline',
      'Nummer;Art;Bezeichnung;Länge (mm);Teleskopseite;Kameraseite;Preis;Ort\nR-1;Ring;Zwischenring;16,5;M48x0,75 IG;M48x0,75 AG;9,90 €;Dose 2\n'
    ],
    [
      'French',
      'Numéro;Type;Désignation;Longueur;Côté télescope;Côté caméra;Prix;Lieu\nR-1;Bague;Zwischenring;16,5;M48x0,75 femelle;M48x0,75 mâle;9,90;Dose 2\n'
    ],
    [
      'Spanish',
      'Código;Tipo;Nombre;Longitud;Lado telescopio;Lado cámara;Precio;Lugar\nR-1;anillo;Zwischenring;16,5;M48x0,75 hembra;M48x0,75 macho;9,90;Dose 2\n'
    ],
    [
      'Italian',
      'Codice;Tipo;Nome;Lunghezza mm;Lato telescopio;Lato camera;Prezzo;Luogo\nR-1;anello;Zwischenring;16,5;M48x0,75 femmina;M48x0,75 maschio;9,90;Dose 2\n'
    ],
    [
      'English',
      'No,Type,Title,Length (mm),Sky,Camera side,Cost,Tin\nR-1,ring,Zwischenring,16.5,M48x0.75 int,M48x0.75 ext,$9.90,Dose 2\n'
    ]
  ])('%s', (_words, text) => {
    const { parts, problems } = read(text);
    expect(problems).toEqual([]);
    expect(parts).toMatchObject([
      {
        partId: 'R-1',
        price: 9.9,
        location: 'Dose 2',
        element: {
          kind: 'spacer',
          name: 'Zwischenring',
          lengthMm: 16.5,
          sky: { gender: 'female' },
          camera: { gender: 'male' }
        }
      }
    ]);
  });

  it.each([1, 2, 3, 4, 5, 6, 7, 8, 9])('a table of eight columns and %d lines is parted at its semicolons', (count) => {
    const line = 'R;spacer;Ring;16,5;M48x0,75 f;M48x0,75 m;1,5;Tin';
    const text = `id;kind;name;length;sky;camera;price;tin\n${`${line}\n`.repeat(count)}`;
    expect(splitCsv(text)).toMatchObject({ delimiter: ';', rows: { length: count } });
  });

  it('delimiter and decimal sign can be said', () => {
    const text = 'id,kind,length\nR-1,spacer,"1.234,5"\n';
    expect(splitCsv(text, { delimiter: ';' }).header).toHaveLength(1);
    const table = splitCsv(text, { delimiter: ',' });
    expect(readCsv(table, undefined, { decimalSign: ',' }).parts[0]?.element.lengthMm).toBe(1234.5);
    // A point and a comma can only be meant in one way.
    expect(readCsv(table).parts[0]?.element.lengthMm).toBe(1234.5);
    expect(
      readCsv(splitCsv('id,kind,length\nR-1,spacer,"1,234.5"\n'), undefined, { decimalSign: '.' }).parts[0]
    ).toMatchObject({
      element: { lengthMm: 1234.5 }
    });
  });

  it('a first line that is no heading is a part', () => {
    const table = splitCsv('R-1;spacer;16,5\nR-2;spacer;10\n', { heading: false });
    expect(table.header).toEqual(['column 1', 'column 2', 'column 3']);
    const { parts } = readCsv(table, ['partId', 'kind', 'lengthMm']);
    expect(parts.map(({ partId, element: { name } }) => [partId, name])).toEqual([
      ['R-1', 'Ring 16.5'],
      ['R-2', 'Ring 10']
    ]);
  });

  it('columns of a female and a male thread are a guess that is marked', () => {
    const { parts } = read('kind,length,female thread,Außengewinde\nring,10,M48x0.75,M42x0.75\n');
    expect(parts[0]!.element).toMatchObject({
      sky: { thread: 'M48x0.75', gender: 'female', assumed: true },
      camera: { thread: 'M42x0.75', gender: 'male', assumed: true }
    });
  });

  it('a word for a kind that no list has can be said', () => {
    const text = 'kind,length\nDings,10\n';
    expect(read(text).problems).toMatchObject([{ line: 2, column: 'kind' }]);
    expect(read(text, { kinds: new Map([['dings', 'shim']]) }).parts[0]?.element.kind).toBe('shim');
  });

  it('trouble is told once a column, with the lines that have it', () => {
    const rows = Array.from({ length: 50 }, (_, at) => `ring,${at % 2 === 0 ? 'ten' : at},M42 f`).join('\n');
    const { problems, parts } = read(`kind,length,sky\n${rows}\nring,5,M48x0.75 f\n`);
    expect(parts).toHaveLength(1);
    expect(
      groupProblems(problems).map(({ column, lines, examples }) => [column, lines.length, examples.length])
    ).toEqual([
      ['sky', 50, 1],
      ['length', 25, 1]
    ]);
  });
});

describe('tables as spreadsheets write them', () => {
  const read = (text: string) => readCsv(splitCsv(text));
  const first = (text: string) => {
    const { parts, problems } = read(text);
    expect(problems).toEqual([]);
    return parts[0]!;
  };
  const HEAD = 'id,kind,name,length,mass\n';

  it('one sign parts the decimals of a whole file: the other one parts thousands', () => {
    const { parts } = read(`${HEAD}R-1,spacer,Ring,10.50,"1,250"\nR-2,spacer,Ring,7.625,80\n`);
    expect(parts.map(({ element: { lengthMm, massG } }) => [lengthMm, massG])).toEqual([
      [10.5, 1250],
      [7.625, 80]
    ]);
    const semicolons = 'id;kind;name;length;mass\nR-1;spacer;Ring;10,5;1.250\n';
    expect(first(semicolons).element).toMatchObject({ lengthMm: 10.5, massG: 1250 });
  });

  it('where nothing tells, a number that may be two is asked about, and never guessed', () => {
    const { parts, problems } = read(`${HEAD}R-1,spacer,Ring,10,"1,250"\n`);
    expect(parts).toEqual([]);
    expect(problems[0]).toMatchObject({ line: 2, column: 'mass' });
    expect(problems[0]!.message).toBe('“1,250” is 1.25 or 1250: choose the decimal sign');
    const table = splitCsv(`${HEAD}R-1,spacer,Ring,10,"1,250"\n`);
    expect(readCsv(table, undefined, { decimalSign: '.' }).parts[0]!.element.massG).toBe(1250);
    expect(readCsv(table, undefined, { decimalSign: ',' }).parts[0]!.element.massG).toBe(1.25);
  });

  it('a ring of thousands of millimetres is none: three decimals are decimals there, and say so for the rest', () => {
    const { parts } = read(`${HEAD}R-1,spacer,Ring,7.625,"1,250"\n`);
    expect(parts[0]!.element).toMatchObject({ lengthMm: 7.625, massG: 1250 });
  });

  it.each([
    ['1.250,5', 'a point and a comma'],
    ["1'250.5", 'an apostrophe'],
    ['1 250,5', 'a blank']
  ])('%s (%s) is read', (cell) => {
    expect(read(`id;kind;name;length;mass\nR-1;spacer;Ring;10;${cell}\n`).problems).toEqual([]);
  });

  it('“sep=;”, a title and a date over the heading, an empty line: lines keep their numbers', () => {
    const text = 'sep=;\r\nMy rings;;;\r\nas of;2026-11-30;;\r\n\r\nid;kind;name;length\r\nR-1;spacer;Ring;x\r\n';
    const { problems } = read(text);
    expect(problems).toEqual([{ line: 6, column: 'length', message: '“x” is not a number' }]);
    expect(first(text.replace(';x', ';10,5')).element.lengthMm).toBe(10.5);
  });

  it('cells that are empty at the end of a line may be left out; the last line keeps its part', () => {
    const { parts, problems } = read(
      'id\tkind\tname\tlength\tmass\tnote\nR-1\tspacer\tRing\t10\nR-2\tspacer\tRing\t5\t\t'
    );
    expect(problems).toEqual([]);
    expect(parts.map(({ partId }) => partId)).toEqual(['R-1', 'R-2']);
  });

  it('what is left out at the end changes nothing of the part that is there; what is empty goes', () => {
    const stored = new Map([['R-1', first(`${HEAD}R-1,spacer,Ring,10,80\n`)]]);
    const mass = (text: string) => readCsv(splitCsv(text), undefined, { stored }).parts[0]!.element.massG;
    expect(mass(`${HEAD}R-1,spacer,Ring,11\n`)).toBe(80);
    expect(mass(`${HEAD}R-1,spacer,Ring,11,\n`)).toBeUndefined();
  });

  it('units in brackets of the heading count', () => {
    const text = '#,Kind,Name,Length (inch),Masse [kg],Qté,OD (mm)\nR-1,spacer,Ring,0.5,0.08,3,60\n';
    const { element, quantity } = first(text);
    expect(element).toMatchObject({ lengthMm: 12.7, massG: 80, outerMm: 60 });
    expect(quantity).toBe(3);
  });
});
