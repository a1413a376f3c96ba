import { describe, expect, it } from 'vitest';
import { assemblySheet } from '../src/assembly/index.ts';
import { checkTrain } from '../src/check/index.ts';
import { ringDrawing, ringFault, variantsDrawing, writeSvg } from '../src/drawing/index.ts';
import {
  madeOperation,
  partToMake,
  type MadeAnswer,
  type MadeAsked,
  type MadePart,
  type RingSpec
} from '../src/finder/index.ts';
import { apply, type CameraElement, type Train } from '../src/train/index.ts';
import { readDemo } from './demo.ts';

const made = (answer: MadeAnswer): MadePart => {
  if (!answer.ok) throw new Error(answer.say('mm'));
  return answer;
};
const why = (answer: MadeAnswer): string => (answer.ok ? 'made' : answer.say('mm'));

describe('the length of a part made to measure', () => {
  const avocet = readDemo('avocet.json');

  it('is what the back focus leaves, added up by hand', () => {
    // 44 + 5.2 (mount off) + 2 × (1 − 1/1.5168) (glass) − 21 (wheel) − 12.5 − 5 (camera with its tilt plate).
    const byHand = 44 + 5.2 + 2 * (1 - 1 / 1.5168) - 21 - 12.5 - 5;
    const { spec, residualMm } = made(partToMake(avocet, 'flange'));
    expect(spec.lengthMm).toBe(Number(byHand.toFixed(2)));
    expect(residualMm).toBeCloseTo(spec.lengthMm - byHand, 9);
    expect(
      checkTrain(apply(avocet, { op: 'replace', id: 'flange', element: made(partToMake(avocet, 'flange')).element }))
        .residualMm
    ).toBeCloseTo(residualMm, 12);
  });

  it('of a variant has the wheel and its glass no more, or another camera', () => {
    expect(made(partToMake(avocet, 'flange', {}, { without: ['wheel'] })).spec).toMatchObject({
      lengthMm: 31.7,
      camera: { bolts: { count: 6, circleMm: 62 } }
    });
    const camera = { ...(avocet.elements.at(-1) as CameraElement), lengthMm: 17.5, detachable: [] };
    expect(made(partToMake(avocet, 'flange', {}, { without: [], camera })).spec.lengthMm).toBe(11.38);
  });

  it('has its faces kept where they join, and others made where they do not', () => {
    const own = avocet.elements[0] as { sky: unknown; camera: unknown };
    expect(made(partToMake(avocet, 'flange')).element).toMatchObject({ sky: own.sky, camera: own.camera });
    const heron = readDemo('heron.json');
    const gap = heron.elements.find(({ kind }) => kind === 'gap')!.id;
    const ring = made(partToMake(heron, gap));
    expect(ring.faults).toEqual([]);
    expect(Math.abs(ring.residualMm)).toBeLessThanOrEqual(0.005 + 1e-9);
  });

  it('is that of all plain parts of the demo trains, each in turn: the train is right to a hundredth', () => {
    let tried = 0;
    for (const name of ['avocet', 'dormouse', 'heron', 'long-tom'] as const) {
      const train = readDemo(`${name}.json`);
      for (const { id } of train.elements) {
        const answer = partToMake(train, id);
        if (!answer.ok) continue;
        tried++;
        const after = apply(train, { op: 'replace', id, element: answer.element });
        expect(Math.abs(checkTrain(after).residualMm!)).toBeLessThanOrEqual(0.005 + 1e-9);
      }
    }
    expect(tried).toBeGreaterThanOrEqual(4);
  });
});

