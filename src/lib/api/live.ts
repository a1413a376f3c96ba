import type { TrainState } from './trains.ts';

/** How everything stands, as the event stream tells it first, and after every gap. */
export interface Heads {
  /** Number of the drawer's newest state; it never goes down, whatever restarts. */
  drawer: number;
  /** Newest revision of each, how it stands, and its newest test frame (0: none). */
  trains: Readonly<Record<string, { number: number; state: TrainState; frame: number }>>;
}

/** One thing that has changed. */
export type News =
  | { drawer: number }
  | { train: string; number: number }
  | { train: string; frame: number }
  | { train: string; state: TrainState };
