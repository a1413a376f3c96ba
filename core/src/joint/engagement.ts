/** Turns of thread that must hold: warn below the first, refuse below the second (common practice, no source). */
export const GOOD_TURNS = 3;
export const LEAST_TURNS = 1;
