// A test frame, whole process against whole process, beside source-extractor on the same file; and a large one in the browser.
import { spawnSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ensureDebian } from '../setup/packages.mjs';
import { ROOT } from '../setup/paths.mjs';

const ROUNDS = 5;

/** A frame of the simulated camera, made by the sources themselves. */
function makeFrame(file, widthPx, heightPx, stars, optics = {}) {
  const program = `
    import { writeFileSync } from 'node:fs';
    import { PERFECT_OPTICS, QUIET_NIGHT, simulateFrame, writeFits } from '${join(ROOT, 'core/src/frame/index.ts')}';
    const { frame } = simulateFrame({
      widthPx: ${widthPx}, heightPx: ${heightPx}, pixelUm: 3.76, seed: 7,
      optics: { ...PERFECT_OPTICS, spacingErrorMm: 1, ...${JSON.stringify(optics)} },
      conditions: { ...QUIET_NIGHT, hotPixels: 1000, cosmicRays: 60 },
      field: { count: ${stars}, faintestAdu: 1500, brightestAdu: 800000, power: 0.7 }
    });
    writeFileSync(${JSON.stringify(file)}, writeFits(frame, { bitpix: 16 }));`;
  const script = `${file}.mts`;
  writeFileSync(script, program);
  const { status, stderr } = spawnSync(process.execPath, ['--import', 'tsx', script], { cwd: ROOT, encoding: 'utf8' });
  if (status !== 0) throw new Error(stderr);
}

/** Least wall time of some runs, s, and the most memory any of them held, MB. */
function timed(program, words, cwd) {
  let least = Infinity;
  let most = 0;
  let out = '';
  for (let round = 0; round < ROUNDS; round++) {
    const began = performance.now();
    // Debian's GNU time is not everywhere; the shell's own children are told by the kernel.
    const { stdout, status } = spawnSync(
      'python3',
      [
        '-c',
        'import resource,subprocess,sys;p=subprocess.run(sys.argv[1:],stdout=subprocess.PIPE);sys.stdout.buffer.write(p.stdout);sys.stdout.write("\\nKB %d" % resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss)',
        program,
        ...words
      ],
      { cwd, encoding: 'utf8', maxBuffer: 1 << 28 }
    );
    if (status !== 0) throw new Error(`${program} failed`);
    const took = (performance.now() - began) / 1000;
    least = Math.min(least, took);
    most = Math.max(most, Number(/KB (\d+)/.exec(stdout)?.[1] ?? 0) / 1024);
    out = stdout;
  }
  return { seconds: least, megabytes: most, out };
}

export async function measureFrames(folder, say) {
  await ensureDebian(['judges'], say);
  const file = join(folder, 'frame26.fits');
  makeFrame(file, 6248, 4176, 1600);
  const shared = '/usr/share/source-extractor';
  writeFileSync(
    join(folder, 'se.param'),
    ['XWIN_IMAGE', 'YWIN_IMAGE', 'FLUX_AUTO', 'FLUX_RADIUS', 'FWHM_IMAGE', 'A_IMAGE', 'B_IMAGE', 'THETA_IMAGE'].join(
      '\n'
    )
  );
  const theirs = () =>
    timed(
      'source-extractor',
      [
        ...[file, '-c', `${shared}/default.sex`, '-PARAMETERS_NAME', 'se.param', '-CATALOG_NAME', 'STDOUT'],
        ...['-FILTER_NAME', `${shared}/gauss_2.0_3x3.conv`, '-STARNNW_NAME', `${shared}/default.nnw`],
        ...['-DETECT_THRESH', '3', '-ANALYSIS_THRESH', '1.5', '-PHOT_FLUXFRAC', '0.5', '-VERBOSE_TYPE', 'QUIET']
      ],
      folder
    );
  const ours = () =>
    timed(process.execPath, [join(ROOT, 'scripts/lodestone.mjs'), 'frame', file, '--json', '--stars'], folder);
  const reference = theirs();
  const own = ours();
  const lines = reference.out.split('\n').filter((line) => /^\s*\d/.test(line)).length;
  say('\nA frame of 26 million pixels, whole process (best of 5):');
  say(
    `  ${'lodestone frame --stars, and what is wrong'.padEnd(44)} ${own.seconds.toFixed(2).padStart(10)} s   ${own.megabytes.toFixed(0)} MB at most, ${JSON.parse(own.out.split('\nKB')[0]).count} stars`
  );
  say(
    `  ${'reference: source-extractor'.padEnd(44)} ${reference.seconds.toFixed(2).padStart(10)} s   ${reference.megabytes.toFixed(0)} MB at most, ${lines} objects`
  );
  say(
    `  ${'ours over theirs'.padEnd(44)} ${(own.seconds / reference.seconds).toFixed(2).padStart(10)}     aim: at most 0.50`
  );
}

/** A frame of floating-point pixels as processing keeps it, and the same with a twentieth of it infinite. */
export function measureInfinities(folder, say) {
  const script = join(folder, 'infinite.mts');
  writeFileSync(
    script,
    `
    import { createReadStream, statSync, writeFileSync } from 'node:fs';
    import { readFrame, writeFits } from '${join(ROOT, 'core/src/frame/index.ts')}';
    const file = '${join(folder, 'frame26.fits')}';
    const frame = await readFrame({ chunks: createReadStream(file), sizeBytes: statSync(file).size });
    for (const every of [0, 20]) {
      const plane = Float32Array.from(frame.planes[0], (value, at) =>
        every > 0 && (at * 7919) % every === 0 ? Infinity : frame.zero + frame.scale * value);
      writeFileSync('${folder}/float' + every + '.fits', writeFits({ ...frame, planes: [plane], scale: 1, zero: 0 }, { bitpix: -32 }));
    }`
  );
  const { status, stderr } = spawnSync(process.execPath, ['--import', 'tsx', script], { cwd: ROOT, encoding: 'utf8' });
  if (status !== 0) throw new Error(stderr);
  const read = (name) =>
    timed(process.execPath, [join(ROOT, 'scripts/lodestone.mjs'), 'frame', join(folder, name), '--json'], folder);
  const [plain, infinite] = ['float0.fits', 'float20.fits'].map(read);
  say('\nA frame of 26 million floating-point pixels, a twentieth of them infinite (best of 5):');
  say(`  ${'without'.padEnd(44)} ${plain.seconds.toFixed(2).padStart(10)} s`);
  say(
    `  ${'with'.padEnd(44)} ${infinite.seconds.toFixed(2).padStart(10)} s   ${(infinite.seconds / plain.seconds).toFixed(2)} ×, aim: at most 2`
  );
}

