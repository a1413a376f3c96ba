import { assess } from '@lodestone/core/check';
import { formatLength, formatWithin, type LengthUnit } from '@lodestone/core/why';
import { isSolid, nameOf, type Train } from '@lodestone/core/train';
import type { BuildRecord } from '../../api/records.ts';
import { minuteIn } from '../../api/day.ts';
import { Page } from './page.ts';
import { drawTrain, trainInWords } from './trainPdf.ts';

const DRAWING_HEIGHT = 110;
const PHOTO = { width: 250, height: 170 };

/** Published, measured, and what counts, of every element. */
function partRows(train: Train, unit: LengthUnit): string[][] {
  return train.elements.map((element) => {
    if (!isSolid(element)) return [element.name, '', '', '', ''];
    const { name, partId, copy, lengthMm, measured } = element;
    const number = partId === undefined ? '' : copy === undefined ? partId : `${partId}, copy ${copy}`;
    return [
      name,
      number,
      formatLength(lengthMm, unit),
      measured ? formatLength(measured.lengthMm, unit) : '',
      measured?.instrument ?? ''
    ];
  });
}

/** A record of what was built, with its photos. */
export function recordPdf(
  { document, number, finishedAt, note, revision }: BuildRecord,
  photos: readonly Uint8Array[],
  unit: LengthUnit,
  timeZone: string | undefined
) {
  const page = new Page(`${document.name}, as built`);
  const assessment = assess(document);
  const { ledger } = assessment;
  page.title(`${document.name}, as built`);
  page.say(`Record ${number}, ${minuteIn(finishedAt, timeZone)}, from revision ${revision}`, 10);
  const { totalMm, toleranceMm } = ledger.required;
  page.say(
    totalMm === null || assessment.missing
      ? `${assessment.verdictInWords(unit)}.`
      : `${[assessment.verdictInWords(unit), assessment.chanceInWords].filter((each) => each !== null).join(', ')}. Back focus required ${formatWithin(totalMm, toleranceMm ?? 0, unit)}${ledger.toleranceSource === 'rule' ? ' (tolerance assumed)' : ''} from the shoulder of ${nameOf(document, ledger.datum.id)}.`,
    10,
    600
  );
  if (note !== '') page.say(note, 10);
  page.gap(24);
  page.figure(trainInWords(document), () =>
    drawTrain(page.doc, document, {
      left: page.left,
      top: page.y,
      width: page.width,
      height: DRAWING_HEIGHT,
      assessment
    })
  );
  page.gap(DRAWING_HEIGHT + 24);
  const widths = [190, 90, 75, 75, 85];
  page.bookmark('Parts');
  page.row(['Part', 'Number', 'Published', 'Measured', 'With'], widths, 600);
  for (const row of partRows(document, unit)) page.row(row, widths);
  for (const { from, to, lengthMm } of document.groups ?? []) {
    page.row(
      [`${nameOf(document, from)} to ${nameOf(document, to)}, together`, '', '', formatLength(lengthMm, unit), ''],
      widths
    );
  }
  page.gap(14);
  for (const [index, photo] of photos.entries()) {
    const right = index % 2 === 1;
    if (!right) page.room(PHOTO.height + 10);
    const x = page.left + (right ? PHOTO.width + 12 : 0);
    if (index === 0) page.bookmark('Photos');
    page.figure(`Photo ${index + 1} of ${photos.length} of what was built`, () =>
      page.doc.image(Buffer.from(photo), x, page.y, { fit: [PHOTO.width, PHOTO.height] })
    );
    if (right || index === photos.length - 1) page.gap(PHOTO.height + 10);
  }
  return page.end();
}
