import { GOOD_TURNS, LEAST_TURNS } from '../joint/engagement.ts';
import { jointName, type Joint } from '../joint/joints.ts';
import { engagement, threadPair } from '../joint/seating.ts';
import { parseThread } from '../joint/thread.ts';
import { findElement, seatOf, type Train } from '../train/model.ts';
import { turns } from '../why/quantity.ts';
import { formatLength } from '../why/wording.ts';
import { atJoint, type Check, type Finding, type Proposal } from './finding.ts';
import { closes } from './mating.ts';

/** Loose shims that hold the thread out can come away. */
function withoutShims(train: Train, joint: Joint): Proposal[] {
  const element = findElement(train, joint.cameraId);
  if (joint.stated || !element || (seatOf(element)?.shimsMm ?? []).length === 0) return [];
  return [
    {
      action: () => 'Take the shims out',
      sentence: () => `Take the loose shims out of ${jointName(train, joint)}.`,
      operation: { op: 'set', at: joint.cameraId, path: ['seat', 'shimsMm'], to: undefined }
    }
  ];
}

function find(train: Train, joint: Joint): Finding | undefined {
  const pair = threadPair(joint.sky, joint.camera);
  const held = engagement(joint);
  const thread = pair && parseThread(pair.male.thread);
  if (!pair || held === undefined || !thread || !closes(joint)) return undefined;
  const engaged = Math.max(held / thread.pitchMm, 0);
  const good = held / thread.pitchMm >= GOOD_TURNS - 1e-9;
  const none = held / thread.pitchMm < LEAST_TURNS - 1e-9;
  const base = {
    place: atJoint(joint),
    figure: turns(engaged),
    limit: turns(none ? LEAST_TURNS : GOOD_TURNS),
    badness: GOOD_TURNS - held / thread.pitchMm
  };
  const between = (): string => jointName(train, joint);
  if (good) {
    return {
      ...base,
      code: 'engagement',
      level: 'passed',
      say: () => `${between()}: ${engaged.toFixed(1)} turns of ${thread.designation} engaged.`
    };
  }
  const reliefMm = pair.female.reliefMm ?? 0;
  if (none) {
    return {
      ...base,
      code: 'engagement-none',
      level: 'error',
      say: (unit) =>
        held <= 0 && reliefMm > 0
          ? `${between()}: the male is too short to cross the plain mouth of ${formatLength(reliefMm, unit)}, so it never reaches the thread. Use one with a longer thread.`
          : `${between()}: only ${engaged.toFixed(1)} turns of ${thread.designation} engaged, less than one. Use a longer thread or thinner shims.`,
      proposals: () => withoutShims(train, joint)
    };
  }
  return {
    ...base,
    code: 'engagement-low',
    level: 'warning',
    say: () =>
      `${between()}: only ${engaged.toFixed(1)} turns of ${thread.designation} engaged; at least ${GOOD_TURNS} recommended.`,
    proposals: () => withoutShims(train, joint)
  };
}

/** How many turns of each thread are engaged: three are wanted, one has to be (handbook §3). */
export const engagementCheck: Check = {
  id: 'engagement',
  stage: 'build',
  codes: ['engagement', 'engagement-low', 'engagement-none'],
  find: ({ train, joints }) => joints.flatMap((joint) => find(train, joint) ?? [])
};
