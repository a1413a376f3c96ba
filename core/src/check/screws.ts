import { screwCircle, type Precedence } from '../joint/hidden.ts';
import { nameOf, type Train } from '../train/model.ts';
import { listed } from '../why/wording.ts';
import { atElement, type Check, type Finding } from './finding.ts';

/** Screws that wait for each other, in words: `screws at Wheel (covered by Camera)`. */
export const circleInWords = (train: Train, circle: readonly Precedence[]): string =>
  listed(
    circle.flatMap(({ because }) =>
      because ? [`the screws at ${nameOf(train, because.id)} (covered by ${nameOf(train, because.hiddenBy)})`] : []
    )
  );

/** Whether there is an order in which every screw can be reached before something covers it. */
export const screws: Check = {
  id: 'screws',
  title: 'Screws',
  stage: 'assemble',
  codes: ['screw-circle'],
  find: ({ train, joints }): Finding[] => {
    const circle = screwCircle(train, joints);
    const [first] = circle?.flatMap(({ because }) => because ?? []) ?? [];
    if (!circle || !first) return [];
    return [
      {
        code: 'screw-circle',
        level: 'error',
        place: atElement(first.id),
        say: () =>
          `No order of assembly reaches every screw: ${circleInWords(train, circle)} wait for each other. Correct what covers which.`
      }
    ];
  }
};
