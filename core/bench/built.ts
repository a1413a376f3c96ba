// A million draws beside the convolution, and a change-over of two trains of twenty parts.
import { changeOver, landings } from '../src/assembly/index.ts';
import { readDrawer } from '../src/drawer/index.ts';
import { readFocusRun } from '../src/focus/index.ts';
import { Facts, assess } from '../src/check/index.ts';
import { Spread, drawErrors, shareBetween, type Doubt } from '../src/doubt/index.ts';
import { trainOfTwenty } from './train20.ts';

const COUNT = 1_000_000;
const ROUNDS = 5;

/** Best of several rounds, ms. */
function best(work: () => unknown): number {
  let least = Infinity;
  for (let round = 0; round < ROUNDS; round++) {
    const began = performance.now();
    work();
    least = Math.min(least, performance.now() - began);
  }
  return least;
}
const show = (label: string, figure: number, note = ''): void =>
  console.log(`  ${label.padEnd(44)} ${figure.toFixed(2).padStart(10)} ms  ${note}`);

const train = trainOfTwenty();
const own = new Facts(train).doubts;
/** Twenty parts of all shapes, as wide as the train's own. */
const doubts: Doubt[] = Array.from({ length: 20 }, (_, at) => ({
  id: String(at),
  of: 'length',
  halfWidthMm: 0.02 + at / 200,
  standardMm: (0.02 + at / 200) / [Math.sqrt(3), Math.sqrt(6), 2][at % 3]!,
  kind: 'stated',
  shape: (['rectangular', 'triangular', 'normal'] as const)[at % 3]!,
  shared: undefined
}));

console.log('\nUncertainty of twenty parts:');
const drawing = best(() => drawErrors(doubts, COUNT, 1));
const convolving = best(() => new Spread(doubts).halfWidth95Mm);
show('a million draws of all errors', drawing);
show(
  'reference: the convolution, to its 95 %',
  convolving,
  `${(drawing / convolving).toFixed(0)} × as fast as the draws`
);
for (const [words, parts] of [
  ['of these', doubts],
  ['of the train’s own', own]
] as const) {
  const draws = drawErrors(parts, COUNT, 2);
  const spread = new Spread(parts);
  let largest = 0;
  for (let step = -30; step <= 30; step++) {
    const bound = (step / 10) * spread.standardMm;
    largest = Math.max(largest, Math.abs(shareBetween(draws, -Infinity, bound) - spread.between(-99, bound)));
  }
  console.log(`  largest difference of the distributions ${words.padEnd(18)} ${largest.toExponential(1)}`);
}

console.log('\nChange-over and landing:');
const other = { ...train, elements: train.elements.toSpliced(5, 3) };
const shuffled = {
  ...train,
  elements: [train.elements[0]!, ...train.elements.slice(1, -1).toReversed(), train.elements.at(-1)!]
};
show(
  'two trains of 20 parts, three of them left out',
  best(() => changeOver(train, other)),
  'aim at most 50'
);
show(
  'two trains of 20 parts, in reverse order',
  best(() => changeOver(train, shuffled)),
  'aim at most 50'
);
/** All rings alike, so that every way to say which is which is open. */
const alike = {
  ...train,
  elements: train.elements.map((element) =>
    element.id.startsWith('ring-') ? { ...train.elements.find(({ id }) => id === 'ring-1')!, id: element.id } : element
  )
};
show(
  'two trains of 20 parts, 14 of them alike',
  best(() => changeOver(alike as typeof train, alike as typeof train)),
  'aim at most 50'
);
const shims = readDrawer({
  lodestone: 'drawer/1',
  parts: Array.from({ length: 24 }, (_, at) => ({
    partId: `S-${at}`,
    kind: 'shim',
    name: `Shim ${at}`,
    lengthMm: 0.05 + at * 0.04,
    clearMm: 70,
    quantity: 3
  }))
});
if (!shims.ok) throw new Error('the shims of the bench must be valid');
const assessment = assess(train);
show(
  'shims of 24 kinds before the last joint',
  best(() => landings(assessment, ['ring-9'], shims.document)),
  'a step has 100'
);

console.log('\nFocus:');
const noise = (at: number): number => 0.1 * Math.sin(at * 12.9898) * Math.cos(at * 78.233);
const long = Array.from({ length: 1000 }, (_, at) => ({
  position: 2000 + 2 * at,
  hfrPx: Math.hypot(2.2, 0.012 * (at * 2 - 1000)) + noise(at),
  standardPx: 0.1
}));
show(
  'a run of 1000 frames, read and fitted',
  best(() => readFocusRun(long)),
  'aim at most 20'
);
show(
  'a run of 12 frames',
  best(() => readFocusRun(long.filter((_, at) => at % 83 === 0))),
  'a frame has 16.7'
);
