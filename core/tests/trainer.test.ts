import { describe, expect, it } from 'vitest';
import { Facts } from '../src/check/index.ts';
import { judgeField, readStars, simulateFrame } from '../src/frame/index.ts';
import {
  NEW_SCORE,
  TRAINER_FAULTS,
  explained,
  isRight,
  mostConfused,
  newRound,
  noteOf,
  readScore,
  scored,
  trainerCamera,
  type TrainerRound
} from '../src/experiment/index.ts';
import { readDemo } from './demo.ts';
import { dice } from './dice.ts';

describe('rounds of the trainer', () => {
  it('show what they ask for: who judges every frame the same way finds the fault', () => {
    let [asked, found] = [0, 0];
    for (const camera of [trainerCamera(undefined), trainerCamera(new Facts(readDemo('long-tom.json')))]) {
      for (const level of [1, 8]) {
        const random = dice(level + camera.widthPx).uniform;
        for (let round = 0; round < 4; round++) {
          const { fault, spec } = newRound({ ...NEW_SCORE, level }, camera, random);
          const [first] = judgeField(readStars(simulateFrame(spec).frame)).findings;
          asked++;
          if ((first?.cause ?? 'nothing') === fault) found++;
        }
      }
    }
    expect(found / asked).toBeGreaterThanOrEqual(0.9);
  });

  it('every fault comes, and those that were missed come more often', () => {
    const camera = trainerCamera(undefined);
    const count = (taken: (typeof NEW_SCORE)['taken']): Map<string, number> => {
      const random = dice(3).uniform;
      const counts = new Map<string, number>();
      for (let round = 0; round < 300; round++) {
        const { fault } = newRound({ ...NEW_SCORE, taken }, camera, random);
        counts.set(fault, (counts.get(fault) ?? 0) + 1);
      }
      return counts;
    };
    const even = count({});
    expect([...even.keys()].sort()).toEqual([...TRAINER_FAULTS].sort());
    const missed = count({ tilt: { spacing: 5 } });
    expect(missed.get('tilt')!).toBeGreaterThan(1.5 * even.get('tilt')!);
  });

  it('of a spacing the note and the frame together tell the way and how far', () => {
    const camera = trainerCamera(undefined);
    const random = dice(9).uniform;
    let rounds = 0;
    while (rounds < 6) {
      const round = newRound(NEW_SCORE, camera, random);
      if (round.fault !== 'spacing') continue;
      rounds++;
      const now = judgeField(readStars(simulateFrame(round.spec).frame)).radial!.corner;
      // The line through both: stretch at the spacing now and at the note's.
      const slope = (round.note.stretch - now) / round.note.byMm;
      const toGo = -now / slope;
      expect(Math.sign(toGo)).toBe(-Math.sign(round.errorMm));
      expect(noteOf(round)).toMatch(/mm (more|less) the corners/);
    }
  });
});

describe('answers and score', () => {
  const spacing: TrainerRound = {
    fault: 'spacing',
    spec: trainerCamera(undefined),
    note: { byMm: 1, stretch: 0.2 },
    errorMm: 1.2
  };
  const tilt: TrainerRound = { ...spacing, fault: 'tilt', errorMm: 0 };

  it('of a spacing the way has to be right, and the amount about', () => {
    expect(isRight(spacing, { fault: 'spacing', way: 'shorter', byMm: 1 })).toBe(true);
    expect(isRight(spacing, { fault: 'spacing', way: 'longer', byMm: 1 })).toBe(false);
    expect(isRight(spacing, { fault: 'spacing', way: 'shorter', byMm: 3 })).toBe(false);
    expect(isRight(spacing, { fault: 'tilt' })).toBe(false);
    expect(explained(spacing)).toMatch(/1\.2 mm shorter: rings come out/);
  });

  it('grows harder after two in a row, easier after a miss, and remembers what was taken for what', () => {
    let score = NEW_SCORE;
    for (let round = 0; round < 4; round++) score = scored(score, tilt, { fault: 'tilt' });
    expect(score).toMatchObject({ level: 3, rounds: 4, right: 4, streak: 4 });
    score = scored(score, tilt, { fault: 'spacing', way: 'longer', byMm: 1 });
    score = scored(score, tilt, { fault: 'spacing', way: 'longer', byMm: 1 });
    score = scored(score, tilt, { fault: 'focus' });
    expect(score).toMatchObject({ level: 1, right: 4, streak: 0 });
    expect(mostConfused(score)).toEqual({ fault: 'tilt', for: 'spacing', times: 2 });
    expect(mostConfused(NEW_SCORE)).toBeUndefined();
  });

  it('a score that was kept is read again, and anything else begins anew', () => {
    const score = scored(NEW_SCORE, tilt, { fault: 'focus' });
    expect(readScore(JSON.parse(JSON.stringify(score)))).toEqual(score);
    for (const broken of [
      undefined,
      null,
      7,
      {},
      { level: 99, rounds: 1, right: 1, streak: 0 },
      { ...score, rounds: -1 }
    ]) {
      expect(readScore(broken)).toEqual(NEW_SCORE);
    }
    expect(readScore({ ...score, taken: { tilt: { focus: 'x', nonsense: 3 }, more: 1 } })).toEqual({
      ...score,
      taken: {}
    });
  });
});
