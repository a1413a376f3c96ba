import { KINDS, cameraPort, isSolid, lengthOf, nameOf, skyPort, type Train } from '@lodestone/core/train';
import { assess } from '@lodestone/core/check';
import { formatLength, formatWithin, type LengthUnit } from '@lodestone/core/why';
import { portInWords } from '@lodestone/core/joint';
import { line } from './pdf.ts';
import { decoration, newPdf, type Piece } from './structure.ts';
import { drawTrain, trainInWords } from './trainPdf.ts';

const MARGIN = 40;
const ROW = 15;
/** Room kept at the foot of a page, points. */
const FOOT = 60;
const DRAWING = { top: 152, height: 110 };

/** A sheet for a shop: the train to scale, part by part, what is to be bought, and what it comes to. */
export function checkSheet(train: Train, buy: readonly string[], unit: LengthUnit): Promise<Uint8Array> {
  const assessment = assess(train);
  const { report, ledger } = assessment;
  const { doc, finished, root } = newPdf(`Please check: ${train.name}`, { size: 'A4' });
  const width = doc.page.width - 2 * MARGIN;
  const put = (piece: Piece, text: string, y: number, size = 9.5, weight: 400 | 600 = 400, x = MARGIN, most = width) =>
    piece.draw(() => {
      doc.fillColor('#000000');
      line(doc, text, x, y, size, weight, most);
    });
  const say = (text: string, y: number, size?: number, weight?: 400 | 600): void =>
    put(root.within('P'), text, y, size, weight);
  const { required } = report;

  put(root.within('H1'), 'Please check this train before I buy', MARGIN, 17, 600);
  say(
    `${train.name}: ${train.host.name}, ${train.host.apertureMm} mm aperture, ${train.host.focalLengthMm} mm focal length`,
    66,
    10
  );
  const { totalMm, toleranceMm, glassMm } = required;
  const corrector = nameOf(train, ledger.datum.id);
  const asks =
    totalMm === null
      ? assessment.missing === 'back-focus'
        ? `The back focus of ${corrector} is not known.`
        : 'No back focus required.'
      : `${corrector} requires ${formatWithin(totalMm, toleranceMm ?? 0, unit)}${ledger.toleranceSource === 'rule' ? ' (tolerance assumed)' : ''} from its shoulder to the sensor.`;
  say(asks, 82, 10);
  if (glassMm) say(`${formatLength(glassMm, unit)} of that allows for the glass in the beam.`, 96, 10);
  const told = assessment.verdictInWords(unit).toLowerCase();
  say(`As planned: ${formatLength(report.actual.totalMm, unit)}: ${told}.`, 112, 10, 600);

  root
    .within('Figure', trainInWords(train))
    .draw(() => drawTrain(doc, train, { ...DRAWING, left: MARGIN, width, heavy: buy, assessment }));

  const columns = [MARGIN, MARGIN + 20, MARGIN + 210, MARGIN + 270, MARGIN + 395] as const;
  let y = DRAWING.top + DRAWING.height + 26;
  doc.outline.addItem('Parts');
  const table = root.within('Table');
  const headings = table.within('TR');
  ['', 'Part', 'Length', 'Sky face', 'Camera face'].forEach((heading, index) =>
    put(headings.within('TH'), heading, y, 8.5, 600, columns[index]!, 120)
  );
  y += ROW;
  train.elements.forEach((element, index) => {
    if (y > doc.page.height - FOOT) {
      doc.addPage();
      y = MARGIN;
    }
    const bought = 'partId' in element && element.partId !== undefined && buy.includes(element.partId);
    const faces = [skyPort(element), cameraPort(element)].map((port) => (port ? portInWords(port) : ''));
    decoration(doc, () =>
      doc
        .lineWidth(0.3)
        .strokeColor('#999999')
        .moveTo(MARGIN, y - 3)
        .lineTo(MARGIN + width, y - 3)
        .stroke()
    );
    const row = table.within('TR');
    const cell = (
      ...words: [text: string, y: number, size: number, weight: 400 | 600, x: number, most: number]
    ): void => put(row.within('TD'), ...words);
    cell(String(index + 1), y, 8.5, 400, columns[0], 18);
    cell(
      `${bought ? 'TO BUY: ' : ''}${element.name}${element.name.toLowerCase().includes(KINDS[element.kind].words) ? '' : `, ${KINDS[element.kind].words}`}`,
      y,
      8.5,
      bought ? 600 : 400,
      columns[1],
      184
    );
    cell(isSolid(element) ? formatLength(lengthOf(element), unit) : '', y, 8.5, 400, columns[2], 58);
    cell(faces[0]!, y, 8.5, 400, columns[3], 120);
    cell(faces[1]!, y, 8.5, 400, columns[4], 120);
    y += ROW;
  });
  y += 10;
  if (y > doc.page.height - FOOT - 4 * ROW) {
    doc.addPage();
    y = MARGIN;
  }
  const errors = report.problems.filter(({ severity }) => severity === 'error');
  for (const { message } of errors.slice(0, 4)) {
    say(`To mend: ${message}`, y, 8.5, 600);
    y += ROW;
  }
  say(
    'Do the threads mate? Are the lengths right? Is anything missing?',
    Math.min(y + 6, doc.page.height - 60),
    10,
    600
  );
  doc.end();
  return finished;
}
