import { boltPositions, boltStepDeg, onBoltStep } from '../joint/clocking.ts';
import { jointName, type Joint } from '../joint/joints.ts';
import { seatOf, type Train } from '../train/model.ts';
import { atJoint, ofJoints, type Check, type Finding } from './finding.ts';
import { closes } from './mating.ts';

function slipFit(train: Train, joint: Joint): Finding | undefined {
  if (!joint.sky || !('slip' in joint.sky) || !closes(joint)) return undefined;
  return {
    code: 'slip-fit',
    level: 'warning',
    place: atJoint(joint),
    say: () => `${jointName(train, joint)}: a slip fit may tilt or slip; use a thread for anything heavy.`
  };
}

/** A position that a bolt circle does not have. */
function boltAngle(train: Train, joint: Joint): Finding | undefined {
  if (!joint.sky || !('bolts' in joint.sky)) return undefined;
  const element = train.elements[joint.cameraIndex];
  const rotationDeg = element && seatOf(element)?.rotationDeg;
  const count = boltPositions(joint.sky, joint.camera);
  if (count === undefined || rotationDeg === undefined || onBoltStep(rotationDeg, count) || !closes(joint)) {
    return undefined;
  }
  const step = boltStepDeg(count);
  const nearest = Math.round(rotationDeg / step) * step;
  const shown = (deg: number): number => Number(deg.toFixed(2));
  return {
    code: 'bolt-angle',
    level: 'error',
    place: atJoint(joint),
    figure: { value: rotationDeg, unit: '°' },
    badness: Math.abs(rotationDeg - nearest),
    say: () =>
      `${jointName(train, joint)}: ${count} bolts allow steps of ${shown(step)}°, so it cannot sit at ${rotationDeg}°.`,
    proposals: () => [
      {
        action: () => `Turn it to ${shown(nearest)}°`,
        sentence: () => `Turn it to ${shown(nearest)}°, the nearest position its bolts have.`,
        operation: { op: 'set', at: joint.cameraId, path: ['seat', 'rotationDeg'], to: shown(nearest) }
      }
    ]
  };
}

/** How joints may turn: slip fits, bolt circles (handbook §3). */
export const turning: Check = {
  id: 'turning',
  title: 'Slip fits and bolts',
  fine: () => 'Nothing is held by a slip fit, and the bolt circles match.',
  codes: ['slip-fit', 'bolt-angle'],
  find: (facts) => ofJoints(facts, slipFit, boltAngle)
};