describe('what cannot be made is said, with its reason', () => {
  const dormouse = readDemo('dormouse.json');
  const bayonet = dormouse.elements[0]!.id;

  it('a bayonet needs a flange, which is part of the length and not of what is turned', () => {
    expect(partToMake(dormouse, bayonet)).toMatchObject({ ok: false, needsFlange: 'sky' });
    const flange = { thicknessMm: 3.2, bolts: { count: 3, circleMm: 56 } };
    const { spec, element } = made(partToMake(dormouse, bayonet, { sky: { flange } }));
    expect(element.lengthMm - spec.lengthMm).toBeCloseTo(3.2, 9);
    expect(element.sky).toEqual({ bayonet: 'dslr-46.5', gender: 'male' });
    expect(spec.sky).toEqual({ bolts: flange.bolts });
    const thick = { thicknessMm: 30, bolts: flange.bolts };
    expect(why(partToMake(dormouse, bayonet, { sky: { flange: thick } }))).toMatch(
      /18\.09 mm too long, its flanges counted/
    );
  });

  it('a train that is too long, has no length to reach, or has another gap', () => {
    const long = readDemo('long-tom.json');
    expect(why(partToMake(long, long.elements[0]!.id))).toMatch(/nothing else is made/);
    const free: Train = { ...dormouse, host: { ...dormouse.host, corrector: { free: true } } };
    expect(why(partToMake(free, dormouse.elements[1]!.id))).toMatch(/No back focus is required/);
    const two = apply(dormouse, {
      op: 'insert',
      element: { id: 'g', kind: 'gap', name: 'Gap' },
      before: dormouse.elements[2]!.id
    });
    expect(why(partToMake(two, dormouse.elements[1]!.id))).toMatch(/Another gap/);
    const grown = apply(dormouse, { op: 'set', at: dormouse.elements.at(-1)!.id, path: ['lengthMm'], to: 40 });
    expect(why(partToMake(grown, dormouse.elements[1]!.id))).toMatch(/too long/);
    expect(why(partToMake(dormouse, 'nobody'))).toMatch(/Choose a gap/);
    expect(why(partToMake(dormouse, dormouse.elements[1]!.id, {}, { without: ['nobody'] }))).toMatch(/no such train/);
  });
});

describe('a part put into its train', () => {
  it('brings its screws: those that go through it are covered by what joins its other face', () => {
    const avocet = readDemo('avocet.json');
    const asked: MadeAsked = { sky: { screws: { thread: 'M2', hole: 'countersunk' } } };
    const put = (change = { without: [] as string[] }, of = asked): Train =>
      apply(avocet, madeOperation(avocet, made(partToMake(avocet, 'flange', of, change)), change, 'as asked'));
    expect(put().elements[0]).toMatchObject({
      note: 'as asked',
      seat: { fasteners: [{ thread: 'M2', count: 4, head: 'countersunk', hiddenBy: 'wheel' }] }
    });
    // So the lens has its flange before the wheel is screwed on (handbook §8: screws before what covers them).
    const joints = assemblySheet(put(), 'mm').flatMap(({ joint }) => joint ?? []);
    expect(joints).toEqual(['camera', 'flange', 'wheel']);
    const bare = put({ without: ['wheel'] }, { camera: { screws: { thread: 'M3', hole: 'tapped' } } });
    expect(bare.elements.map(({ id }) => id)).toEqual(['flange', 'camera']);
    expect(bare.elements[1]).toMatchObject({ seat: { fasteners: [{ thread: 'M3', count: 6 }] } });
  });
});

