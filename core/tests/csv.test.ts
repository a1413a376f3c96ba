import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { guessMapping, parsePortCell, readCsv, splitCsv, writeCsv, type CsvProblem } from '../src/drawer/csv.ts';
import { drawerToDocument, readDrawer, type Part } from '../src/drawer/index.ts';
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
    ['M42', /does not say the pitch/],
    ['M42 male', /M42×0\.75 or M42×1/],
    ['T2? female', /does not say diameter and pitch/],
    ['M48x0.75', /male or female/],
    ['', /does not say/]
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