const SWEEP_UM = [-200, -150, -100, -50, 0, 50, 100, 150, 200];
const SWEEP_TILT_UM = 60;

/** A focus sweep of nine frames of 26 million pixels, one process: each frame, the focal surface, and the memory of all. */
export function measureSweep(folder, say) {
  const files = SWEEP_UM.map((um) => {
    const file = join(folder, `sweep${um}.fits`);
    makeFrame(file, 6248, 4176, 1600, { defocusUm: um, tiltUm: SWEEP_TILT_UM, tiltDirectionDeg: 30 });
    return { file, um };
  });
  const script = join(folder, 'sweep.mts');
  writeFileSync(
    script,
    `
    import { createReadStream, statSync } from 'node:fs';
    import { readFrame, readStars, summaryOf } from '${join(ROOT, 'core/src/frame/index.ts')}';
    import { readSweep } from '${join(ROOT, 'core/src/experiment/index.ts')}';
    const frames = [];
    const seconds = [];
    for (const { file, um } of ${JSON.stringify(files)}) {
      const began = performance.now();
      const frame = await readFrame({ chunks: createReadStream(file, { highWaterMark: 1 << 20 }), sizeBytes: statSync(file).size });
      frames.push({ positionUm: um, summary: summaryOf(readStars(frame), frame) });
      seconds.push((performance.now() - began) / 1000);
    }
    const began = performance.now();
    const answer = readSweep(frames);
    if (!answer.ok) throw new Error(answer.message);
    const [x, y] = answer.sweep.tilt.slopeUm;
    console.log(JSON.stringify({ seconds, surface: (performance.now() - began) / 1000, tiltUm: Math.hypot(x, y), megabytes: process.resourceUsage().maxRSS / 1024 }));`
  );
  const { status, stderr, stdout } = spawnSync(process.execPath, ['--import', 'tsx', script], {
    cwd: ROOT,
    encoding: 'utf8'
  });
  if (status !== 0) throw new Error(stderr);
  const { seconds, surface, tiltUm, megabytes } = JSON.parse(stdout);
  say('\nA focus sweep of nine frames of 26 million pixels, one process:');
  for (const [at, each] of seconds.entries()) {
    say(`  ${`frame ${at + 1} at ${SWEEP_UM[at]} μm`.padEnd(44)} ${each.toFixed(2).padStart(10)} s`);
  }
  say(`  ${'the focal surface of all'.padEnd(44)} ${surface.toFixed(2).padStart(10)} s`);
  const all = seconds.reduce((a, b) => a + b, 0) + surface;
  say(
    `  ${'all of it'.padEnd(44)} ${all.toFixed(2).padStart(10)} s   ${megabytes.toFixed(0)} MB at most; tilt ${tiltUm.toFixed(1)} μm of ${SWEEP_TILT_UM} that went in`
  );
}

/** A frame of 61 million pixels in the browser: how long, how much memory, and how long the page stands still. */
export async function measureLargeFrame(browser, url, folder, say) {
  const file = join(folder, 'frame61.fits');
  makeFrame(file, 9576, 6388, 2500);
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const trains = await (await page.request.get(`${url}/api/trains`)).json();
  await page.goto(`${url}/trains/${trains[0].id}/tune`);
  await page.locator('html[data-alive]').waitFor();
  // What is sent over the debugging pipe is bounded; a file that the browser opens itself is not.
  await page.evaluate(() => {
    window.longest = 0;
    let last = performance.now();
    const step = (now) => {
      window.longest = Math.max(window.longest, now - last);
      last = now;
      requestAnimationFrame(step);
    };
    requestAnimationFrame(step);
  });
  const began = performance.now();
  await page.getByLabel('Test frames', { exact: true }).first().setInputFiles(file);
  await page.locator('[data-frame="frame61.fits"][data-state=read]').waitFor({ timeout: 120_000 });
  const took = (performance.now() - began) / 1000;
  const processes = spawnSync('ps', ['-eo', 'rss,args'], { encoding: 'utf8' })
    .stdout.split('\n')
    .filter((line) => /type=renderer/.test(line))
    .map((line) => Number(line.trim().split(/\s+/)[0]) / 1024);
  const longest = await page.evaluate(() => window.longest);
  say(
    `\nA frame of 61 million pixels (${(readFileSync(file).length / 1e6).toFixed(0)} MB) in a worker of the browser:`
  );
  say(`  ${'chosen to judged and shown'.padEnd(44)} ${took.toFixed(2).padStart(10)} s`);
  say(
    `  ${'memory of the page’s process afterwards'.padEnd(44)} ${Math.max(0, ...processes)
      .toFixed(0)
      .padStart(10)} MB`
  );
  say(
    `  ${'longest time between two frames of the page'.padEnd(44)} ${longest.toFixed(1).padStart(10)} ms  one frame at 60 Hz is 16.7`
  );
  await page.close();
}
