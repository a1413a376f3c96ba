import { isBehindLenses, isCounted, roleOf } from '../length/glassInBeam.ts';
import { glassShift } from '../length/glass.ts';
import {
  findElement,
  glassOf,
  isSolid,
  bareLengthOf,
  nameOf,
  type Element,
  type Glass,
  type Train
} from '../train/model.ts';
import { mm } from '../why/quantity.ts';
import { formatLength, type LengthUnit } from '../why/wording.ts';
import type { Facts } from './facts.ts';
import { atElement, type Check, type Finding } from './finding.ts';

const indexOfPlate = (train: Train, id: string, plate: Glass): number => {
  const element = findElement(train, id);
  return ((element && glassOf(element)) ?? []).indexOf(plate);
};

const inWords = (plate: Glass, unit: LengthUnit): string =>
  `${formatLength(plate.thicknessMm, unit)} ${plate.name ?? 'plate'}`;

/** Plates that are taken as part of a maker's length, where nobody has said so. */
function takenAsCounted({ train, ledger }: Facts): Finding[] {
  if (ledger.required.totalMm === null) return [];
  return ledger.glassCounted
    .filter(({ plate }) => plate.counted === undefined && plate.role === undefined)
    .map(({ id, plate }): Finding => {
      const index = indexOfPlate(train, id, plate);
      const asksMm = glassShift(plate, ledger.rule === 'none' ? 'paraxial' : ledger.rule, ledger.focalRatio);
      return {
        code: 'glass-counted',
        level: 'assumed',
        place: { kind: 'plate', id, index },
        figure: mm(asksMm),
        say: (unit) =>
          `The ${inWords(plate, unit)} in ${nameOf(train, id)} is taken as part of its flange distance; if it is not, ${formatLength(asksMm, unit)} more is required.`
      };
    });
}

/** What the owner has chosen to leave out. */
function leftOut({ ledger }: Facts): Finding[] {
  if (ledger.rule !== 'none' || ledger.glass.length === 0) return [];
  const shiftMm = ledger.glass.reduce((sum, { plate }) => sum + glassShift(plate, 'paraxial', ledger.focalRatio), 0);
  if (shiftMm === 0) return [];
  return [
    {
      code: 'glass-left-out',
      level: 'assumed',
      place: atElement(ledger.glass[0]!.id),
      figure: mm(shiftMm),
      say: (unit) =>
        `Glass in the beam is not counted, as chosen: it would shift the focus by ${formatLength(shiftMm, unit)}.`,
      proposals: () => [
        {
          action: () => 'Count the glass',
          sentence: () => 'Count the focus shift of the glass.',
          operation: { op: 'set', at: 'train', path: ['glassRule'], to: undefined }
        }
      ]
    }
  ];
}

/** Glass of the corrector's own that is taken to lie behind its lenses. */
function inCorrector({ train, ledger }: Facts): Finding[] {
  const element = train.elements[ledger.datum.index];
  if (!element) return [];
  return (glassOf(element) ?? []).flatMap((plate, index): Finding[] =>
    plate.fromSkyMm === undefined &&
    plate.thicknessMm > 0 &&
    !isCounted(element, plate) &&
    isBehindLenses(element, plate)
      ? [
          {
            code: 'glass-behind-lenses',
            level: 'assumed',
            place: { kind: 'plate', id: element.id, index },
            say: (unit) =>
              `The ${inWords(plate, unit)} in ${element.name} is assumed behind its lenses, as in a rear filter thread. State its place if it is elsewhere.`
          }
        ]
      : []
  );
}

/** Holders that stand in the beam together with glass in both. */
function twoHolders({ train, ledger }: Facts): Finding[] {
  const behind = [...ledger.designSlots].filter(
    ([id]) => train.elements.findIndex((element) => element.id === id) >= ledger.datum.index
  );
  if (behind.length < 2) return [];
  const filled = behind.filter(([id, slot]) => {
    const element = findElement(train, id);
    return (element ? (glassOf(element) ?? []) : []).some((plate) => plate.slot === slot && plate.thicknessMm > 0);
  });
  const [first, second] = filled;
  if (!first || !second) return [];
  const emptySlot = ([id]: [string, number]): number | undefined => {
    const plates = glassOf(findElement(train, id)!) ?? [];
    return plates.find(
      ({ slot }) => slot !== undefined && plates.every((plate) => plate.slot !== slot || plate.thicknessMm === 0)
    )?.slot;
  };
  return [
    {
      code: 'two-holders',
      level: 'warning',
      place: atElement(second[0]),
      say: () =>
        `${nameOf(train, first[0])} and ${nameOf(train, second[0])} both have a filter in the beam, and both are counted. If only one is used at a time, set the other to an empty place.`,
      proposals: () =>
        [second, first].flatMap((holder) => {
          const slot = emptySlot(holder);
          return slot === undefined
            ? []
            : [
                {
                  action: () => `Leave ${nameOf(train, holder[0])} empty`,
                  sentence: () => `Calculate with the empty slot ${slot} of ${nameOf(train, holder[0])} in the beam.`,
                  operation: { op: 'set', at: holder[0], path: ['designSlot'], to: slot } as const
                }
              ];
        })
    }
  ];
}

/** A plate that is said to stand where its element is not. */
const sticksOut = (element: Element, { fromSkyMm, thicknessMm, role }: Glass): boolean =>
  isSolid(element) &&
  role !== 'window' &&
  fromSkyMm !== undefined &&
  (fromSkyMm + thicknessMm > bareLengthOf(element) + 1e-6 || fromSkyMm < -1e-6) &&
  // A clip-in has no length of its own: it stands inside its neighbour.
  bareLengthOf(element) > 0;

function outside({ train }: Facts): Finding[] {
  const found: Finding[] = [];
  for (const element of train.elements) {
    glassOf(element)?.forEach((plate, index) => {
      if (!sticksOut(element, plate) || roleOf(element, plate) !== 'filter') return;
      found.push({
        code: 'glass-outside',
        level: 'warning',
        place: { kind: 'plate', id: element.id, index },
        say: (unit) =>
          `The ${inWords(plate, unit)} of ${element.name} is stated ${formatLength(plate.fromSkyMm ?? 0, unit)} behind its sky face, which is outside it. Measure it again.`
      });
    });
  }
  return found;
}

/** What is taken for granted about the glass in the beam, and what cannot be (handbook §2). */
export const glass: Check = {
  id: 'glass',
  title: 'Glass',
  fine: ({ ledger }) => (ledger.glass.length > 0 ? 'All glass behind the corrector is counted, and once.' : undefined),
  codes: ['glass-counted', 'glass-left-out', 'glass-behind-lenses', 'two-holders', 'glass-outside'],
  find: (facts) => [
    ...outside(facts),
    ...twoHolders(facts),
    ...inCorrector(facts),
    ...takenAsCounted(facts),
    ...leftOut(facts)
  ]
};
