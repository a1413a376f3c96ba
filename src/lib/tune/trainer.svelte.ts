import { reasonOf } from '$lib/api/reason.ts';
import {
  NEW_SCORE,
  isRight,
  readScore,
  scored,
  type TrainerAnswer,
  type TrainerRound,
  type TrainerScore
} from '@lodestone/core/experiment';
import type { Train } from '@lodestone/core/train';
import type { FrameSummary } from '@lodestone/core/frame';
import { PracticePixels } from '$lib/frames/pixels.ts';

const KEPT_AS = 'lodestone-trainer';

function keptScore(): TrainerScore {
  try {
    return readScore(JSON.parse(localStorage.getItem(KEPT_AS) ?? 'null'));
  } catch {
    return NEW_SCORE;
  }
}

/** Rounds of a simulated camera: one looks at a frame, says what is wrong, and hears why. */
export class Trainer {
  score = $state.raw<TrainerScore>(NEW_SCORE);
  state = $state<'idle' | 'taking' | 'asking' | 'told' | 'failed'>('idle');
  round = $state.raw<TrainerRound>();
  answer = $state.raw<TrainerAnswer>();
  /** The frame of the round, as the map shows it. */
  frame = $state.raw<{ name: string; state: string; summary: FrameSummary; pixels: PracticePixels }>();
  readonly right = $derived(this.round && this.answer ? isRight(this.round, this.answer) : undefined);
  readonly isOpen = $derived(this.state !== 'idle');

  failure = $state('');
  #pixels: PracticePixels | undefined;

  /** The next round, on this train where its sensor is known. */
  async next(train: Train | undefined): Promise<void> {
    this.#pixels?.end();
    this.answer = undefined;
    this.round = undefined;
    this.frame = undefined;
    if (this.state === 'idle') this.score = keptScore();
    this.state = 'taking';
    const pixels = new PracticePixels();
    this.#pixels = pixels;
    try {
      const { round, summary } = await pixels.practise(train, this.score);
      if (this.#pixels !== pixels) return;
      this.round = round;
      this.frame = { name: `Round ${this.score.rounds + 1}`, state: 'read', summary, pixels };
      this.state = 'asking';
    } catch (error) {
      if (this.#pixels !== pixels) return;
      this.state = 'failed';
      this.failure = reasonOf(error);
    }
  }

  say(answer: TrainerAnswer): void {
    if (!this.round || this.state !== 'asking') return;
    this.answer = answer;
    this.score = scored(this.score, this.round, answer);
    this.state = 'told';
    this.#keep();
  }

  #keep(): void {
    try {
      localStorage.setItem(KEPT_AS, JSON.stringify(this.score));
    } catch {
      // A browser that keeps nothing still plays.
    }
  }

  beginAnew(): void {
    this.score = NEW_SCORE;
    this.#keep();
  }

  close(): void {
    this.#pixels?.end();
    this.#pixels = undefined;
    this.round = undefined;
    this.frame = undefined;
    this.answer = undefined;
    this.state = 'idle';
  }
}
