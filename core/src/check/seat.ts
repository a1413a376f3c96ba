import { bodyWidth, jointName, type Joint } from '../joint/joints.ts';
import { KINDS, isSolid, lengthOf, nameOf, type Train } from '../train/model.ts';
import { mm } from '../why/quantity.ts';
import { formatLength } from '../why/wording.ts';
import type { Facts } from './facts.ts';
import { atElement, atJoint, ofJoints, type Check, type Finding } from './finding.ts';

/** A male that bottoms before the shoulders meet leaves the parts rocking, unless a shim fills the space. */
function wobble(train: Train, joint: Joint): Finding | undefined {
  const { bottomingMm, shimsMm, stated, open } = joint;
  if (stated || joint.pair?.male.lockRing || open || bottomingMm <= shimsMm + 1e-9) return undefined;
  return {
    code: 'wobble',
    level: 'warning',
    place: atJoint(joint),
    figure: mm(bottomingMm),
    badness: bottomingMm - shimsMm,
    say: (unit) =>
      `${jointName(train, joint)}: the thread bottoms out and leaves the shoulders ${formatLength(bottomingMm, unit)} apart; the joint can rock. Use a deeper female, or fill the ${formatLength(bottomingMm, unit)} with shims.`,
    proposals: () => [
      {
        action: (unit) => `Fill it with ${formatLength(bottomingMm, unit)} of shims`,
        sentence: (unit) =>
          `Fill the ${formatLength(bottomingMm, unit)} between ${jointName(train, joint)} with shims: as long as before, and firm.`,
        operation: {
          op: 'set',
          at: joint.cameraId,
          path: ['seat', 'shimsMm'],
          to: [Number((bottomingMm - joint.shimElements.reduce((sum, shim) => sum + lengthOf(shim), 0)).toFixed(6))]
        },
        keepsLength: true
      }
    ]
  };
}

/** The part whose bore a ring sinks into. */
const boreOwner = ({ pair, sky, skyId, cameraId }: Joint): string => (pair?.female === sky ? skyId : cameraId);

/** A ring that sinks without anybody having said how wide it is: by its threads it may. */
function bodyAssumed(train: Train, joint: Joint): Finding | undefined {
  const { pair, sky, skyIndex, cameraIndex, open, recessTyped } = joint;
  const ring = train.elements[pair?.male === sky ? skyIndex : cameraIndex];
  if (!pair?.sinks || pair.neverMeet || open || recessTyped || !ring || !isSolid(ring)) return undefined;
  if (ring.outerMm !== undefined || KINDS[ring.kind].ring) return undefined;
  return {
    code: 'body-assumed',
    level: 'assumed',
    place: atJoint(joint),
    fill: ['outerMm'],
    say: () =>
      `${ring.name} is taken to be no wider than its threads, so that it goes into ${nameOf(train, boreOwner(joint))}. State its outer diameter.`
  };
}

/** A body that is told to be narrower than a thread it carries: what is typed contradicts itself. */
function narrowBodies({ train }: Facts): Finding[] {
  const found: Finding[] = [];
  for (const element of train.elements) {
    if (!isSolid(element) || element.outerMm === undefined) continue;
    const { id, name, outerMm } = element;
    const widthMm = bodyWidth(element) ?? outerMm;
    if (widthMm <= outerMm) continue;
    found.push({
      code: 'body-narrow',
      level: 'assumed',
      place: atElement(id),
      fill: ['outerMm'],
      figure: mm(outerMm),
      say: (unit) =>
        `${name} has a stated outer diameter of ${formatLength(outerMm, unit)} and a thread of ${formatLength(widthMm, unit)}: it is drawn as wide as the thread. Correct its outer diameter.`
    });
  }
  return found;
}

/** A ring sinks into a bore whose depth nobody has said. */
function seatUnknown(train: Train, joint: Joint): Finding | undefined {
  if (joint.open || joint.sunkMm !== undefined || joint.recessTyped) return undefined;
  return {
    code: 'seat-unknown',
    level: 'not-known',
    place: atJoint(joint),
    say: () =>
      `${jointName(train, joint)}: a ring without a shoulder sinks to the bottom of its bore. State how deep the bore of ${nameOf(train, boreOwner(joint))} is: counted as 0 mm until then.`
  };
}

