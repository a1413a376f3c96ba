/**
 * Stages of a train, in the order people do them: the one list of them. Each has a folder of its name in `src/lib` with
 * its `…Stage.svelte`, and a route of its name; navigation, titles and layers follow from here.
 */
export const STAGES = [
  { id: 'build', title: 'Build' },
  { id: 'check', title: 'Check' },
  { id: 'assemble', title: 'Assemble' },
  { id: 'first-light', title: 'First light' },
  { id: 'tune', title: 'Tune' },
  { id: 'log', title: 'Log' }
] as const;

export type Stage = (typeof STAGES)[number];

/** The stage whose page this is. */
export const stageAt = (path: string): Stage | undefined => STAGES.find(({ id }) => path.endsWith(`/${id}`));
