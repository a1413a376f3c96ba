import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';

const root = dirname(dirname(dirname(fileURLToPath(import.meta.url))));
const heron = readFileSync(join(root, 'demo/heron.json'), 'utf8');

function lodestone(words: string[], input?: string | Buffer, from = root) {
  const { status, stdout, stderr } = spawnSync(process.execPath, [join(root, 'scripts/lodestone.mjs'), ...words], {
    cwd: root,
    env: { ...process.env, INIT_CWD: from },
    input: input ?? '',
    encoding: 'utf8'
  });
  return { status, stdout, stderr };
}

const withRings = (lengthMm: number) =>
  heron.replace(
    /\{ "id": "rings", [^}]*\}/,
    `{ "id": "ring", "kind": "spacer", "name": "Ring", "lengthMm": ${lengthMm}, "toleranceMm": 0.02,
       "sky": { "thread": "M63x1", "gender": "female", "lengthMm": 5 },
       "camera": { "thread": "M63x1", "gender": "male", "lengthMm": 4.5 } }`
  );

describe('lodestone check', () => {
  it('prints the report of a short train and leaves with 1', () => {
    const { status, stdout, stderr } = lodestone(['check', 'demo/heron.json', '--json']);
    const report = JSON.parse(stdout) as Record<string, unknown>;
    expect(Object.keys(report)).toEqual([
      'required',
      'actual',
      'residualMm',
      'verdict',
      'slots',
      'dial',
      'uncertainty',
      'problems'
    ]);
    expect(report).toMatchObject({
      residualMm: expect.closeTo(51.3 - 58.3 - 2 * (1 - 1 / 1.5168), 9),
      verdict: 'short',
      dial: null
    });
    expect([status, stderr]).toEqual([1, '']);
  });

  it('leaves with 0 when the train is on spec, reading standard input', () => {
    const { status, stdout } = lodestone(['check', '-', '--json'], withRings(7.7));
    expect(JSON.parse(stdout)).toMatchObject({ verdict: 'on-spec' });
    expect(status).toBe(0);
  });

  it('leaves with 1 for an error of the joints although the length is right', () => {
    const pitch = withRings(7.7).replace(
      '"M54x0.75", "gender": "male", "lengthMm": 4 },\n      "massG": 520',
      '"M54x1", "gender": "male", "lengthMm": 4 },\n      "massG": 520'
    );
    const { status, stdout } = lodestone(['check', '-', '--json'], pitch);
    expect(JSON.parse(stdout)).toMatchObject({
      verdict: 'on-spec',
      problems: [{ code: 'thread-pitch', at: 'camera' }]
    });
    expect(status).toBe(1);
  });

  it('prints a ledger a person can read', () => {
    const { stdout } = lodestone(['check', 'heron.json'], undefined, join(root, 'demo'));
    expect(stdout).toContain('7.68 mm short');
    expect(stdout).toMatch(/from the datum to the sensor +51\.30/);
    expect(stdout).toMatch(/what it has to measure +58\.981/);
  });

  it.each<[string, string[], string | Buffer | undefined, string]>([
    ['a missing file', ['check', 'nowhere.json'], undefined, 'no such file'],
    ['a folder', ['check', 'demo'], undefined, 'is a folder'],
    ['no JSON', ['check', '-'], '{', 'not valid JSON'],
    ['not UTF-8', ['check', '-'], Buffer.from([0x7b, 0xff, 0x7d]), 'not UTF-8'],
    ['a wrong value', ['check', '-'], heron.replace('12.5', '-12.5'), '/elements/4/lengthMm'],
    ['no file', ['check'], undefined, 'usage'],
    ['an unknown option', ['check', '-', '--jsn'], heron, '--jsn'],
    ['an unknown command', ['chekc'], undefined, 'chekc']
  ])('refuses %s with one line on standard error', (_name, words, input, message) => {
    const { status, stdout, stderr } = lodestone(words, input);
    expect([status, stdout]).toEqual([2, '']);
    expect(stderr).toContain(message);
    expect(stderr.trimEnd().split('\n')).toHaveLength(1);
  });
});
