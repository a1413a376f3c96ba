import { assemblySheet } from '../src/assembly/index.ts';
import { assess, checkTrain } from '../src/check/index.ts';
import { illumination, illuminationMap, type Optics } from '../src/light/index.ts';
import { readTrain } from '../src/train/index.ts';
import { trainOfTwenty } from './train20.ts';

const ROUNDS = 5;
const ROUND_MS = 600;

/** Best of several rounds, calls per second: what else the machine does only ever slows a round down. */
function perSecond(work: () => unknown): number {
  let best = 0;
  for (let round = 0; round < ROUNDS; round++) {
    const began = performance.now();
    let calls = 0;
    while (performance.now() - began < ROUND_MS) {
      for (let each = 0; each < 50; each++) work();
      calls += 50;
    }
    best = Math.max(best, (calls / (performance.now() - began)) * 1000);
  }
  return best;
}

const train = trainOfTwenty();
const reading = readTrain(train);
if (!reading.ok || train.elements.length !== 20)
  throw new Error('the train of the bench must be valid and have 20 elements');

const rate = perSecond(() => checkTrain(train));
const plain = perSecond(() => {
  const { findings, ledger } = assess(train);
  return [findings, ledger];
});
const validation = perSecond(() => readTrain(train));
const clone = perSecond(() => structuredClone(train));
const show = (label: string, figure: number, note: string): void =>
  console.log(`  ${label.padEnd(44)} ${Math.round(figure).toLocaleString('en').padStart(10)} /s  ${note}`);

console.log('Core, a train of 20 elements, one thread:');
show('full check, with the probability', rate, '');
show('findings and ledger, without it', plain, '');
show('validation of the document', validation, '');
show(
  'reference: structuredClone of the document',
  clone,
  `${(clone / rate).toFixed(2)} × as long with the probability (aim 1), ${(clone / plain).toFixed(2)} × without (aim 0.4)`
);

// The same train with nothing in it that light or guiding could be reckoned of.
const dark = {
  ...train,
  elements: train.elements.map((element) => {
    const { sensor: _sensor, pickoff: _pickoff, ...rest } = element as unknown as Record<string, unknown>;
    return rest;
  })
} as unknown as typeof train;
const withoutLight = perSecond(() => {
  const { findings, ledger } = assess(dark);
  return [findings, ledger];
});
show('findings and ledger, without light and guide', withoutLight, '');
console.log(`  with light and guide ${(withoutLight / plain).toFixed(2)} × as long (aim at most 1.5)`);

// A light map through twelve openings, beside tracing rays until the mean error is the same.
const beam = { fRatio: 4, pupilMm: 400 };
const optics: Optics = {
  holes: Array.from({ length: 12 }, (_, index) => ({
    beam,
    zMm: 20 + 5 * index,
    clearMm: 36 + index,
    fieldScale: 1,
    kind: index % 4 === 3 ? 'square' : 'round',
    atMm: [index % 3, 0] as const
  })),
  bars: [],
  obstruction: 0.3
};
const [columns, rows] = [64, 64];
let map = illuminationMap([36, 24], [columns, rows], optics);
let mapMs = Infinity;
for (let round = 0; round < ROUNDS; round++) {
  const began = performance.now();
  map = illuminationMap([36, 24], [columns, rows], optics);
  mapMs = Math.min(mapMs, performance.now() - began);
}
const cells = Array.from({ length: 64 }, (_, cell) => {
  const [column, row] = [(cell * 37) % columns, (cell * 23) % rows];
  const at = [((column + 0.5) / columns - 0.5) * 36, ((row + 0.5) / rows - 0.5) * 24] as const;
  return { at, share: map[row * columns + column]! };
});
const error = Math.sqrt(
  cells.reduce((sum, { at, share }) => sum + (share - illumination(at, optics, 4000)) ** 2, 0) / cells.length
);
/** Rays a cell needs for that error: p (1 − p) / n. */
const spread = cells.reduce((sum, { share }) => sum + share * (1 - share), 0) / cells.length;
const rays = Math.max(1, Math.round(spread / Math.max(error, 1e-9) ** 2));
const TRIED = 20_000;
let passed = 0;
const traceBegan = performance.now();
for (let ray = 0; ray < TRIED; ray++) {
  const [r, turn] = [Math.sqrt(Math.random()), Math.random() * 2 * Math.PI];
  const [u, v] = [r * Math.cos(turn), r * Math.sin(turn)];
  const clears = optics.holes.every(({ zMm, clearMm, kind, atMm }) => {
    const lean = 1 - zMm / beam.pupilMm;
    const [x, y] = [10 * lean + (u * zMm) / 8 - atMm[0], 6 * lean + (v * zMm) / 8 - atMm[1]];
    return kind === 'round' ? Math.hypot(x, y) <= clearMm / 2 : Math.max(Math.abs(x), Math.abs(y)) <= clearMm / 2;
  });
  if (clears) passed++;
}
const traceMs = ((performance.now() - traceBegan) / TRIED) * rays * columns * rows;
console.log(
  `\nLight map of ${columns} × ${rows} through 12 openings: ${mapMs.toFixed(1)} ms (aim at most 30), error ${error.toExponential(1)}; rays for the same error would take ${(traceMs / 1000).toFixed(1)} s (${passed > 0 ? rays : 0} a cell)`
);

// A wheel of twelve filters, each held by its screws, in a train of sixty screws and more.
const screwed = (() => {
  const fastener = (count: number) => ({ thread: 'M2.5', lengthMm: 6, count, tool: '2 mm hex key' });
  const [host, ...rest] = train.elements;
  const wheel = rest.findIndex(({ kind }) => kind === 'filter-wheel');
  const filters = Array.from({ length: 12 }, (_, at) => ({ name: `Filter ${at + 1}`, slot: at + 1, thicknessMm: 2 }));
  const elements = [host!, ...rest].map((element, at) =>
    at - 1 === wheel
      ? {
          ...element,
          halves: [{ name: 'front plate', fasteners: [fastener(8)] }, 'carousel', 'back plate'],
          fasteners: [{ ...fastener(3), holds: 'filter' as const }],
          holder: { slots: 12 },
          glass: filters
        }
      : at > 0 && at <= 4
        ? { ...element, seat: { fasteners: [fastener(4)] } }
        : element
  );
  return { ...train, elements } as unknown as typeof train;
})();
const screws = JSON.stringify(screwed).match(/"count":\d+/g)!.length;
const sheetRate = perSecond(() => assemblySheet(screwed, 'mm'));
show(
  'sheet of twelve filters and their screws',
  sheetRate,
  `${(1000 / sheetRate).toFixed(2)} ms each (aim 10), ${screws} kinds of screws`
);
