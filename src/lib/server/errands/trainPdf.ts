import { assess, type Assessment } from '@lodestone/core/check';
import { layoutOf, partShapes } from '@lodestone/core/shape';
import type { Train } from '@lodestone/core/train';
import { line } from './pdf.ts';
import { drawShapes } from './shapesPdf.ts';

export interface TrainFrame {
  left: number;
  top: number;
  width: number;
  height: number;
  /** Numbers of parts drawn with a stronger line. */
  heavy?: readonly string[];
  /** Of the train, where it was reckoned already. */
  assessment?: Assessment;
  /** mm from the datum's shoulder to the frame's edges, so that several trains lie on one rail; its own where left out. */
  extent?: { fromMm: number; toMm: number };
  maxRadiusMm?: number;
}

/** What a picture of a train shows, for who hears it. */
export const trainInWords = ({ host, elements }: Train): string =>
  `The train to scale, from ${host.name} to the sensor: ${elements.map(({ name }) => name).join(', ')}`;

/** A train to scale, the shapes of the rail, with the shoulder it is measured from and its sensor marked. */
export function drawTrain(doc: PDFKit.PDFDocument, train: Train, frame: TrainFrame): void {
  const { left, top, width, height, heavy = [], assessment = assess(train) } = frame;
  const layout = layoutOf(train, assessment.ledger);
  const { fromMm, toMm } = frame.extent ?? layout.extent;
  const along = width / (toMm - fromMm);
  const across = height / (2 * (frame.maxRadiusMm ?? layout.maxRadiusMm));
  const axis = top + height / 2;
  const x = (mm: number): number => left + (mm - fromMm) * along;
  for (const item of layout.items) {
    if (item.kind === 'gap') continue;
    const part = train.elements.find(({ id }) => id === item.id);
    const isHeavy = part && 'partId' in part && part.partId !== undefined && heavy.includes(part.partId);
    drawShapes(doc, partShapes(item), { x, y: (acrossMm) => axis - acrossMm * across, heavy: isHeavy === true });
  }
  const stroke = (): void => void doc.strokeColor('#000000').stroke();
  doc
    .lineWidth(0.4)
    .dash(6, { space: 3 })
    .moveTo(left, axis)
    .lineTo(left + width, axis);
  stroke();
  doc.undash();
  for (const [mm, word, shift] of [
    [0, 'shoulder', 14],
    [layout.sensorMm, 'sensor', 10]
  ] as const) {
    doc
      .lineWidth(1)
      .moveTo(x(mm), top - 6)
      .lineTo(x(mm), top + height + 6);
    stroke();
    doc.fillColor('#000000');
    line(doc, word, x(mm) - shift, top - 16, 7, 400, 60);
  }
}
