import { KINDS, isBody, isShim, nameOf, type Element, type ElementKind, type Train } from '../train/model.ts';
import { formatLength } from '../why/wording.ts';
import { mm } from '../why/quantity.ts';
import { atElement, type Check, type Finding } from './finding.ts';

const WHY: Readonly<Partial<Record<ElementKind, string>>> = {
  'adaptive-optics': 'it should move the whole beam, so it goes next to the corrector',
  'off-axis-guider': 'its guide star should reach it unfiltered',
  'tilt-plate': 'it should tilt the camera alone'
};

/** Why one kind usually stands on the sky side of another. */
const reasonFor = (element: Element, ahead: Element): string | undefined =>
  ahead.kind === 'tilt-plate' && element.kind !== 'adaptive-optics' && WHY[element.kind] !== undefined
    ? 'what is tilted should be the camera alone'
    : WHY[element.kind];

/** @param elements those behind the datum: what stands before the corrector has no order among them */
function outOfOrder(elements: readonly Element[]): Finding[] {
  const ranked = elements.filter(({ kind }) => KINDS[kind].order !== undefined);
  return ranked.flatMap((element, index): Finding[] => {
    const ahead = ranked.slice(0, index).find(({ kind }) => KINDS[kind].order! > KINDS[element.kind].order!);
    const why = ahead && reasonFor(element, ahead);
    if (!ahead || !why) return [];
    return [
      {
        code: 'order',
        level: 'warning',
        place: atElement(element.id),
        say: () => `${element.name} usually goes on the sky side of ${ahead.name}: ${why}.`,
        proposals: () => [
          {
            action: () => `Move ${element.name} before ${ahead.name}`,
            sentence: () => `Move ${element.name} to the sky side of ${ahead.name}.`,
            operation: { op: 'move', id: element.id, before: ahead.id }
          }
        ]
      }
    ];
  });
}

const STAR_DIAGONAL = /\bstar[\s-]diagonal\b/i;

/** A star diagonal is known by its key, else by its name. */
export const bends = (element: Element): boolean =>
  isBody(element) && ((element.bendsDeg ?? 0) !== 0 || STAR_DIAGONAL.test(element.name));

function diagonals({ elements }: Train): Finding[] {
  return elements.filter(bends).map((element) => ({
    code: 'star-diagonal',
    level: 'warning',
    place: atElement(element.id),
    say: () => `${element.name} bends the axis: a star diagonal has no place in an imaging train.`,
    proposals: () => [
      {
        action: () => `Remove ${element.name}`,
        sentence: () => `Remove ${element.name}.`,
        operation: { op: 'remove', id: element.id }
      }
    ]
  }));
}

/** Across what a shim is taken to lie where its diameter is not known, mm. */
const USUAL_SHIM_MM = 50;

function wedges({ elements }: Train): Finding[] {
  return elements.filter(isShim).flatMap((shim): Finding[] => {
    const wedgeMm = shim.wedgeMm ?? 0;
    if (wedgeMm === 0) return [];
    const across = shim.outerMm ?? USUAL_SHIM_MM;
    const arcmin = (Math.atan(wedgeMm / across) * 180 * 60) / Math.PI;
    return [
      {
        code: 'shim-wedge',
        level: 'warning',
        place: atElement(shim.id),
        figure: mm(wedgeMm),
        badness: wedgeMm,
        say: (unit) =>
          `${shim.name} has a wedge of ${formatLength(wedgeMm, unit)} across ${formatLength(across, unit, 0)}: it tilts what follows by ${arcmin.toFixed(1)}′.`
      }
    ];
  });
}

/**
 * What practitioners would say about the order of a train: guider ahead of the filters, no diagonal, wedged shims.
 *
 * @see handbook §3, Order that practitioners keep (common practice, no source)
 */
export const partOrder: Check = {
  id: 'part-order',
  title: 'Order of parts',
  fine: () => 'The parts are in a usual order.',
  codes: ['order', 'star-diagonal', 'shim-wedge'],
  find: ({ train, ledger }) => [
    ...outOfOrder(train.elements.slice(ledger.datum.index + 1)),
    ...diagonals(train),
    ...wedges(train)
  ]
};

/** A focuser behind the corrector changes the spacing when it focuses: it has a window to stay in (handbook §3). */
export const focuserBehind: Check = {
  id: 'focuser-behind',
  title: 'Focuser',
  codes: ['focuser-behind-corrector'],
  find: (facts) => {
    const { train, ledger } = facts;
    const { datum } = ledger;
    if (!datum.corrector) return [];
    return train.elements.flatMap(({ id, kind, name }, index): Finding[] => {
      if (kind !== 'focuser' || index <= datum.index) return [];
      const window = facts.focuserWindows.find((each) => each.id === id);
      const behind = `${name} is behind ${nameOf(train, datum.id)}`;
      return [
        {
          code: 'focuser-behind-corrector',
          level: 'warning',
          place: atElement(id),
          say: (unit) => {
            if (!window) return `${behind}: focusing with it changes the spacing.`;
            const { rightMm, fromMm, toMm, inside, setMm } = window;
            const of = (length: number): string => formatLength(length, unit);
            const tolerance = of(ledger.required.toleranceMm ?? 0);
            if (fromMm > toMm) return `${behind}: nowhere on its scale is the spacing within ±${tolerance}.`;
            return `${behind}: at ${of(rightMm)} the spacing is right; between ${of(fromMm)} and ${of(toMm)} it stays inside ±${tolerance}${inside ? '' : `, and it is at ${of(setMm)}`}. Focus with the mirror or the sky-side focuser first, with this one only there.`;
          }
        }
      ];
    });
  }
};
