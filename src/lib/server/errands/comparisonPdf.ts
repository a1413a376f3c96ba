import { assess } from '@lodestone/core/check';
import { commonScale, layoutOf } from '@lodestone/core/shape';
import { bestOf, compared, rowsByDifference } from '@lodestone/core/compare';
import type { Errand } from './errand.ts';
import { Page } from './page.ts';
import { drawTrain, trainInWords } from './trainPdf.ts';

const DRAWING_HEIGHT = 78;
const FIRST_COLUMN = 130;

type Comparison = Omit<Extract<Errand, { kind: 'comparison' }>, 'kind'>;

/** Trains on one rail, their shoulders under each other, and what there is to compare as a table. */
export function comparisonPdf({ trains, parts, counts, unit }: Comparison) {
  const page = new Page('Comparison', 'landscape');
  page.title('Side by side');
  page.gap(6);
  const drawn = trains.map(({ title, train }) => {
    const assessment = assess(train);
    return { title, train, assessment, layout: layoutOf(train, assessment.ledger) };
  });
  const { maxRadiusMm, ...extent } = commonScale(drawn.map(({ layout }) => layout));
  for (const { title, train, assessment } of drawn) {
    page.room(DRAWING_HEIGHT + 44);
    page.bookmark(title);
    page.say(title, 10, 600, 0, 'H2');
    page.gap(16);
    page.figure(trainInWords(train), () =>
      drawTrain(page.doc, train, {
        left: page.left,
        top: page.y,
        width: page.width,
        height: DRAWING_HEIGHT,
        assessment,
        extent,
        maxRadiusMm
      })
    );
    page.gap(DRAWING_HEIGHT + 14);
  }
  const sides = trains.map(({ train }) => compared(train, parts));
  const each = (page.width - FIRST_COLUMN) / trains.length;
  const widths = [FIRST_COLUMN, ...trains.map(() => each)];
  page.gap(6);
  page.bookmark('What differs');
  page.row(['', ...trains.map(({ title }) => title)], widths, 600);
  const { differ, alike } = rowsByDifference(sides, unit);
  for (const row of [...differ, ...alike]) {
    const best = counts.includes(row.id) ? bestOf(row, sides) : undefined;
    page.row(
      [
        row.title,
        ...sides.map((side, at) => `${row.cell(side, unit) ?? 'not known'}${best === at ? '  (better)' : ''}`)
      ],
      widths
    );
  }
  return page.end();
}
