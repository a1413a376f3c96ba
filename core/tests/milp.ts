import highsLoader from 'highs';
import { measuredOf, type Part } from '../src/drawer/index.ts';
import { engagement, jointsOf, mate, parseThread, threadPair, turnedRound } from '../src/joint/index.ts';
import { isBody, lengthOf, type Port, type Train } from '../src/train/index.ts';
import { ledgerOf } from '../src/length/index.ts';

/**
 * The finder's question as a mixed-integer model for HiGHS, an independent judge: which part stands at which place of
 * each gap, which joint follows which, how many shims of each kind, so that |total − needed| is least. Drawn up from
 * the train and the parts, not from the finder's own tables. Shims may lie in any threaded joint that keeps three
 * turns with all of them in it; instances are made so that this is every joint.
 */
export interface Model {
  text: string;
  /** Lengths are in mm; the objective is the least |residual|, mm. */
  variables: number;
}

interface Way {
  part: Part;
  name: string;
  lengthMm: number;
  sky: Port | undefined;
  camera: Port | undefined;
}

/** Opening of a joint without shims, mm; undefined where it does not close. */
function openingOf(sky: Port | undefined, camera: Port | undefined): number | undefined {
  if (!sky || !camera || mate(sky, camera).joins !== true) return undefined;
  const pair = threadPair(sky, camera);
  const openingMm = pair ? Math.max((pair.male.lengthMm ?? 0) - (pair.female.lengthMm ?? Infinity), 0) : 0;
  const held = engagement(threadPair(sky, camera), openingMm);
  if (pair && held !== undefined && held < parseThread(pair.male.thread)!.pitchMm - 1e-9) return undefined;
  return openingMm;
}

const key = (port: Port | undefined): string => JSON.stringify(port);

