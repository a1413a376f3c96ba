/**
 * Stages of a train, in the order people do them: the one list of them. Each has a folder of its name in `src/lib` with
 * its `…Stage.svelte`, and a route of its name; navigation, titles and layers follow from here.
 */
export const STAGES = [
  { id: 'build', title: 'Build' },
  { id: 'check', title: 'Check' },
  { id: 'assemble', title: 'Assemble' },
  { id: 'first-light', title: 'First light', looksAtFrames: true },
  { id: 'tune', title: 'Tune', looksAtFrames: true },
  { id: 'log', title: 'Log' }
] as const;

export type Stage = (typeof STAGES)[number];

/** Where test frames go that are dropped on a stage that does not look at any. */
export const STAGE_OF_FRAMES: Stage['id'] = 'tune';

/** Whether a stage has a use of its own for test frames. */
export const looksAtFrames = (stage: Stage | undefined): boolean => stage !== undefined && 'looksAtFrames' in stage;

/** The stage whose page this is. */
export const stageAt = (path: string): Stage | undefined => STAGES.find(({ id }) => path.endsWith(`/${id}`));
