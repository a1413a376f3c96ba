import { existsSync, readdirSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';
import { STAGES, STAGE_OF_FRAMES, looksAtFrames, stageAt } from './stages.ts';

const inSource = (path: string): string => fileURLToPath(new URL(`../${path}`, import.meta.url));
const ROUTES = inSource('routes/trains/[id]');

describe('the list of stages', () => {
  it('is what routes there are', () => {
    const routes = readdirSync(ROUTES, { withFileTypes: true }).filter((entry) => entry.isDirectory());
    expect(routes.map(({ name }) => name).sort()).toEqual(STAGES.map(({ id }) => id).sort());
  });

  it.each(STAGES)('$title has a folder of its own with the stage in it', ({ id }) => {
    const name = id.replace(/(?:^|-)(\w)/g, (_, letter: string) => letter.toUpperCase());
    expect(existsSync(inSource(`lib/${id}/${name}Stage.svelte`))).toBe(true);
  });

  it('knows whose page one is on', () => {
    expect(stageAt('/trains/1/first-light')?.title).toBe('First light');
    expect(stageAt('/trains')).toBeUndefined();
  });

  it('knows which of them look at frames; what is dropped on the others goes to one that does', () => {
    expect(STAGES.filter(looksAtFrames).map(({ id }) => id)).toEqual(['first-light', 'tune']);
    expect(looksAtFrames(stageAt(`/trains/1/${STAGE_OF_FRAMES}`))).toBe(true);
    expect(looksAtFrames(undefined)).toBe(false);
  });
});