/** Writes the model in the LP format. */
export function modelOf(train: Train, parts: readonly Part[], maxPieces: number): Model {
  const ledger = ledgerOf(train);
  const needMm = (ledger.required.totalMm ?? 0) - ledger.actualMm;
  const ways: Way[] = parts.flatMap((part, index): Way[] => {
    const element = { ...part.element, ...(measuredOf(part) ? { measured: measuredOf(part)! } : {}) };
    if (!isBody(element) || part.state === 'set-aside') return [];
    const lengthMm = lengthOf(element);
    const straight = { part, name: `${index}s`, lengthMm, sky: element.sky, camera: element.camera };
    const round = turnedRound(element);
    return element.reversible
      ? [straight, { part, name: `${index}r`, lengthMm, sky: round.sky, camera: round.camera }]
      : [straight];
  });
  const shims = parts.filter(({ element, state }) => element.kind === 'shim' && state !== 'set-aside');

  const total: string[] = [];
  const pieces: string[] = [];
  const usage = new Map<Part, string[]>();
  const rows: string[] = [];
  const binaries: string[] = [];
  const flows: string[] = [];
  const term = (mm: number, name: string): void => {
    if (mm !== 0) total.push(`${mm >= 0 ? '+' : '-'} ${Math.abs(mm)} ${name}`);
  };

  const joints = jointsOf(train);
  const gaps = train.elements.filter(({ kind }) => kind === 'gap');
  gaps.forEach(({ id }, gap) => {
    const above = joints.find(({ cameraId }) => cameraId === id)!.sky;
    const below = joints.find(({ skyId }) => skyId === id)!.camera;
    for (let place = 1; place <= maxPieces; place++) {
      for (const { name, part, lengthMm } of ways) {
        const x = `x${gap}_${place}_${name}`;
        binaries.push(x);
        term(lengthMm, x);
        pieces.push(`+ ${x}`);
        usage.set(part, [...(usage.get(part) ?? []), `+ ${x}`]);
      }
    }
    const outsAt = (place: number): Map<string, { port: Port | undefined; names: string[] }> => {
      const outs = new Map<string, { port: Port | undefined; names: string[] }>();
      if (place === 0) return outs.set(key(above), { port: above, names: [] });
      for (const { name, camera } of ways) {
        const entry = outs.get(key(camera)) ?? { port: camera, names: [] };
        entry.names.push(`x${gap}_${place}_${name}`);
        outs.set(key(camera), entry);
      }
      return outs;
    };
    const ins = new Map<string, { port: Port | undefined; ways: Way[] }>();
    for (const way of ways) {
      const entry = ins.get(key(way.sky)) ?? { port: way.sky, ways: [] };
      entry.ways.push(way);
      ins.set(key(way.sky), entry);
    }
    const faces = [...ins.values()];
    for (let place = 0; place <= maxPieces; place++) {
      [...outsAt(place).values()].forEach(({ port, names }, out) => {
        const leaving: string[] = [];
        faces.forEach((face, into) => {
          const opening = place < maxPieces ? openingOf(port, face.port) : undefined;
          if (opening === undefined) return;
          const j = `j${gap}_${place}_${out}_${into}`;
          flows.push(j);
          term(opening, j);
          leaving.push(j);
        });
        const closing = openingOf(port, below);
        if (closing !== undefined) {
          const c = `c${gap}_${place}_${out}`;
          flows.push(c);
          term(closing, c);
          leaving.push(c);
        }
        const arriving = names.map((name) => `- ${name}`).join(' ');
        if (leaving.length > 0)
          rows.push(`${leaving.map((name) => `+ ${name}`).join(' ')} ${arriving} = ${place === 0 ? 1 : 0}`);
        else if (names.length > 0) rows.push(`${names.map((name) => `+ ${name}`).join(' ')} = 0`);
        else rows.push('never = 1');
      });
      faces.forEach((face, into) => {
        const arriving = flows.filter((name) => name.startsWith(`j${gap}_${place}_`) && name.endsWith(`_${into}`));
        const there = face.ways.map(({ name }) => `- x${gap}_${place + 1}_${name}`).join(' ');
        if (place < maxPieces) rows.push(`${arriving.map((name) => `+ ${name}`).join(' ')} ${there} = 0`);
      });
    }
  });
  shims.forEach((part, index) => {
    const s = `s${index}`;
    term(measuredOf(part)?.lengthMm ?? part.element.lengthMm, s);
    pieces.push(`+ ${s}`);
  });
  for (const [part, names] of usage) rows.push(`${names.join(' ')} <= ${part.quantity}`);
  if (pieces.length > 0) rows.push(`${pieces.join(' ')} <= ${maxPieces}`);
  const sum = total.join(' ');
  rows.push(`R ${sum.replaceAll(/[+-] /g, (sign) => (sign === '+ ' ? '- ' : '+ '))} >= ${-needMm}`);
  rows.push(`R ${sum} >= ${needMm}`);
  const bounds = [
    ...flows.map((name) => `0 <= ${name} <= 1`),
    ...shims.map(({ quantity }, index) => `0 <= s${index} <= ${quantity}`),
    '0 <= never <= 0'
  ];
  /** The format's readers do not care for endless lines. */
  const wrapped = (words: string): string => words.replaceAll(/(.{200,}?) (?=[+-] |[xs]\d)/g, '$1\n ');
  const section = (heading: string, names: readonly string[]): string[] =>
    names.length === 0 ? [] : [heading, wrapped(` ${names.join(' ')}`)];
  const text = [
    'Minimize',
    ' obj: R',
    'Subject To',
    ...rows.map((row, index) => wrapped(` r${index}: ${row}`)),
    'Bounds',
    ...bounds.map((bound) => ` ${bound}`),
    ...section('Binary', binaries),
    ...section(
      'General',
      shims.map((_shim, index) => `s${index}`)
    ),
    'End'
  ].join('\n');
  return { text, variables: binaries.length + flows.length + shims.length };
}

export interface Judgement {
  /** HiGHS has proven its answer. */
  proven: boolean;
  feasible: boolean;
  /** Best found, mm; Infinity where none was. */
  residualMm: number;
  /** No stack has a smaller residual than this, mm. */
  boundMm: number;
  ms: number;
}

const SECONDS = 60;

/** Solves the model with zero gap. */
export async function solveWithHighs({ text }: Model): Promise<Judgement> {
  const highs = await highsLoader();
  const { optimal, infeasible } = highs.constants.modelStatus;
  const began = performance.now();
  return highs.withModel({ format: 'lp', data: text }, (model) => {
    model.options.set({ output_flag: false, mip_rel_gap: 0, mip_abs_gap: 0, time_limit: SECONDS });
    model.run();
    const status = model.getModelStatus();
    return {
      proven: status === optimal || status === infeasible,
      feasible: status !== infeasible,
      residualMm: model.getObjectiveValue(),
      boundMm: Number(model.info.get('mip_dual_bound')),
      ms: performance.now() - began
    };
  });
}
