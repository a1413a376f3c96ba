import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { assemblySheet, changeOver } from '../src/assembly/index.ts';
import { assess } from '../src/check/index.ts';
import { readTrain, type BodyElement, type Element, type Train } from '../src/train/index.ts';
import { female, male } from './drawer.ts';
import { camera, corrector, part, train } from './trains.ts';
import { readDemo } from './demo.ts';

const faces = { sky: female('M48x0.75'), camera: male('M48x0.75') } as Partial<BodyElement>;
const ring = (id: string, partId: string, copy?: number): BodyElement =>
  part(id, 10, { ...faces, partId, ...(copy === undefined ? {} : { copy }) });
const cam = (partId = 'CAM'): Element => camera(17.5, { sky: female('M48x0.75') as never, partId });
const of = (parts: readonly string[]): Train =>
  train([...parts.map((partId, at) => ring(`${partId}-${at}`, partId)), cam()]);

describe('a change from one train to another', () => {
  it('opens as few joints as any way of saying which part is which', () => {
    const stack = fc.array(fc.constantFrom('A', 'B', 'C', 'D'), { minLength: 1, maxLength: 5 });
    fc.assert(
      fc.property(stack, stack, (from, to) => {
        const { joints, open, close, keep, aside, bring } = changeOver(of(from), of(to));
        // Every injection of like to like that takes over as many as both have; the host and the camera are the same.
        const [have, want] = [
          ['host', ...from, 'CAM'],
          ['host', ...to, 'CAM']
        ];
        const count = (list: readonly string[], name: string) => list.filter((each) => each === name).length;
        const shared = ['host', 'A', 'B', 'C', 'D', 'CAM'].reduce(
          (sum, name) => sum + Math.min(count(have, name), count(want, name)),
          0
        );
        let least = Infinity;
        const walk = (at: number, match: number[]): void => {
          if (at === have.length) {
            if (match.filter((each) => each >= 0).length < shared) return;
            const opened = have.slice(1).filter((_, index) => {
              const [before, here] = [match[index]!, match[index + 1]!];
              return !((before < 0 && here < 0) || (before >= 0 && here === before + 1));
            }).length;
            least = Math.min(least, opened);
            return;
          }
          want.forEach((name, b) => {
            if (name === have[at] && !match.includes(b)) walk(at + 1, [...match, b]);
          });
          walk(at + 1, [...match, -1]);
        };
        walk(0, []);
        expect(joints).toBe(least);
        expect(open).toHaveLength(joints);
        // What stays, goes and comes accounts for everything.
        const gone = aside.map(({ id }) => id);
        expect(from.length + 1 - gone.length).toBe(to.length + 1 - bring.length);
        for (const run of keep) expect(run.length).toBeGreaterThan(1);
        expect(close.length).toBeLessThanOrEqual(to.length + 1);
        expect(from.length + 1 - joints).toBeGreaterThanOrEqual(keep.reduce((sum, run) => sum + run.length - 1, 0));
      }),
      { numRuns: 150 }
    );
  });

  it('opens nothing between a train and itself', () => {
    const longTom = readDemo('long-tom.json');
    expect(changeOver(longTom, longTom)).toMatchObject({ joints: 0, open: [], close: [], aside: [], bring: [] });
  });

  it('opens a joint whose shims or angle change, and one whose part is turned round', () => {
    const before = of(['A', 'B']);
    const shimmed = {
      ...before,
      elements: before.elements.toSpliced(1, 0, { id: 's', kind: 'shim' as const, name: 's', lengthMm: 0.2 })
    };
    const change = changeOver(before, shimmed);
    expect(change).toMatchObject({ joints: 1, open: ['B-1'], close: ['B-1'] });
    expect(change.bring.map(({ id }) => id)).toEqual(['s']);
    expect(changeOver(shimmed, before).aside.map(({ id }) => id)).toEqual(['s']);
    const turned = {
      ...before,
      elements: before.elements.with(1, { ...before.elements[1]!, reversed: true } as Element)
    };
    expect(changeOver(before, turned).open).toEqual(['B-1', 'camera']);
  });

  it('tells copies apart that are named, and says where things lie', () => {
    const a = train([ring('x', 'R', 1), cam()]);
    const b = train([ring('y', 'R', 2), cam()]);
    const change = changeOver(a, b, (partId) => (partId === 'R' ? 'Tin 1' : null));
    expect(change).toMatchObject({
      joints: 2,
      aside: [{ id: 'x', location: 'Tin 1' }],
      bring: [{ id: 'y', location: 'Tin 1' }]
    });
    expect(changeOver(a, train([ring('y', 'R'), cam()])).joints).toBe(0);
  });
});

