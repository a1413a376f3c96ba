import type { Ledger } from '../length/ledger.ts';
import { isBody, isShim, nameOf, type Element, type ElementKind, type Train } from '../train/model.ts';
import type { Problem } from './problems.ts';

/**
 * Place in the order practitioners keep: corrector, adaptive optics, off-axis guider, filters, tilt plate,
 * camera. Kinds that stand anywhere have none (common practice, no source).
 */
const RANK: Readonly<Partial<Record<ElementKind, number>>> = {
  corrector: 0,
  'adaptive-optics': 1,
  'off-axis-guider': 2,
  'filter-wheel': 3,
  'filter-drawer': 3,
  filter: 3,
  'tilt-plate': 4,
  camera: 5
};

const WHY: Readonly<Partial<Record<ElementKind, string>>> = {
  'adaptive-optics': 'it should move the whole beam, so it stands next to the corrector',
  'off-axis-guider': 'its guide star should reach it unfiltered',
  'tilt-plate': 'it should tilt the camera alone'
};

const advice = (code: string, at: string, message: string): Problem => ({ severity: 'warning', code, at, message });

/** Why one kind usually stands on the sky side of another. */
const reasonFor = (element: Element, ahead: Element): string | undefined =>
  ahead.kind === 'tilt-plate' && element.kind !== 'adaptive-optics' && WHY[element.kind] !== undefined
    ? 'what is tilted should be the camera alone'
    : WHY[element.kind];

/** @param elements those behind the datum: what stands before the corrector has no order among them */
function outOfOrder(elements: readonly Element[]): Problem[] {
  const ranked = elements.filter(({ kind }) => RANK[kind] !== undefined);
  return ranked.flatMap((element, index) => {
    const ahead = ranked.slice(0, index).find(({ kind }) => RANK[kind]! > RANK[element.kind]!);
    const why = ahead && reasonFor(element, ahead);
    return ahead && why
      ? [advice('order', element.id, `${element.name} usually stands on the sky side of ${ahead.name}: ${why}.`)]
      : [];
  });
}

/** A star diagonal is known by its key, else by its name. */
const bends = (element: Element): boolean =>
  isBody(element) && ((element.bendsDeg ?? 0) !== 0 || /\bstar[\s-]diagonal\b/i.test(element.name));

/**
 * What practitioners would say about the order of a train: guider ahead of the filters, no diagonal, no focuser
 * behind the corrector, wedged shims.
 *
 * @see handbook §3, Order that practitioners keep (common practice, no source)
 */
export function orderAdvice(train: Train, { datum }: Ledger): Problem[] {
  const { elements } = train;
  const behindCorrector = (index: number): boolean => datum.corrector !== undefined && index > datum.index;
  return [
    ...outOfOrder(elements.slice(datum.index + 1)),
    ...elements.flatMap((element, index) => {
      if (bends(element)) {
        return [
          advice(
            'star-diagonal',
            element.id,
            `${element.name} bends the axis: a star diagonal has no place in an imaging train.`
          )
        ];
      }
      if (element.kind === 'focuser' && behindCorrector(index)) {
        return [
          advice(
            'focuser-behind-corrector',
            element.id,
            `${element.name} stands behind ${nameOf(train, datum.id)}: focusing with it changes the spacing.`
          )
        ];
      }
      if (isShim(element) && element.wedgeMm) {
        const across = element.outerMm ?? 50;
        const arcmin = (Math.atan(element.wedgeMm / across) * 180 * 60) / Math.PI;
        return [
          advice(
            'shim-wedge',
            element.id,
            `${element.name} is uneven by ${element.wedgeMm} over ${across} mm: it tilts what follows by ${arcmin.toFixed(1)}′.`
          )
        ];
      }
      return [];
    })
  ];
}
