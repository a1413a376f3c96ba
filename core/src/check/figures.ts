import { otherFigures, type OtherFigure } from '../length/figures.ts';
import { glassOf, isSolid } from '../train/model.ts';
import { mm } from '../why/quantity.ts';
import { formatLength } from '../why/wording.ts';
import { atElement, type Check, type Finding } from './finding.ts';

/** Two figures for one thing, at most this often a train: a list says no more. */
const MOST_TOLD = 12;

const told = (
  id: string,
  what: string,
  inUseMm: number,
  { source, lengthMm, apartMm, isInch }: OtherFigure
): Finding => ({
  code: 'figures-differ',
  level: 'warning',
  place: atElement(id),
  figure: mm(Math.abs(apartMm)),
  say: (unit) =>
    isInch
      ? `“${source}” states ${formatLength(lengthMm, unit)} for ${what}, and ${formatLength(inUseMm, unit)} is in use: 25.4 times. One of the two is in inches. Measure it.`
      : `“${source}” states ${formatLength(lengthMm, unit)} for ${what}, ${formatLength(Math.abs(apartMm), unit)} ${apartMm > 0 ? 'more' : 'less'} than the ${formatLength(inUseMm, unit)} in use. Measure it: until then either may be true.`
});

/** Whether what is published of one length or thickness agrees, while nobody has measured it. */
export const figuresCheck: Check = {
  id: 'figures',
  title: 'Published figures that differ',
  codes: ['figures-differ'],
  find: ({ train: { elements } }) =>
    elements
      .filter(isSolid)
      .flatMap((element): Finding[] => {
        const { id, name, lengthMm, toleranceMm, measured, published } = element;
        return [
          ...(measured ? [] : otherFigures(lengthMm, published, toleranceMm)).map((figure) =>
            told(id, `the length of ${name}`, lengthMm, figure)
          ),
          ...(glassOf(element) ?? []).flatMap((plate) =>
            otherFigures(plate.thicknessMm, plate.published, plate.toleranceMm).map((figure) =>
              told(id, `the thickness of ${plate.name ?? `the glass in ${name}`}`, plate.thicknessMm, figure)
            )
          )
        ];
      })
      .slice(0, MOST_TOLD)
};