describe('an assembly sheet', () => {
  it.each(['camera', 'telescope'] as const)('closes every joint once, from the %s on', (order) => {
    for (const file of ['heron.json', 'dormouse.json', 'long-tom.json']) {
      const document = readDemo(file);
      const steps = assemblySheet(document, 'mm', order);
      expect(steps.map(({ n }) => n)).toEqual(steps.map((_, index) => index + 1));
      const closed = steps.flatMap(({ joint }) => joint ?? []);
      const joints = assess(document)
        .facts.joints.filter(({ open }) => !open)
        .map(({ cameraId }) => cameraId);
      const open = assess(document)
        .facts.joints.filter((each) => each.open)
        .map(({ cameraId }) => cameraId);
      expect(closed.filter((each) => !open.includes(each))).toEqual(order === 'camera' ? joints.toReversed() : joints);
      // Everything comes into hand once.
      const hands = steps.filter(({ joint }) => joint !== null).flatMap(({ parts }) => parts);
      expect(new Set(hands).size).toBe(hands.length);
    }
  });

  it('says what the stack so far measures: the sum of its parts and the openings between them', () => {
    // Handbook scenario: guider 17.2 and wheel 21.6 come to 38.8 mm.
    const heron = readDemo('heron.json');
    const at = heron.elements.findIndex(({ id }) => id === 'guider' || id === 'oag');
    const id = heron.elements[at]!.id;
    const step = assemblySheet(heron, 'mm', 'camera').find(({ measure }) => measure?.from === id)!;
    expect(step.measure!.to).toBe(heron.elements.at(-2)!.id);
    expect(step.measure!.expectedMm).toBeCloseTo(38.8, 9);
    const long = readDemo('long-tom.json');
    const { axis } = assess(long).facts;
    for (const order of ['camera', 'telescope'] as const) {
      for (const { measure } of assemblySheet(long, 'mm', order)) {
        if (!measure) continue;
        const index = (of: string) => long.elements.findIndex((element) => element.id === of);
        expect(measure.expectedMm).toBeCloseTo(
          axis.spans[index(measure.to)]!.toMm - axis.spans[index(measure.from)]!.fromMm,
          9
        );
        expect(measure.uncertaintyMm).toBeGreaterThan(0);
      }
    }
  });

  it('has the cautions where they apply: filters before the wheel closes, the open sensor, the sun', () => {
    const steps = assemblySheet(readDemo('long-tom.json'), 'mm', 'camera');
    expect(steps[0]!.do).toMatch(/^Open .* count them\. It comes apart into front plate, carousel, and back plate\.$/);
    expect(steps[1]!.do).toContain('1 Luminance, 2 Red, 3 Green, and 4 Blue');
    expect(steps[1]!.ticks.map(({ what }) => what)).toEqual(['1 Luminance', '2 Red', '3 Green', '4 Blue']);
    expect(steps[2]!.do).toContain('6 screws in all, as many as came out.');
    const keys = steps.map(({ key }) => key);
    expect(keys.slice(0, 4)).toEqual(['open wheel', 'fill wheel', 'close wheel', 'camera']);
    const wheel = 3;
    expect(steps[wheel]!.cautions.join()).toContain('sensor is open');
    expect(steps.filter(({ cautions }) => cautions.join().includes('sensor is open'))).toHaveLength(1);
    expect(steps.findLast(({ joint }) => joint !== null)!.cautions.join()).toContain('Never point it at the sun');
    // A place still open is said, and counts nothing.
    expect(assemblySheet(readDemo('heron.json'), 'mm').some(({ do: words }) => words.includes('is still empty'))).toBe(
      true
    );
  });

  it('tells shims, angles and dials of a joint, and how each kind is closed', () => {
    const bolted = train([
      corrector({ backFocusMm: 55 }, { camera: male('M48x0.75') }),
      { id: 's', kind: 'shim', name: 'Shim 0.2', lengthMm: 0.2 },
      part('dial', 10, { ...faces, kind: 'variable-spacer', adjust: { minMm: 0, maxMm: 4, setMm: 1.5 } }),
      part('plate', 5, {
        sky: female('M48x0.75') as never,
        camera: { bolts: { count: 4, circleMm: 60 } } as never
      }),
      camera(17.5, { sky: { bolts: { count: 4, circleMm: 60 } } as never, seat: { rotationDeg: 90 } })
    ]);
    const fromCamera = assemblySheet(bolted, 'mm', 'camera');
    const [bolts, dial] = ['camera', 'dial'].map((at) => fromCamera.find(({ joint }) => joint === at));
    expect(bolts).toMatchObject({
      do: 'Bolt plate to camera, turned to 90°.',
      tools: ['hex key for its screws', 'calipers']
    });
    expect(bolts!.cautions.join()).toContain('crosswise');
    expect(dial!.do).toContain('with Shim 0.2 between');
    const telescope = assemblySheet(bolted, 'mm', 'telescope');
    for (const steps of [fromCamera, telescope]) {
      // The dial is set before anything stands over it.
      const set = steps.findIndex(({ key }) => key === 'set dial');
      expect(steps[set]!.do).toBe('Set dial to 1.50 mm and lock it.');
      expect(steps.findIndex(({ parts, joint }) => joint !== null && parts.includes('dial'))).toBeGreaterThan(set);
    }
  });
});

