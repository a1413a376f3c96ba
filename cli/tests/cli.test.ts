import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
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
      'problems',
      'light',
      'guide',
      'load',
      'focus'
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
      problems: expect.arrayContaining([expect.objectContaining({ code: 'thread-pitch', at: 'camera' })]) as unknown
    });
    expect(status).toBe(1);
  });

  it('prints a ledger a person can read', () => {
    const { stdout } = lodestone(['check', 'heron.json'], undefined, join(root, 'demo'));
    expect(stdout).toContain('7.68 mm short');
    expect(stdout).toMatch(/from the datum to the sensor +51\.30/);
    expect(stdout).toMatch(/required, datum to sensor +58\.981/);
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

describe('lodestone find', () => {
  const DRAWER = ['--drawer', 'demo/drawer.json'];

  it('prints the stacks of Heron as the contract says, and leaves with 0', () => {
    const { status, stdout, stderr } = lodestone(['find', 'demo/heron.json', ...DRAWER, '--limit', '3', '--json']);
    expect([status, stderr]).toEqual([0, '']);
    const answer = JSON.parse(stdout) as {
      solutions: Record<string, unknown>[];
      exhausted: boolean;
      advice: unknown[];
    };
    expect(answer.exhausted).toBe(true);
    expect(answer.advice).toEqual([]);
    expect(answer.solutions).toHaveLength(3);
    for (const key of ['residualMm', 'gaps', 'joints', 'pieces', 'buys', 'price', 'dials', 'warnings']) {
      expect(answer.solutions[0]).toHaveProperty(key);
    }
    expect(answer.solutions[0]).toMatchObject({
      gaps: [{ id: 'rings', parts: expect.arrayContaining(['S-05']) as unknown }]
    });
  });

  it('leaves with 1 and advice where nothing is inside the tolerance', () => {
    const { status, stdout } = lodestone(['find', 'demo/dormouse.json', ...DRAWER]);
    expect(status).toBe(1);
    expect(stdout).toContain('What would help:');
    expect(stdout).toContain('B-02');
  });

  it('leaves with 1 for an error that no stack mends, and says so', () => {
    const pitch = heron.replace(
      '"M54x0.75", "gender": "male", "lengthMm": 4 },\n      "massG": 520',
      '"M54x1", "gender": "male", "lengthMm": 4 },\n      "massG": 520'
    );
    expect(pitch).not.toBe(heron);
    const { status, stdout } = lodestone(['find', '-', ...DRAWER, '--limit', '1'], pitch);
    expect(stdout).toContain('Not solved by any stack:');
    expect(status).toBe(1);
  });

  it('prefers the fewest pieces when asked, within the number allowed', () => {
    const { status, stdout } = lodestone([
      'find',
      'demo/heron.json',
      ...DRAWER,
      '--prefer',
      'fewest',
      '--max-pieces',
      '1',
      '--json'
    ]);
    const { solutions } = JSON.parse(stdout) as { solutions: { pieces: number; gaps: { parts: string[] }[] }[] };
    expect(status).toBe(0);
    expect(solutions.map(({ pieces, gaps }) => [pieces, gaps[0]!.parts])).toEqual([[1, ['R-03']]]);
  });

  it('prints an assembly step by step, and a change from one train to another', () => {
    const sheet = lodestone(['sheet', 'demo/long-tom.json', '--from', 'telescope', '--json']);
    expect(sheet.status).toBe(0);
    const { steps } = JSON.parse(sheet.stdout) as { steps: { n: number; joint: string | null }[] };
    expect(steps.flatMap(({ joint }) => joint ?? [])).toEqual(['reducer', 'ao', 'ring-a', 'guider', 'wheel', 'camera']);
    expect(lodestone(['sheet', 'demo/long-tom.json']).stdout).toContain('! Never point it at the sun');
    // Heron is short: its sheet is an answer that is not good.
    expect(lodestone(['sheet', 'demo/heron.json', '--json']).status).toBe(1);
    const change = lodestone(['changeover', 'demo/heron.json', 'demo/heron.json', '--json']);
    expect(change.status).toBe(0);
    expect(JSON.parse(change.stdout)).toMatchObject({ joints: 0, open: [], close: expect.any(Array), aside: [] });
    expect(lodestone(['changeover', 'demo/heron.json']).status).toBe(2);
    expect(lodestone(['sheet', 'demo/heron.json', '--from', 'below']).stderr).toContain(
      '--from takes camera, telescope or parts'
    );
  });

  it('asks for as much light in the corners as it is told', () => {
    const find = (...more: string[]) => {
      const { stdout } = lodestone(['find', 'demo/heron.json', ...DRAWER, '--json', '--limit', '3', ...more]);
      return JSON.parse(stdout) as { leastCornerLight: number | null; solutions: { cornerLight: number }[] };
    };
    expect(find().leastCornerLight).toBeCloseTo(0.9, 9);
    expect(find('--corner-light', '50').leastCornerLight).toBeCloseTo(0.5, 9);
    const { leastCornerLight, solutions } = find('--corner-light', '0');
    expect(leastCornerLight).toBeNull();
    expect(solutions[0]!.cornerLight).toBeGreaterThan(0.9);
    const refused = lodestone(['find', 'demo/heron.json', ...DRAWER, '--corner-light', 'much']);
    expect(refused.status).toBe(2);
    expect(refused.stderr).toContain('--corner-light takes a number from 0 to 100');
  });

  it('counts what comes from the shop as bought', () => {
    const shop = JSON.stringify({
      lodestone: 'drawer/1',
      parts: [
        {
          partId: 'exact',
          kind: 'spacer',
          name: 'Exact',
          lengthMm: 7.681,
          price: 31,
          sky: { thread: 'M63x1', gender: 'female', lengthMm: 5 },
          camera: { thread: 'M63x1', gender: 'male', lengthMm: 4 }
        }
      ]
    });
    const { stdout } = lodestone(['find', 'demo/heron.json', ...DRAWER, '--shop', '-', '--limit', '1', '--json'], shop);
    const { solutions } = JSON.parse(stdout) as { solutions: unknown[] };
    expect(solutions).toMatchObject([{ buys: 1, price: 31, pieces: 1, gaps: [{ parts: ['exact'] }] }]);
  });

  it('finds stacks for several trains from one drawer, apart or for a changeover', () => {
    const words = ['find', 'demo/heron.json', '--with', 'demo/heron.json', ...DRAWER, '--json'];
    const apart = lodestone(words);
    const { together, collisions } = JSON.parse(apart.stdout) as {
      together: { stacks: { gaps: { parts: string[] }[] }[]; moves: number };
      collisions: { partId: string; trains: number[]; copies: number }[];
    };
    // Its corrector, guider, wheel and camera stand in both, so it is a real answer that is not good.
    expect(collisions.length).toBeGreaterThan(2);
    expect(collisions[0]).toMatchObject({ trains: [0, 1], copies: 1 });
    expect(apart.status).toBe(1);
    const [one, other] = together.stacks.map(({ gaps }) => gaps.flatMap(({ parts }) => parts));
    expect(one!.filter((part) => !part.startsWith('S-') && other!.includes(part))).toEqual([]);
    const change = lodestone([...words, '--share', 'changeover']);
    expect((JSON.parse(change.stdout) as { together: { moves: number } }).together.moves).toBe(0);
    expect(lodestone([...words, '--share', 'both']).status).toBe(2);
  });

  it.each<[string, string[], RegExp]>([
    ['no drawer', ['find', 'demo/heron.json'], /--drawer is needed/],
    [
      'a drawer that is a train',
      ['find', 'demo/heron.json', '--drawer', 'demo/heron.json'],
      /demo\/heron\.json: \/lodestone/
    ],
    [
      'a preference nobody has',
      ['find', 'demo/heron.json', ...DRAWER, '--prefer', 'cheapest'],
      /closest, fewest or likeliest/
    ],
    [
      'half a piece',
      ['find', 'demo/heron.json', ...DRAWER, '--max-pieces', '1.5'],
      /--max-pieces takes a whole number/
    ],
    ['no train', ['find', ...DRAWER], /usage/],
    ['standard input twice', ['find', '-', '--drawer', '-'], /only once/],
    ['a part in drawer and shop', ['find', 'demo/heron.json', ...DRAWER, '--shop', 'demo/drawer.json'], /too/]
  ])('refuses %s with one line on standard error', (_words, words, expected) => {
    const { status, stdout, stderr } = lodestone(words);
    expect([status, stdout]).toEqual([2, '']);
    expect(stderr.trimEnd().split('\n')).toHaveLength(1);
    expect(stderr).toMatch(expected);
  });
});

describe('lodestone simulate and lodestone frame', () => {
  const folder = mkdtempSync(join(tmpdir(), 'lodestone-cli-'));
  const simulate = (name: string, ...more: string[]) =>
    lodestone([
      'simulate',
      'demo/long-tom.json',
      '--out',
      join(folder, name),
      '--binning',
      '4',
      '--seeing=10',
      ...more
    ]);

  it('a frame that is made is read, one object for each file, with the contract’s keys', () => {
    expect(simulate('quiet.fits').status).toBe(0);
    expect(simulate('drift.fits', '--drift=14', '--drift-direction=-40').status).toBe(0);
    const { status, stdout } = lodestone(['frame', 'quiet.fits', 'drift.fits', '--stars', '--json'], undefined, folder);
    const [quiet, drift] = stdout
      .trimEnd()
      .split('\n')
      .map((line) => JSON.parse(line) as Record<string, unknown> & { stars: Record<string, number>[] });
    expect(status).toBe(1);
    expect(Object.keys(quiet!)).toEqual([
      'file',
      'widthPx',
      'heightPx',
      'background',
      'noise',
      'count',
      'hfrPx',
      'fwhmPx',
      'ellipticity',
      'radial',
      'tracking',
      'tilt',
      'findings',
      'stars'
    ]);
    expect(quiet).toMatchObject({ file: 'quiet.fits', count: quiet!.stars.length });
    expect(Object.keys(quiet!.stars[0]!)).toEqual([
      'x',
      'y',
      'flux',
      'snr',
      'hfrPx',
      'fwhmPx',
      'ellipticity',
      'angleDeg'
    ]);
    expect(drift!.findings).toMatchObject([{ cause: 'tracking', confidence: expect.any(Number) }]);
    expect((drift!.tracking as { angleDeg: number }).angleDeg).toBeCloseTo(-40, -1);
    // A frame from standard input says the same; without --json people can read it.
    const piped = lodestone(['frame', '-', '--json'], readFileSync(join(folder, 'drift.fits')));
    expect(JSON.parse(piped.stdout)).toMatchObject({ file: '-', count: drift!.count });
    expect(lodestone(['frame', join(folder, 'drift.fits')]).stdout).toMatch(
      /tracking \(\d+ %\): All stars are stretched/
    );
  });

  it.each<[string, string[], RegExp]>([
    ['a file that is none', ['frame', 'package.json'], /package\.json: This is no FITS/],
    ['a file that is not there', ['frame', 'nowhere.fits'], /nowhere\.fits: no such file/],
    ['a folder', ['frame', 'docs'], /docs: is a folder/],
    ['no file', ['frame'], /usage/],
    ['a picture of no number', ['frame', 'a.fits', '--picture', 'x'], /--picture: “x” is no number of a picture/],
    ['nowhere to write', ['simulate', 'demo/heron.json'], /--out is needed/],
    [
      'a tilt that is none',
      ['simulate', 'demo/heron.json', '--out', 'x.fits', '--tilt=steep'],
      /--tilt takes a number/
    ],
    [
      'too much binning',
      ['simulate', 'demo/heron.json', '--out', 'x.fits', '--binning', '9'],
      /--binning takes a whole/
    ],
    [
      'a folder that is not there',
      ['simulate', 'demo/heron.json', '--out', 'no/x.fits', '--binning', '8'],
      /no such file/
    ]
  ])('refuses %s with one line on standard error', (_words, words, expected) => {
    const { status, stdout, stderr } = lodestone(words);
    expect([status, stdout]).toEqual([2, '']);
    expect(stderr.trimEnd().split('\n')).toHaveLength(1);
    expect(stderr).toMatch(expected);
  });

  it('one bad file among good ones: nothing is printed but what is wrong', () => {
    writeFileSync(join(folder, 'bad.fits'), 'SIMPLE  =                    T');
    const { status, stdout, stderr } = lodestone(['frame', 'quiet.fits', 'bad.fits'], undefined, folder);
    expect([status, stdout]).toEqual([2, '']);
    expect(stderr).toMatch(/^lodestone: bad\.fits: FITS header: the file ends before its END/);
    rmSync(folder, { recursive: true });
  });
});

describe('lodestone tune', () => {
  const experiments = (entries: unknown[]) => JSON.stringify({ lodestone: 'experiments/1', experiments: entries });
  const frame = (spacingMm: number, value: number) => ({ spacingMm, radial: { value, standard: 0.01 } });

  it('leaves with 0 where it is enough and with 1 where another try helps, its keys the contract’s', () => {
    const enough = lodestone(
      ['tune', '-', '--json'],
      experiments([frame(55, 0.11), frame(56, 0.05), frame(58, -0.07)])
    );
    expect(enough.status).toBe(0);
    expect(Object.keys(JSON.parse(enough.stdout) as object)).toEqual([
      'bestMm',
      'interval95Mm',
      'model',
      'slopePerMm',
      'toleranceMm',
      'outliers',
      'nextMm',
      'enough',
      'why'
    ]);
    const one = lodestone(['tune', '-'], experiments([frame(55, 0.11)]));
    expect(one).toMatchObject({ status: 1, stdout: expect.stringMatching(/not known yet[^]*try next: 57\.20 mm/) });
  });

  it('with a drawer the next one is what its rings make, of a train with the joints to open', () => {
    const drawer = 'demo/drawer.json';
    const bare = lodestone(['tune', '-', '--drawer', drawer, '--json'], experiments([frame(55, 0.11)]));
    const answer = JSON.parse(bare.stdout) as { nextMm: number; next: { in: string[]; out: string[]; joints: null } };
    expect(Math.abs(answer.nextMm - 57.2)).toBeLessThan(0.11);
    expect(answer.next.in.length + answer.next.out.length).toBeGreaterThan(0);
    expect(answer.next.joints).toBeNull();

    const longTom = JSON.parse(readFileSync('demo/long-tom.json', 'utf8')) as { tuning: unknown };
    const whole = lodestone(['tune', '-', '--drawer', drawer], JSON.stringify(longTom));
    expect(whole).toMatchObject({ status: 0, stdout: expect.stringMatching(/Best spacing 86\.37 mm/) });
    const early = {
      ...longTom,
      tuning: { experiments: [{ spacingMm: 86.23, eye: { stretch: 'outward', strength: 1 } }] }
    };
    const found = lodestone(['tune', '-', '--drawer', drawer, '--json'], JSON.stringify(early));
    expect(found.status).toBe(1);
    const said = JSON.parse(found.stdout) as { nextMm: number; next: { spacingMm: number; joints: number } | null };
    if (said.next) expect(said.next).toMatchObject({ spacingMm: said.nextMm, joints: expect.any(Number) });
    expect(lodestone(['tune', '-', '--drawer', 'no-such-file.json'], experiments([])).status).toBe(2);
    expect(lodestone(['tune', '-', '--drawer', '-'], experiments([])).status).toBe(2);
  });

  it('refuses what is no experiment with its place', () => {
    const { status, stdout, stderr } = lodestone(
      ['tune', '-'],
      experiments([{ spacingMm: 55, eye: { stretch: 'up' } }])
    );
    expect([status, stdout]).toEqual([2, '']);
    expect(stderr).toMatch(/\/experiments\/0\/eye\/stretch/);
  });
});
