import { boltStepDeg, onBoltStep } from '../joint/clocking.ts';
import { GOOD_TURNS, LEAST_TURNS } from '../joint/engagement.ts';
import { engagement, jointName, threadPair, type Joint } from '../joint/joints.ts';
import { mate } from '../joint/mate.ts';
import { parseThread } from '../joint/thread.ts';
import { DATUM_WORDS, disagreements, maleLength } from '../length/backFocus.ts';
import { ASSUMED_CALIPER_MM, ASSUMED_TOLERANCE_MM, type Ledger } from '../length/ledger.ts';
import { withinTolerance } from '../length/uncertainty.ts';
import { plainLength } from '../length/wording.ts';
import { HOST, correctorOf, findElement, isSolid, nameOf, seatOf, type Corrector, type Train } from '../train/model.ts';
import { glassBehindFace } from './glassReach.ts';
import { orderAdvice } from './order.ts';

export interface Problem {
  severity: 'error' | 'warning';
  code: string;
  /** Element id, or `host`. A joint's problem is at its camera-side element. */
  at: string;
  message: string;
}

const error = (code: string, at: string, message: string): Problem => ({ severity: 'error', code, at, message });
const warning = (code: string, at: string, message: string): Problem => ({ severity: 'warning', code, at, message });

/** Warnings that only say what was taken for granted. */
export const ASSUMPTION_CODES: ReadonlySet<string> = new Set(['tolerance-assumed', 'tolerance-rule-of-thumb']);

/** Problems of a joint; they are at its camera-side element, but not that element's fault. */
export const JOINT_CODES: ReadonlySet<string> = new Set([
  'thread-diameter',
  'thread-pitch',
  'thread-gender',
  'bayonet',
  'bayonet-gender',
  'bolts',
  'slip',
  'slip-gender',
  'port-kind',
  'port-unknown',
  'engagement-none',
  'engagement-low',
  'bottoms-on-glass',
  'bolt-angle',
  'wobble',
  'slip-fit'
]);

function engagementProblem(joint: Joint, between: () => string): Problem | undefined {
  const held = engagement(joint);
  const thread = joint.sky && 'thread' in joint.sky ? parseThread(joint.sky.thread) : undefined;
  if (held === undefined || !thread) return undefined;
  const turns = held / thread.pitchMm;
  if (turns >= GOOD_TURNS - 1e-9) return undefined;
  const words = `${between()}: ${Math.max(turns, 0).toFixed(1)} turns of ${thread.designation} hold`;
  const reliefMm = threadPair(joint.sky, joint.camera)?.female.reliefMm ?? 0;
  if (held <= 0 && reliefMm > 0) {
    return error(
      'engagement-none',
      joint.cameraId,
      `${between()}: the male is too short to cross the plain mouth of ${plainLength(reliefMm)}, so it never reaches the thread. Use one with a longer thread.`
    );
  }
  if (turns < LEAST_TURNS - 1e-9) {
    return error('engagement-none', joint.cameraId, `${words}, less than one. Use a longer thread or thinner shims.`);
  }
  return warning('engagement-low', joint.cameraId, `${words}; three or more are wanted.`);
}

function glassProblem(train: Train, joint: Joint, between: () => string): Problem | undefined {
  const pair = threadPair(joint.sky, joint.camera);
  if (pair?.female.endsOnGlass && pair.male.lengthMm !== undefined && pair.female.lengthMm !== undefined) {
    const heldOff = joint.stated ? joint.openingMm : joint.shimsMm;
    if (pair.male.lengthMm - heldOff > pair.female.lengthMm + 1e-9) {
      return error(
        'bottoms-on-glass',
        joint.cameraId,
        `${between()}: the thread is ${plainLength(pair.male.lengthMm)} long and the hole ends on glass at ${plainLength(pair.female.lengthMm)}: it would break. Use a shorter thread, or shims of ${plainLength(pair.male.lengthMm - pair.female.lengthMm)} or more.`
      );
    }
  }
  // Where nothing is screwed in, nothing reaches in.
  if (!pair) return undefined;
  const fromSky = maleLength(joint.sky);
  const reach = (fromSky ?? maleLength(joint.camera) ?? 0) - joint.openingMm;
  const clearance =
    fromSky === undefined
      ? glassBehindFace(train.elements[joint.skyIndex], 'camera')
      : glassBehindFace(train.elements[joint.cameraIndex], 'sky');
  if (reach <= clearance) return undefined;
  return error(
    'bottoms-on-glass',
    joint.cameraId,
    `${between()}: the male thread reaches ${plainLength(reach)} in, but glass stands at ${plainLength(clearance)}: it would break. Use a shorter thread or a shim.`
  );
}

