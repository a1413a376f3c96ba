import { existsSync, readdirSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';
import { STAGES, stageAt } from './stages.ts';

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
});
