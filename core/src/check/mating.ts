import { jointName, type Joint } from '../joint/joints.ts';
import type { MismatchCode } from '../joint/mate.ts';
import { nameOf, type Train } from '../train/model.ts';
import { atJoint, ofJoints, type Check, type Finding } from './finding.ts';

const MISMATCHES: readonly MismatchCode[] = [
  'thread-diameter',
  'thread-pitch',
  'thread-gender',
  'bayonet',
  'bayonet-gender',
  'bolts',
  'slip',
  'slip-gender',
  'clamp',
  'clamp-gender',
  'port-kind'
];

function find(train: Train, joint: Joint): Finding | undefined {
  if (joint.open) return undefined;
  const place = atJoint(joint);
  if (!joint.sky || !joint.camera) {
    const [blind, side] = joint.sky ? [joint.cameraId, 'sky-side'] : [joint.skyId, 'camera-side'];
    return {
      code: 'port-unknown',
      level: 'not-known',
      place,
      say: () => `${jointName(train, joint)}: the ${side} connection of ${nameOf(train, blind)} is not specified.`
    };
  }
  const joining = joint.mating!;
  if (joining.joins === true) return undefined;
  const { message } = joining;
  return {
    code: joining.joins === 'unknown' ? 'port-unknown' : joining.code,
    level: joining.joins === 'unknown' ? 'not-known' : 'error',
    place,
    say: () => `${jointName(train, joint)}: ${message}.`
  };
}

/** Whether every two neighbours join (handbook §3). */
export const mating: Check = {
  id: 'mating',
  title: 'Joints',
  fine: ({ joints }) => `${joints.filter(({ open }) => !open).length} joints join.`,
  codes: ['port-unknown', ...MISMATCHES],
  find: (facts) => ofJoints(facts, find)
};

/** Whether a joint closes, as far as its faces say. */
export const closes = ({ mating: joining }: Joint): boolean => joining?.joins === true;