function jointProblems(train: Train, joint: Joint): Problem[] {
  if (joint.open) return [];
  // Only a problem needs the words, and most joints have none.
  const between = (): string => jointName(train, joint);
  if (!joint.sky || !joint.camera) {
    const blind = joint.sky ? nameOf(train, joint.cameraId) : nameOf(train, joint.skyId);
    const side = joint.sky ? 'sky side' : 'camera side';
    return [warning('port-unknown', joint.cameraId, `${between()}: not known what ${blind} screws to on its ${side}.`)];
  }
  const mating = mate(joint.sky, joint.camera);
  if (mating.joins === 'unknown') {
    return [warning('port-unknown', joint.cameraId, `${between()}: ${mating.message}.`)];
  }
  if (!mating.joins) return [error(mating.code, joint.cameraId, `${between()}: ${mating.message}.`)];
  return [
    engagementProblem(joint, between),
    glassProblem(train, joint, between),
    wobbleProblem(joint, between),
    turningProblem(train, joint, between)
  ].filter((problem) => problem !== undefined);
}

/** A male that bottoms before the shoulders meet leaves the parts rocking, unless a shim fills the space. */
function wobbleProblem(joint: Joint, between: () => string): Problem | undefined {
  const { bottomingMm, shimsMm, stated } = joint;
  const lockRing = threadPair(joint.sky, joint.camera)?.male.lockRing ?? false;
  if (stated || lockRing || bottomingMm <= shimsMm + 1e-9) return undefined;
  return warning(
    'wobble',
    joint.cameraId,
    `${between()}: the thread bottoms ${plainLength(bottomingMm)} before the shoulders meet, so it may rock. Shims of ${plainLength(bottomingMm)} or more cure it.`
  );
}

/** What a slip fit risks, and a position that a bolt circle does not have. */
function turningProblem(train: Train, joint: Joint, between: () => string): Problem | undefined {
  const port = joint.sky;
  if (port && 'slip' in port) {
    return warning(
      'slip-fit',
      joint.cameraId,
      `${between()}: a slip fit may tilt or slip; use a thread for anything heavy.`
    );
  }
  const element = train.elements[joint.cameraIndex];
  const rotationDeg = element && seatOf(element)?.rotationDeg;
  if (!port || !('bolts' in port) || rotationDeg === undefined || onBoltStep(rotationDeg, port.bolts.count)) {
    return undefined;
  }
  return error(
    'bolt-angle',
    joint.cameraId,
    `${between()}: ${port.bolts.count} bolts allow steps of ${Number(boltStepDeg(port.bolts.count).toFixed(2))}°, so it cannot sit at ${rotationDeg}°.`
  );
}

/** Tuned and published back focus closer than this to a thread's length apart: the datum was probably misread, mm. */
const MISREAD_MM = 0.3;

/** Figures that differ by what the glass shifts, within this: one of them probably allows for the filter, mm. */
const FILTER_MM = 0.08;

/** What two figures so far apart have probably been counted from, in words that end a clause; empty where nothing fits. */
function suspicion({ datum, glass }: Ledger, apartMm: number): string {
  const thread = maleLength(datum.port);
  if (thread !== undefined && thread > MISREAD_MM && Math.abs(apartMm - thread) <= MISREAD_MM) {
    return `, about the male thread's length: one of the two is probably counted from the thread tip`;
  }
  const shiftMm = glass.reduce((sum, term) => sum + term.shiftMm, 0);
  return shiftMm > FILTER_MM && Math.abs(apartMm - shiftMm) <= FILTER_MM
    ? ', about what the glass in the beam shifts: one of the two probably allows for it'
    : '';
}

function disagreementProblems(ledger: Ledger, corrector: Corrector): Problem[] {
  return disagreements(corrector, ledger.datum.port).map(({ figure, apartMm }) => {
    const { source, backFocusMm, datum = 'shoulder' } = figure;
    const apart = Math.abs(apartMm);
    const way = `${plainLength(apart)} ${apartMm > 0 ? 'longer' : 'shorter'}`;
    return warning(
      'published-conflict',
      ledger.datum.id,
      `“${source}” says ${plainLength(backFocusMm)} from ${DATUM_WORDS[datum]}: ${way} than the figure in use${suspicion(ledger, apart)}. Test which holds, and keep it as the tuned value.`
    );
  });
}

