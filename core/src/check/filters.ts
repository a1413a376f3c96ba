import { sameName } from '../joint/names.ts';
import { glassOf, isBody, type Element, type Glass, type Train } from '../train/model.ts';
import { formatLength } from '../why/wording.ts';
import type { Check, Finding } from './finding.ts';

const nameOf = ({ name, slot }: Glass): string =>
  name ?? (slot === undefined ? 'the filter' : `the filter in slot ${slot}`);

/** What of one holder its filters do not go with. */
function misfits(element: Element): Finding[] {
  const holder = isBody(element) ? element.holder : undefined;
  if (!holder) return [];
  const { slots, format, thickestMm, keepEmpty = [] } = holder;
  return (glassOf(element) ?? []).flatMap((plate, index): Finding[] => {
    if (plate.thicknessMm === 0) return [];
    const place = { kind: 'plate', id: element.id, index } as const;
    const found: Finding[] = [];
    const { slot } = plate;
    if (slots !== undefined && slot !== undefined && slot > slots) {
      found.push({
        code: 'slot-beyond',
        level: 'error',
        place,
        say: () => `${nameOf(plate)} belongs in slot ${slot}, and ${element.name} has ${slots}.`
      });
    }
    if (format !== undefined && plate.format !== undefined && !sameName(format, plate.format)) {
      found.push({
        code: 'filter-format',
        level: 'error',
        place,
        say: () => `${nameOf(plate)} is ${plate.format}, and ${element.name} takes ${format}.`
      });
    }
    if (thickestMm !== undefined && plate.thicknessMm > thickestMm + 1e-9) {
      found.push({
        code: 'filter-thick',
        level: 'error',
        place,
        say: (unit) =>
          `${nameOf(plate)} is ${formatLength(plate.thicknessMm, unit)} thick, and ${element.name} takes ${formatLength(thickestMm, unit)} at the most.`
      });
    }
    if (slot !== undefined && keepEmpty.includes(slot)) {
      found.push({
        code: 'slot-kept-empty',
        level: 'warning',
        place,
        say: () => `Slot ${slot} of ${element.name} must stay empty, and ${nameOf(plate)} is in it.`
      });
    }
    return found;
  });
}

/** Filters that stand in two places at once: there is one of each number. */
function twice(train: Train): Finding[] {
  const seen = new Map<string, string>();
  return train.elements.flatMap((element) =>
    (glassOf(element) ?? []).flatMap((plate, index): Finding[] => {
      const { partId } = plate;
      if (partId === undefined) return [];
      const before = seen.get(partId);
      const here = plate.slot === undefined ? element.name : `slot ${plate.slot} of ${element.name}`;
      if (before === undefined) {
        seen.set(partId, here);
        return [];
      }
      return [
        {
          code: 'filter-twice',
          level: 'error',
          place: { kind: 'plate', id: element.id, index },
          say: () => `${partId} is in ${before} and in ${here}, and there is only one.`
        }
      ];
    })
  );
}

/** Filters and what holds them (handbook §8). */
export const filtersCheck: Check = {
  id: 'filters',
  title: 'Filters in their holder',
  codes: ['slot-beyond', 'filter-format', 'filter-thick', 'slot-kept-empty', 'filter-twice'],
  fine: ({ train }) =>
    train.elements.some((element) => isBody(element) && element.holder)
      ? 'Every filter goes into its holder, as far as formats are stated.'
      : undefined,
  find: ({ train }) => [...train.elements.flatMap(misfits), ...twice(train)]
};
