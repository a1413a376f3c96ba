import { glassBehindFace } from '../joint/glassReach.ts';
import { jointName, type Joint } from '../joint/joints.ts';
import { findElement, nameOf, seatOf, type Train } from '../train/model.ts';
import { mm } from '../why/quantity.ts';
import { formatLength } from '../why/wording.ts';
import { atJoint, ofJoints, type Check, type Finding, type Proposal } from './finding.ts';
import { closes } from './mating.ts';

/** Shims that keep the thread off the glass: what is missing, on top of what lies there. */
function heldOff(train: Train, joint: Joint, byMm: number): Proposal[] {
  const element = findElement(train, joint.cameraId);
  if (joint.stated || !element) return [];
  // To the hundredth, on the safe side: what a shim is sold in.
  const shimMm = Math.ceil(byMm * 100 - 1e-9) / 100;
  const shims = [...(seatOf(element)?.shimsMm ?? []), shimMm];
  return [
    {
      action: (unit) => `Put shims of ${formatLength(shimMm, unit)} in`,
      sentence: (unit) => `Put shims of ${formatLength(shimMm, unit)} between ${jointName(train, joint)}.`,
      operation: { op: 'set', at: joint.cameraId, path: ['seat', 'shimsMm'], to: shims }
    }
  ];
}

/** The thread goes deeper than the hole, and the hole ends on glass. */
function endsOnGlass(train: Train, joint: Joint): Finding | undefined {
  const { pair } = joint;
  if (!pair?.female.endsOnGlass) return undefined;
  const [long, deep] = [pair.male.lengthMm, pair.female.lengthMm];
  if (long === undefined || deep === undefined) return undefined;
  const heldMm = joint.stated ? joint.openingMm : joint.shimsMm;
  const overMm = long - heldMm - deep;
  if (overMm <= 1e-9) return undefined;
  return {
    code: 'bottoms-on-glass',
    level: 'error',
    place: atJoint(joint),
    figure: mm(long - heldMm),
    limit: mm(deep),
    badness: overMm,
    say: (unit) =>
      `${jointName(train, joint)}: the thread is ${formatLength(long, unit)} long and the bore ends on glass at ${formatLength(deep, unit)}: it would break. Use a shorter thread, or shims of ${formatLength(long - deep, unit)} or more.`,
    proposals: () => heldOff(train, joint, overMm)
  };
}

/** A plate stands nearer behind the face than the thread reaches. */
function reachesGlass(train: Train, joint: Joint): Finding | undefined {
  const { pair } = joint;
  // Where nothing is screwed in, nothing reaches in.
  if (!pair || pair.male.lengthMm === undefined) return undefined;
  const downward = pair.male === joint.sky;
  const reachMm = pair.male.lengthMm - joint.apartMm;
  const clearanceMm = downward
    ? glassBehindFace(train.elements[joint.cameraIndex], 'sky')
    : glassBehindFace(train.elements[joint.skyIndex], 'camera');
  const overMm = reachMm - clearanceMm;
  if (!(overMm > 1e-9)) return undefined;
  return {
    code: 'bottoms-on-glass',
    level: 'error',
    place: atJoint(joint),
    figure: mm(reachMm),
    limit: mm(clearanceMm),
    badness: overMm,
    say: (unit) =>
      `${jointName(train, joint)}: the male thread reaches ${formatLength(reachMm, unit)} in, but there is glass at ${formatLength(clearanceMm, unit)}: it would break. Use a shorter thread or a shim.`,
    proposals: () => heldOff(train, joint, joint.openingMm - joint.shimsMm + overMm)
  };
}

/** The thread meets glass where it is screwed in. */
const intoGlass = (train: Train, joint: Joint): Finding | undefined =>
  closes(joint) ? (endsOnGlass(train, joint) ?? reachesGlass(train, joint)) : undefined;

/** The thread comes out behind a through bore, and may reach what stands there. */
function comesOut(train: Train, joint: Joint): Finding | undefined {
  if (!joint.emerges || !closes(joint)) return undefined;
  const { mm: outMm, towardIndex } = joint.emerges;
  const beyond = train.elements[towardIndex];
  const face = towardIndex > joint.cameraIndex ? 'sky' : 'camera';
  const clearanceMm = glassBehindFace(beyond, face);
  const breaks = outMm > clearanceMm + 1e-9;
  const behind = beyond ? beyond.name : train.host.name;
  const bored = nameOf(train, face === 'sky' ? joint.cameraId : joint.skyId);
  return {
    code: breaks ? 'bottoms-on-glass' : 'male-emerges',
    level: breaks ? 'error' : 'warning',
    place: atJoint(joint),
    figure: mm(outMm),
    ...(breaks ? { limit: mm(clearanceMm) } : {}),
    badness: breaks ? outMm - clearanceMm : outMm,
    say: (unit) =>
      breaks
        ? `${jointName(train, joint)}: the thread comes out ${formatLength(outMm, unit)} behind ${bored}, and ${behind} has glass at ${formatLength(clearanceMm, unit)}: it would break. Use a shorter thread or a shim.`
        : `${jointName(train, joint)}: the thread is longer than the through bore and comes out ${formatLength(outMm, unit)} behind ${bored}: look whether ${behind} leaves it room.`,
    proposals: () => heldOff(train, joint, joint.openingMm - joint.shimsMm + (breaks ? outMm - clearanceMm : outMm))
  };
}

/** Whether a male thread meets glass, in its own hole, behind a face, or out of a through bore. */
export const glassReach: Check = {
  id: 'glass-reach',
  title: 'Threads and glass',
  fine: () => 'No thread reaches glass, as far as lengths are stated.',
  codes: ['bottoms-on-glass', 'male-emerges'],
  find: (facts) => ofJoints(facts, intoGlass, comesOut)
};
