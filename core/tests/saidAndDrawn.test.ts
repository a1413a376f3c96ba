// What is said, drawn and written of a train, each beside the train in which it is otherwise. Figures are worked out
// beside each; common practice, no source, where none is named.
import { describe, expect, it } from 'vitest';
import { assemblySheet } from '../src/assembly/index.ts';
import { assess, explain } from '../src/check/index.ts';
import { layoutOf } from '../src/shape/index.ts';
import { readTrain, upgrade, type Train } from '../src/train/index.ts';
import { readFits, writeFits } from '../src/frame/index.ts';
import { plainFrame } from './frames.ts';
import { camera, corrector, part, train } from './trains.ts';

describe('screws on the sheet', () => {
  const sheet = (fasteners?: readonly object[]) => {
    // Screws may hold a slip joint too; bolts alone would be reason enough for a key.
    const tube = { slip: '2in', gender: 'male' };
    const socket = { slip: '2in', gender: 'female' };
    const made = train([
      corrector({ backFocusMm: 55 }),
      part('plate', 20, { camera: tube as never }),
      camera(35, { sky: socket as never, ...(fasteners ? { seat: { fasteners: fasteners as never } } : {}) })
    ]);
    return assemblySheet(made, 'mm', 'telescope').find(({ key }) => key === 'camera')!;
  };

  it('are not there where none are said', () => {
    const { do: words, cautions } = sheet();
    expect(words).not.toMatch(/\d+ × M|with \d/);
    expect(cautions.join()).not.toContain('crosswise');
  });

  it('are said the shortest first, with the order to tighten them in', () => {
    const { do: words, cautions } = sheet([
      { thread: 'M3', lengthMm: 8, count: 2 },
      { thread: 'M3', lengthMm: 5, count: 4 }
    ]);
    expect(words).toMatch(/4 × M3, 5 mm long.*2 × M3, 8 mm long/);
    expect(cautions.join()).toMatch(/crosswise/i);
  });
});

describe('the load', () => {
  const heavy = (massG: number | undefined): Train =>
    train([
      corrector({ backFocusMm: 55 }, { massG: 400 }),
      part('tube', 20, massG === undefined ? {} : { massG }),
      camera(35, { massG: 600 })
    ]);

  it('says where not everything is weighed that it is a least, and nothing of it where all is', () => {
    const title = (of: Train): string => explain(assess(of).facts, 'load.mass' as never).title;
    expect(title(heavy(100))).toBe('What hangs on the host');
    expect(title(heavy(undefined))).toBe('What hangs on the host (1 not weighed: it is a least)');
  });
});

describe('a sensor on the rail', () => {
  it('is drawn by half its sides on either side of the axis', () => {
    const made = train([corrector({ backFocusMm: 55 }), camera(55, { sensor: { widthMm: 23.6, heightMm: 15.8 } })]);
    const { items } = layoutOf(made, assess(made).ledger);
    expect(items.at(-1)!.sensor).toEqual({ halfWidthMm: 11.8, halfHeightMm: 7.9 });
    const bare = train([corrector({ backFocusMm: 55 }), camera(55)]);
    expect(layoutOf(bare, assess(bare).ledger).items.at(-1)!.sensor).toBeUndefined();
  });
});

describe('keywords of a frame that is written', () => {
  const written = (bottomUp: boolean, keywords: Record<string, string | number>) => {
    const frame = { ...plainFrame(8, 6, (x, y) => x + 10 * y), bottomUp };
    return writeFits(frame, { bitpix: 16, keywords });
  };
  const cards = (file: Uint8Array): string[] =>
    (new TextDecoder('latin1').decode(file.subarray(0, 2880)).match(/.{80}/g) ?? []).map((each) => each.trim());

  it('are those that were given, but for what the pixels themselves decide', async () => {
    const file = written(false, { ROWORDER: 'BOTTOM-UP', NAXIS1: 99, BITPIX: 8, FILTER: 'Ha' });
    const names = cards(file).map((card) => card.slice(0, 8).trim());
    for (const name of ['ROWORDER', 'NAXIS1', 'BITPIX', 'FILTER']) {
      expect(names.filter((each) => each === name)).toHaveLength(1);
    }
    const read = await readFits({
      chunks: (async function* () {
        yield file;
      })(),
      sizeBytes: file.byteLength
    });
    expect(read).toMatchObject({ widthPx: 8, heightPx: 6, bottomUp: false });
    expect(read.keywords.get('FILTER')).toBe('Ha');
  });
});

describe('steps that were kept as a list once', () => {
  const old = {
    ...train([corrector({ backFocusMm: 55 }), camera(55)]),
    assembly: { done: ['camera', 'close wheel'] }
  };

  it('are steps of which nothing is known but that they were done', () => {
    expect(upgrade(old)).toMatchObject({ assembly: { steps: { camera: { as: '' }, 'close wheel': { as: '' } } } });
    expect((upgrade(old) as { assembly: object }).assembly).not.toHaveProperty('done');
    const reading = readTrain(upgrade(old));
    expect(reading.ok).toBe(true);
  });

  it('and what is no such list is left alone, for the reader to refuse', () => {
    for (const candidate of [
      null,
      7,
      'x',
      [],
      {},
      { assembly: null },
      { assembly: { done: 'all' } },
      { assembly: {} }
    ]) {
      expect(upgrade(candidate)).toEqual(candidate);
    }
  });
});
