import { GOOD_TURNS, LEAST_TURNS } from '../joint/engagement.ts';
import { jointName, type Joint } from '../joint/joints.ts';
import { engagement } from '../joint/seating.ts';
import { type Thread } from '../joint/thread.ts';
import { findElement, seatOf, type Train } from '../train/model.ts';
import { turns } from '../why/quantity.ts';
import { formatLength } from '../why/wording.ts';
import { atJoint, ofJoints, type Check, type Finding, type Proposal } from './finding.ts';
import { closes } from './mating.ts';

/** Loose shims that hold the thread out can come away. */
function withoutShims(train: Train, joint: Joint): Proposal[] {
  const element = findElement(train, joint.cameraId);
  if (joint.stated || !element || (seatOf(element)?.shimsMm ?? []).length === 0) return [];
  return [
    {
      action: () => 'Remove the shims',
      sentence: () => `Remove the loose shims from ${jointName(train, joint)}.`,
      operation: { op: 'set', at: joint.cameraId, path: ['seat', 'shimsMm'], to: undefined }
    }
  ];
}

/** What is said of a thread that is hardly engaged, or not at all. */
function tooLittle(train: Train, joint: Joint, held: number, thread: Thread, reliefMm: number): Finding {
  const ratio = held / thread.pitchMm;
  const none = ratio < LEAST_TURNS - 1e-9;
  const engaged = Math.max(ratio, 0);
  const words = `only ${engaged.toFixed(1)} turns of ${thread.designation} engaged`;
  return {
    code: none ? 'engagement-none' : 'engagement-low',
    level: none ? 'error' : 'warning',
    place: atJoint(joint),
    figure: turns(engaged),
    limit: turns(none ? LEAST_TURNS : GOOD_TURNS),
    badness: GOOD_TURNS - ratio,
    say: (unit) => {
      const between = jointName(train, joint);
      if (!none) return `${between}: ${words}; at least ${GOOD_TURNS} recommended.`;
      return held <= 0 && reliefMm > 0
        ? `${between}: the male is too short to cross the plain mouth of ${formatLength(reliefMm, unit)}, so it never reaches the thread. Use one with a longer thread.`
        : `${between}: ${words}, less than one. Use a longer thread or thinner shims.`;
    },
    proposals: () => withoutShims(train, joint)
  };
}

function find(train: Train, joint: Joint): Finding | undefined {
  const { pair, apartMm } = joint;
  const held = engagement(pair, apartMm);
  const thread = pair?.thread;
  if (!pair || held === undefined || !thread || !closes(joint)) return undefined;
  const engaged = held / thread.pitchMm;
  if (engaged < GOOD_TURNS - 1e-9) return tooLittle(train, joint, held, thread, pair.female.reliefMm ?? 0);
  return {
    code: 'engagement',
    level: 'passed',
    place: atJoint(joint),
    figure: turns(engaged),
    limit: turns(GOOD_TURNS),
    say: () => `${jointName(train, joint)}: ${engaged.toFixed(1)} turns of ${thread.designation} engaged.`
  };
}

/** How many turns of each thread are engaged: three are wanted, one has to be (handbook §3). */
export const engagementCheck: Check = {
  id: 'engagement',
  title: 'Thread engagement',
  fine: () => 'Every thread whose length is stated is engaged far enough.',
  codes: ['engagement', 'engagement-low', 'engagement-none'],
  find: (facts) => ofJoints(facts, find)
};