describe('screws of a bolted face', () => {
  const asked = (
    circleMm: number,
    hole: 'tapped' | 'through' | 'countersunk',
    outerMm: number,
    thread = 'M2'
  ): RingSpec => ({
    lengthMm: 11.4,
    toleranceMm: 0.02,
    sky: { bolts: { count: 4, circleMm } },
    camera: { thread: 'M54×0.75', gender: 'male', lengthMm: 4 },
    clearMm: 46,
    outerMm,
    screws: { sky: { thread, hole } }
  });

  it.each([
    // The head of a countersunk M2 is 4.4 wide, a male M54 54: 52 + 4.4 lies under it, 60 − 4.4 beside it.
    [asked(52, 'countersunk', 66), /under its other thread: they can be reached on a circle of 59 mm/],
    [asked(60, 'countersunk', 64), /beyond its outer diameter/],
    [asked(48, 'through', 66), /into its clear aperture/],
    [asked(60, 'tapped', 66, 'M9'), /not a size of screw/],
    [
      {
        ...asked(60, 'tapped', 66),
        sky: { bolts: { count: 36, circleMm: 60 } },
        screws: { sky: { thread: 'M6', hole: 'through' as const } },
        outerMm: 80
      },
      /touch each other/
    ]
  ])('is refused where no driver, or no metal, is left', (spec, reason) => {
    expect(ringFault(spec)).toMatch(reason);
  });

  it.each([asked(60, 'countersunk', 70), asked(52, 'tapped', 66), asked(60, 'through', 70)])(
    'is drawn where it can be: %o',
    (spec) => {
      expect(ringFault(spec)).toBeUndefined();
      const { shapes, views } = ringDrawing(spec, 'Flange');
      expect(views.front).toBeDefined();
      const texts = shapes.flatMap((shape) => (shape.kind === 'text' ? [shape.text] : []));
      expect(texts.some((text) => text.includes('M2'))).toBe(true);
    }
  );

  it('a hole that meets the thread of the other face needs a longer part', () => {
    const spec: RingSpec = {
      ...asked(52, 'tapped', 66),
      camera: { thread: 'M54×0.75', gender: 'female', lengthMm: 5 },
      lengthMm: 8
    };
    // 4 deep, a web of 1, a thread of 5 (common practice, no source).
    expect(ringFault(spec)).toMatch(/10 mm long at the least/);
    expect(ringFault({ ...spec, lengthMm: 10 })).toBeUndefined();
  });
});

describe('variants on one sheet', () => {
  const avocet = readDemo('avocet.json');
  const asked: MadeAsked = { sky: { screws: { thread: 'M2', hole: 'countersunk' } } };
  const names = [
    'as it is',
    'without the wheel, for a camera that has a name longer than any column of a table is wide'
  ];
  const variants = [[], ['wheel']].map((without, at) => ({
    name: names[at]!,
    spec: made(partToMake(avocet, 'flange', asked, { without })).spec
  }));

  it('have one scale, their lengths, and every word of their names', () => {
    const { shapes } = variantsDrawing(variants, 'Flange');
    const texts = shapes.flatMap((shape) => (shape.kind === 'text' ? [shape.text] : []));
    for (const words of ['A', 'B', '11.38', '31.70', 'Scale 1:1', 'M54×0.75 male, 4 long'])
      expect(texts).toContain(words);
    expect(texts.join(' ')).toContain(names[1]);
  });

  it.each([1, 2, 5])('of %i parts lie within the frame, words and lines', (count) => {
    const many = Array.from({ length: count }, (_, at) => variants[at % 2]!);
    const { shapes, views } = variantsDrawing(many, 'A title '.repeat(20));
    expect(views.part.scale).toBeGreaterThan(0);
    for (const shape of shapes) {
      const places =
        shape.kind === 'line'
          ? [
              [shape.x1, shape.y1],
              [shape.x2, shape.y2]
            ]
          : [[shape.x, shape.y]];
      for (const [x, y] of places as [number, number][]) {
        expect(x).toBeGreaterThanOrEqual(10);
        expect(x).toBeLessThanOrEqual(287);
        expect(y).toBeGreaterThanOrEqual(10);
        expect(y).toBeLessThanOrEqual(200);
      }
    }
  });

  it('are well-formed as a picture, whatever somebody called them', () => {
    const svg = writeSvg(variantsDrawing([{ ...variants[0]!, name: '<b>&"\u0007' }, variants[1]!], '</svg>'));
    expect(svg).not.toMatch(/<b>|<\/svg>[^\n]/);
    expect(svg).toContain('&lt;b&gt;&amp;');
  });
});