describe('the fewest joints, proven', () => {
  const alike = (names: readonly string[]): Train =>
    train([
      ...names.map((name, at) => part(`${name}-${at}`, name === 'R' ? 10 : 12 + at, { ...faces, partId: name })),
      cam()
    ]);

  it('of fourteen alike rings with others between them, however many ways there are to say which is which', () => {
    const from = alike(['A', ...'RRRRRRR', 'B', ...'RRRRRRR', 'C']);
    const to = alike([...'RRRR', 'C', ...'RRRRR', 'A', ...'RRRRR', 'B']);
    const change = changeOver(from, to);
    expect(change.exhausted).toBe(true);
    // Opened the other way round it is the same trains: both ends of a proof.
    const back = changeOver(to, from);
    expect(back.exhausted).toBe(true);
    const kept = from.elements.length + 1 - 1 - change.joints;
    expect(kept).toBe(to.elements.length + 1 - 1 - back.joints);
  });

  it('is the same there and back where both trains have the same parts, whatever their order', () => {
    const names = fc.array(fc.constantFrom('R', 'R', 'R', 'A', 'B'), { minLength: 3, maxLength: 10 });
    fc.assert(
      fc.property(
        names.chain((list) => fc.tuple(fc.constant(list), fc.shuffledSubarray(list, { minLength: list.length }))),
        ([from, to]) => {
          const [there, back] = [changeOver(alike(from), alike(to)), changeOver(alike(to), alike(from))];
          expect(there.joints).toBe(back.joints);
          expect(there.open).toHaveLength(there.joints);
        }
      ),
      { numRuns: 150 }
    );
  });

  it('a dial that is only turned is the same part, and is told as a setting', () => {
    const dialled = (setMm: number): Train =>
      train([part('dial', 10, { ...faces, adjust: { minMm: 0, maxMm: 5, setMm } }), cam()]);
    expect(changeOver(dialled(1), dialled(2.8))).toMatchObject({
      joints: 0,
      aside: [],
      bring: [],
      set: [{ id: 'dial', setMm: 2.8 }]
    });
  });

  it('a filter in an inner thread is no joint; the joint over it is opened where it comes out', () => {
    const holder = part('holder', 20, {
      ...faces,
      camera: {
        ...(male('M54x0.75') as object),
        second: { thread: 'M42x0.75', gender: 'female', lengthMm: 4 }
      } as never
    });
    const filter = part('filter', 6, { kind: 'filter', sky: male('M42x0.75', 3), camera: female('M42x0.75') });
    const last = camera(17.5, { sky: female('M54x0.75') as never });
    const [plain, filtered] = [train([holder, last]), train([holder, filter, last])];
    expect(changeOver(filtered, filtered)).toMatchObject({ joints: 0, aside: [], bring: [] });
    const out = changeOver(filtered, plain);
    expect(out).toMatchObject({ joints: 1, open: ['camera'], keep: [['holder']].slice(1) });
    expect(out.aside.map(({ id }) => id)).toEqual(['filter']);
  });

  it('says of trains that share nothing that they do', () => {
    const other = { ...train([part('x', 9), camera(20)]), host: { ...train([]).host, name: 'another' } };
    expect(changeOver(alike(['A']), other)).toMatchObject({ shared: 0, taken: [] });
    const change = changeOver(alike(['A']), alike(['A', 'B']));
    expect(change.shared).toBe(2);
    expect(change.taken.map(({ from, to }) => [from, to])).toHaveLength(2);
  });
});