function datumProblems(train: Train, ledger: Ledger): Problem[] {
  const { datum, nominal, required } = ledger;
  const { corrector } = datum;
  const found: Problem[] = [];
  if (!corrector || (nominal.source === 'none' && required.tunedMm === null)) {
    found.push(
      warning(
        'no-datum',
        datum.id,
        corrector
          ? `${nameOf(train, datum.id)} states a back focus for other hosts only; none of its table's rows is within 1 % of this one.`
          : 'Nothing in this train states a back focus, so there is nothing to compare the length with.'
      )
    );
  }
  if (ledger.datumUnknown) {
    const what = corrector?.datum === 'thread-tip' ? 'the male thread' : 'the last surface behind the shoulder';
    found.push(
      warning(
        'datum-offset-unknown',
        datum.id,
        `The back focus is counted from the ${corrector?.datum === 'thread-tip' ? 'thread tip' : 'last surface'}, but the length of ${what} is not stated; counted from the shoulder.`
      )
    );
  }
  if (corrector) found.push(...disagreementProblems(ledger, corrector));
  const thread = maleLength(datum.port);
  if (required.tunedMm !== null && required.nominalMm !== null && thread !== undefined && thread > MISREAD_MM) {
    const apart = required.tunedMm - required.nominalMm;
    const suspect = corrector?.datum === 'thread-tip' ? -thread : thread;
    if (corrector?.datum !== 'last-surface' && Math.abs(apart - suspect) <= MISREAD_MM) {
      found.push(
        warning(
          'datum-misread',
          datum.id,
          `The tuned value differs from the published one by ${plainLength(Math.abs(apart))}, about the male thread's length: the published figure is probably counted from the ${corrector?.datum === 'thread-tip' ? 'shoulder' : 'thread tip'}.`
        )
      );
    }
  }
  if (datum.index >= 0 && train.host.corrector) {
    found.push(
      warning(
        'host-corrector-unused',
        HOST,
        `${train.host.name} states a back focus of its own, but ${nameOf(train, datum.id)} stands behind it and sets it.`
      )
    );
  }
  return found;
}

/** On a camera lens too long a train loses infinity, whatever the corners look like (common practice, no source). */
function lensProblems(train: Train, { residualMm, required, datum }: Ledger): Problem[] {
  const { kind, name } = train.host;
  if (
    kind !== 'camera-lens' ||
    datum.id !== HOST ||
    residualMm === null ||
    residualMm < 0 ||
    required.toleranceMm === null
  )
    return [];
  if (withinTolerance(residualMm, required.toleranceMm)) return [];
  return [
    warning(
      'infinity-lost',
      HOST,
      `${name} has its sensor ${plainLength(residualMm)} too far behind it: it may not focus to the stars.`
    )
  ];
}

function hostProblems(train: Train): Problem[] {
  if (!train.host.flatField) return [];
  return train.elements
    .filter((element) => correctorOf(element)?.flattensField)
    .map(({ id, name }) =>
      error(
        'flattener-on-flat-host',
        id,
        `${name} flattens the field, but ${train.host.name} is already flat: it would add curvature. Take it out.`
      )
    );
}

function assumptions(train: Train, ledger: Ledger): Problem[] {
  const found = ledger.doubts
    .filter(({ kind }) => kind === 'assumed')
    .map(({ id }) => {
      const element = findElement(train, id);
      const measured = element && isSolid(element) && element.measured;
      return warning(
        'tolerance-assumed',
        id,
        measured
          ? `${nameOf(train, id)}: its measurement states no uncertainty; ±${ASSUMED_CALIPER_MM} mm (ordinary calipers) is assumed.`
          : `${nameOf(train, id)}: its length states no tolerance; ±${ASSUMED_TOLERANCE_MM} mm is assumed.`
      );
    });
  if (ledger.toleranceSource === 'rule') {
    found.push(
      warning(
        'tolerance-rule-of-thumb',
        ledger.datum.id,
        `No tolerance is stated for the back focus; ±${plainLength(ledger.required.toleranceMm ?? 0)} is a rule of thumb for f/${ledger.focalRatio.toFixed(1)}.`
      )
    );
  }
  return found;
}

/** Everything worth telling about a train, errors first, each in train order. */
export function problemsOf(train: Train, ledger: Ledger): Problem[] {
  const open = train.elements
    .filter(({ kind }) => kind === 'gap')
    .map(({ id, name }) => warning('open', id, `${name}: nothing stands here yet; it counts no length.`));
  const found = [
    ...hostProblems(train),
    ...ledger.joints.flatMap((joint) => jointProblems(train, joint)),
    ...datumProblems(train, ledger),
    ...lensProblems(train, ledger),
    ...orderAdvice(train, ledger),
    ...open,
    ...assumptions(train, ledger)
  ];
  return [
    ...found.filter(({ severity }) => severity === 'error'),
    ...found.filter(({ severity }) => severity === 'warning')
  ];
}
