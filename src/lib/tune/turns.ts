import type { ScrewTurn } from '@lodestone/core/experiment';

/** So much of a turn, as one says it with a key in the hand. */
export function turnInWords(turns: number): string {
  if (turns >= 0.95) return `${turns.toFixed(1)} ×`;
  return `${Math.max(5, Math.round((turns * 360) / 5) * 5)}°`;
}

/** What to do with a screw. */
export const wayInWords = ({ way, turns }: ScrewTurn): string =>
  way === 'leave' ? 'stays' : `${turnInWords(turns)} ${way}`;