describe('what covers what', () => {
  const bolts = { bolts: { count: 4, circleMm: 60 } } as const;
  const wheel = (more: Partial<BodyElement> = {}): BodyElement =>
    part('wheel', 20, {
      kind: 'filter-wheel',
      sky: female('M48x0.75') as never,
      camera: bolts as never,
      glass: [{ slot: 1, name: 'Luminance', thicknessMm: 2 }],
      halves: ['cover', 'carousel', 'back plate'],
      fasteners: [{ thread: 'M2.5', count: 6 }],
      ...more
    });
  const cameraUnder = (hiddenBy: string): Element =>
    camera(17.5, { sky: bolts as never, seat: { fasteners: [{ thread: 'M3', lengthMm: 5, count: 4, hiddenBy }] } });
  const ring5 = part('ring', 5, faces);

  it('a wheel whose carousel covers the camera’s screws is bolted on first, then filled, closed, and joined', () => {
    for (const order of ['camera', 'telescope', 'parts'] as const) {
      const keys = assemblySheet(train([ring5, wheel(), cameraUnder('wheel')]), 'mm', order).map(({ key }) => key);
      const at = (key: string): number => keys.indexOf(key);
      expect(at('open wheel')).toBeLessThan(at('camera'));
      expect(at('camera')).toBeLessThan(at('fill wheel'));
      expect(at('close wheel')).toBe(at('fill wheel') + 1);
      expect(at('close wheel')).toBeLessThan(at('wheel'));
    }
  });

  it('each plate has its own screws, those of the glass stay apart, and the right way round is told', () => {
    const plated = wheel({
      halves: [
        { name: 'cover', fasteners: [{ thread: 'M2.5', lengthMm: 6, count: 8 }], marks: 'cable side at the plug' },
        { name: 'back plate', fasteners: [{ thread: 'M3', lengthMm: 5, count: 4, tool: '2.5 mm hex key' }] },
        'carousel'
      ],
      fasteners: [
        { thread: 'M2', lengthMm: 4, count: 3, washers: 3, holds: 'filter', tool: 'cross-head driver' },
        { thread: 'M2.5', lengthMm: 20, count: 2 }
      ]
    });
    const made = train([ring5, plated, cameraUnder('wheel')]);
    expect(readTrain(made).ok).toBe(true);
    const steps = assemblySheet(made, 'mm');
    const said = (key: string): string => steps.find((each) => each.key === key)!.do;
    expect(said('open wheel')).toBe(
      'Open wheel: undo 8 × M2.5, 6 mm long, 4 × M3, 5 mm long, and 2 × M2.5, 20 mm long, and count them. It comes apart into cover, back plate, and carousel.'
    );
    expect(said('fill wheel')).toContain(
      'Hold each with 3 × M2, 4 mm long, 3 washers: the shortest first, and look behind, nothing may protrude.'
    );
    expect(said('close wheel')).toBe(
      'Close wheel: cover with 8 × M2.5, 6 mm long, back plate with 4 × M3, 5 mm long, and the rest with 2 × M2.5, 20 mm long. Cover the right way round: cable side at the plug. 14 screws in all, as many as came out.'
    );
    // The carousel lies over the camera's screws: what is bolted on first is the plate on that side.
    expect(said('camera')).toMatch(/^Bolt carousel of wheel to camera with 4 × M3, 5 mm long\./);
  });

  it('screws that wait for each other are an error that names the circle, and no order of the sheet hides it', () => {
    const covered = (at: string, hiddenBy: string): BodyElement =>
      part(at, 10, { ...faces, seat: { fasteners: [{ thread: 'M3', count: 3, hiddenBy }] } });
    // A ring and the two after it: each joint's screws lie under what the other joint brings.
    const made = train([part('a', 10, faces), covered('b', 'c'), covered('c', 'a'), cam()]);
    const { findings, isGood } = assess(made);
    const told = findings.find(({ code }) => code === 'screw-circle');
    expect(told?.say('mm')).toMatch(/screws at b \(covered by c\) and the screws at c \(covered by a\)/);
    expect(isGood).toBe(false);
    expect(assemblySheet(made, 'mm').filter(({ joint }) => joint !== null)).toHaveLength(4);
    expect(
      assess(train([part('a', 10, faces), covered('b', 'c'), part('c', 10, faces), cam()])).findings
    ).not.toContainEqual(expect.objectContaining({ code: 'screw-circle' }));
  });

  it('every element, every inner filter and what hangs on the train comes into hand', () => {
    const holder = part('holder', 20, {
      ...faces,
      camera: {
        ...(male('M54x0.75') as object),
        second: { thread: 'M42x0.75', gender: 'female', lengthMm: 4 }
      } as never,
      attached: [{ name: 'dew heater', massG: 80, alongMm: 5 }],
      pickoff: {
        fromSkyMm: 4,
        guideCamera: { name: 'guide camera', flangeMm: 12.5 },
        tubes: [{ name: 'tube 15', lengthMm: 15 }]
      }
    });
    const filter = part('filter', 6, { kind: 'filter', sky: male('M42x0.75', 3), camera: female('M42x0.75') });
    const made = train([ring5, holder, filter, camera(17.5, { sky: female('M54x0.75') as never })]);
    for (const order of ['camera', 'telescope', 'parts'] as const) {
      const steps = assemblySheet(made, 'mm', order);
      const hands = new Set(steps.flatMap(({ parts }) => parts));
      for (const { id } of made.elements) expect(hands).toContain(id);
      const keys = steps.map(({ key }) => key);
      expect(keys.indexOf('fit filter')).toBeLessThan(keys.indexOf('camera'));
      const hung = steps.find(({ key }) => key === 'hang holder')!;
      expect(hung.do).toContain('Fit guide camera to holder, tube 15 between.');
      expect(hung.do).toContain('Fit dew heater to holder.');
      expect(keys.indexOf('hang holder')).toBeGreaterThan(Math.max(keys.indexOf('holder'), keys.indexOf('camera')));
    }
  });
});