/** A recess that is typed stands against, or without, what the threads say. */
function recessTyped(train: Train, joint: Joint): Finding | undefined {
  if (!joint.recessTyped || joint.open) return undefined;
  const { recessMm, sunkMm } = joint;
  const element = train.elements[joint.cameraIndex]!;
  const above = train.elements[joint.skyIndex];
  const lengthMm = isSolid(element) ? lengthOf(element) : Infinity;
  const roomMm = above && isSolid(above) ? lengthOf(above) : Infinity;
  // Only a ring without a shoulder goes wholly into its neighbour.
  const mostMm = sunkMm === 0 ? Math.min(lengthMm, roomMm) : roomMm;
  if (recessMm > mostMm + 1e-9) {
    return {
      code: 'recess-impossible',
      level: 'warning',
      place: atJoint(joint),
      figure: mm(recessMm),
      limit: mm(mostMm),
      say: (unit) =>
        `${jointName(train, joint)}: a recess of ${formatLength(recessMm, unit)} is more than there is room for (${formatLength(mostMm, unit)}). Measure it again.`
    };
  }
  if (recessMm === 0 && (sunkMm ?? 0) === 0) return undefined;
  const says = sunkMm === undefined || sunkMm === 0 ? undefined : sunkMm;
  if (says !== undefined && Math.abs(says - recessMm) < 1e-6) return undefined;
  return {
    code: 'recess-typed',
    level: says === undefined ? 'assumed' : 'warning',
    place: atJoint(joint),
    figure: mm(recessMm),
    say: (unit) =>
      says === undefined
        ? `${nameOf(train, joint.cameraId)} is taken to sit ${formatLength(recessMm, unit)} inside ${nameOf(train, joint.skyId)}, as typed.`
        : `${jointName(train, joint)}: a recess of ${formatLength(recessMm, unit)} is typed, but by its threads it sinks ${formatLength(says, unit)}. The typed one counts.`
  };
}

/** A measured opening that the shims or the thread do not allow. */
function openingImpossible(train: Train, joint: Joint): Finding | undefined {
  if (!joint.stated || joint.open) return undefined;
  const leastMm = Math.max(joint.bottomingMm, joint.shimsMm);
  if (joint.openingMm >= leastMm - 1e-6) return undefined;
  const because =
    joint.bottomingMm >= joint.shimsMm ? 'the thread bottoms out before that' : 'its shims are thicker than that';
  return {
    code: 'opening-impossible',
    level: 'warning',
    place: atJoint(joint),
    figure: mm(joint.openingMm),
    limit: mm(leastMm),
    badness: leastMm - joint.openingMm,
    say: (unit) =>
      `${jointName(train, joint)}: an opening of ${formatLength(joint.openingMm, unit)} was measured, but it cannot be under ${formatLength(leastMm, unit)}: ${because}. Measure it again.`,
    proposals: () => [
      {
        action: () => 'Forget the measured opening',
        sentence: () => `Calculate the opening of ${jointName(train, joint)} from its threads and shims.`,
        operation: { op: 'set', at: joint.cameraId, path: ['seat', 'gapMm'], to: undefined }
      }
    ]
  };
}

/** How parts sit on and in each other (handbook §3, Seats follow from geometry). */
export const seat: Check = {
  id: 'seat',
  title: 'Seats',
  fine: () => 'Every part seats on a shoulder.',
  codes: [
    'wobble',
    'seat-unknown',
    'body-assumed',
    'body-narrow',
    'recess-typed',
    'recess-impossible',
    'opening-impossible'
  ],
  find: (facts) => [
    ...ofJoints(facts, wobble, seatUnknown, bodyAssumed, recessTyped, openingImpossible),
    ...narrowBodies(facts)
  ]
};
