import {
  ASSUMED_CALIPER_MM,
  ASSUMED_SHIM_MM,
  ASSUMED_THREAD_MM,
  ASSUMED_TOLERANCE_MM,
  type Doubt
} from '../doubt/doubts.ts';
import { doubtName } from '../doubt/explain.ts';
import { halfDiagonal } from '../length/backFocus.ts';
import { portInWords } from '../joint/mate.ts';
import { hostPort } from '../train/detachable.ts';
import { HOST, cameraPort, findElement, isShim, nameOf, skyPort, type Port, type Train } from '../train/model.ts';
import { mm } from '../why/quantity.ts';
import { formatTolerance, listedBriefly, type LengthUnit } from '../why/wording.ts';
import { atElement, type Check, type Finding } from './finding.ts';

function lines(train: Train, doubts: readonly Doubt[], unit: LengthUnit): string {
  const isMeasured = ({ shape }: Doubt): boolean => shape === 'normal';
  const isShimOf = ({ id, of }: Doubt): boolean => {
    const element = findElement(train, id);
    return of === 'shims' || (element !== undefined && isShim(element));
  };
  const isThread = ({ of }: Doubt): boolean => of === 'thread';
  const groups: [Doubt[], number, string][] = [
    [
      doubts.filter((each) => !isMeasured(each) && !isShimOf(each) && !isThread(each)),
      ASSUMED_TOLERANCE_MM,
      'tolerance not stated'
    ],
    [doubts.filter(isThread), ASSUMED_THREAD_MM, 'the joint’s length depends on it'],
    [doubts.filter(isShimOf), ASSUMED_SHIM_MM, 'shims without a tolerance'],
    [doubts.filter(isMeasured), ASSUMED_CALIPER_MM, 'measured, uncertainty not stated: ordinary calipers']
  ];
  return groups
    .filter(([each]) => each.length > 0)
    .map(([each, half, why]) => {
      const names = each.map((doubt) =>
        doubt.of === 'shims' || isThread(doubt) ? `the ${doubtName(train, doubt)}` : doubtName(train, doubt)
      );
      return `±${formatTolerance(half, unit)} assumed for ${listedBriefly([...new Set(names)])} (${why})`;
    })
    .join('; ');
}

interface AssumedFace {
  id: string;
  side: 'sky' | 'camera';
  port: Port;
}

/** Faces that nobody has looked at yet, from the sky side on. */
function assumedFaces({ host, elements }: Train): AssumedFace[] {
  const found: AssumedFace[] = [];
  const look = (id: string, side: AssumedFace['side'], port: Port | undefined): void => {
    if (port?.assumed) found.push({ id, side, port });
  };
  look(HOST, 'camera', hostPort(host));
  for (const element of elements) {
    look(element.id, 'sky', skyPort(element));
    look(element.id, 'camera', cameraPort(element));
  }
  return found;
}

/** Faces taken from a neighbour or from what is usual: one line for all. */
export const facesAssumed: Check = {
  id: 'faces-assumed',
  title: 'Faces',
  fine: () => 'Every face was stated by somebody.',
  codes: ['face-assumed'],
  find: ({ train }) => {
    const faces = assumedFaces(train);
    const [first] = faces;
    if (!first) return [];
    return [
      {
        code: 'face-assumed',
        level: 'assumed',
        place: atElement(first.id),
        badness: faces.length,
        say: () =>
          `Assumed until somebody looks: ${listedBriefly(
            faces.map(({ id, side, port }) => `the ${side} face of ${nameOf(train, id)} (${portInWords(port)})`)
          )}.`
      }
    ];
  }
};

/** What is taken for granted about how well lengths are known: one line for all. */
export const assumed: Check = {
  id: 'assumed',
  title: 'Tolerances',
  fine: () => 'Every tolerance is stated or measured.',
  codes: ['tolerance-assumed', 'tolerance-rule-of-thumb'],
  find: ({ train, ledger, doubts }) => {
    const found: Finding[] = [];
    const taken = doubts.filter(({ kind }) => kind === 'assumed');
    const [first] = taken;
    if (first) {
      found.push({
        code: 'tolerance-assumed',
        level: 'assumed',
        place: atElement(first.id),
        badness: taken.length,
        say: (unit) => `${lines(train, taken, unit)}.`
      });
    }
    if (ledger.toleranceSource === 'rule') {
      const toleranceMm = ledger.required.toleranceMm ?? 0;
      found.push({
        code: 'tolerance-rule-of-thumb',
        level: 'assumed',
        place: atElement(ledger.datum.id),
        figure: mm(toleranceMm),
        why: 'length.tolerance',
        say: (unit) =>
          `No tolerance is stated for the back focus; ±${formatTolerance(toleranceMm, unit)} is a rule of thumb for f/${ledger.focalRatio.toFixed(1)}${halfDiagonal(train) === undefined ? '' : ' and this sensor'}.`
      });
    }
    return found;
  }
};
