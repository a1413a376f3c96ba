import { assess, checkTrain, readTrain } from '../src/index.ts';
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
