import { readTrain, type Train } from '@lodestone/core/train';
import { focuserFor } from '@lodestone/core/experiment';
import { readFocusRun, type FocusPoint } from '@lodestone/core/focus';
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { instructionFor, lastFrames, moverOf } from './guide.ts';

const demo = (name: string): Train => {
  const reading = readTrain(JSON.parse(readFileSync(`demo/${name}.json`, 'utf8')));
  if (!reading.ok) throw new Error(name);
  return reading.document;
};

const BACKLASH = 60;
const STEP = 200;
const DONE = { dark: true, star: true, zero: true };

/** Does what the page says, with the focuser and camera that ship, until it says that the best is found; when it told one first. */
function walk(train: Train, seed: number) {
  const focuser = focuserFor(train, seed);
  const points: FocusPoint[] = [];
  const told: string[] = [];
  const { lastStep } = focuser.zero();
  let first: { frames: number; bestPosition: number } | undefined;
  for (let frames = 0; frames < 30; frames++) {
    const answer = readFocusRun(points, BACKLASH, lastStep);
    const instruction = instructionFor(DONE, points, answer, STEP, BACKLASH, {
      mover: moverOf(train.host.kind, false),
      hasGuide: false
    })!;
    told.push(`${lastFrames(points)} ${instruction.title} ${instruction.look}`);
    const { position } = instruction;
    if (answer.bestPosition !== null) first ??= { frames, bestPosition: answer.bestPosition };
    if (instruction.key === 'best') return { frames, first, answer, told, focuser };
    if (position === undefined) break;
    expect(position).toBeGreaterThanOrEqual(0);
    expect(position).toBeLessThanOrEqual(lastStep);
    if (points.length > 0 && position < points.at(-1)!.position) focuser.move(Math.max(0, position - BACKLASH - STEP));
    focuser.move(position);
    points.push({ ...focuser.frame(), direction: 'out' });
  }
  return { frames: Infinity, first, answer: undefined, told, focuser };
}

describe('first light with the focuser that ships', () => {
  it.each(['heron', 'dormouse', 'long-tom'])(
    '%s: from racked in to a best position that is right, in at most nine frames',
    (name) => {
      const train = demo(name);
      const runs = Array.from({ length: 40 }, (_, run) => walk(train, run + 1));
      for (const { frames, first, told, answer, focuser } of runs) {
        expect(first?.frames, told.join('\n')).toBeLessThanOrEqual(9);
        expect(frames, told.join('\n')).toBeLessThanOrEqual(12);
        // Where it says, stars are nearly as small as they get, at the end and when a best is told first.
        for (const best of [answer!.bestPosition!]) {
          focuser.move(Math.round(best) - BACKLASH - STEP);
          focuser.move(Math.round(best));
          expect(focuser.frame().hfrPx, told.join('\n')).toBeLessThan(2.1 * 1.4);
        }
      }
    }
  );
});
