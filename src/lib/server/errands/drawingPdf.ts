import { FONT_PER_CAPITAL, LINES, type Drawing } from '@lodestone/core/drawing';
import { line, widthOf } from './pdf.ts';
import { newPdf } from './structure.ts';

const POINTS_PER_MM = 72 / 25.4;

/** A workshop drawing as a PDF at full size. */
export function drawingPdf({ width, height, shapes }: Drawing, title: string): Promise<Uint8Array> {
  const { doc, finished, root } = newPdf(title, { size: [width * POINTS_PER_MM, height * POINTS_PER_MM] });
  const x = (mm: number): number => mm * POINTS_PER_MM;
  const y = (mm: number): number => (height - mm) * POINTS_PER_MM;
  const texts = shapes.filter((shape) => shape.kind === 'text');
  root.within('Figure', `${title}: ${texts.map(({ text }) => text).join('; ')}`).draw(() => {
    for (const shape of shapes) {
      if (shape.kind !== 'line') continue;
      const { width: stroke, dash } = LINES[shape.style];
      doc.lineWidth(stroke * POINTS_PER_MM).strokeColor('#000000');
      if (dash.length > 0) doc.dash(dash[0]! * POINTS_PER_MM, { space: dash[1]! * POINTS_PER_MM });
      else doc.undash();
      doc.moveTo(x(shape.x1), y(shape.y1)).lineTo(x(shape.x2), y(shape.y2)).stroke();
    }
  });
  for (const { text, size: capitals, anchor, turnDeg, ...at } of texts) {
    root.within('P').draw(() => {
      const size = capitals * FONT_PER_CAPITAL * POINTS_PER_MM;
      const wide = widthOf(text, size, 400);
      const shift = { start: 0, middle: wide / 2, end: wide }[anchor];
      doc.save().translate(x(at.x), y(at.y)).rotate(-turnDeg);
      doc.fillColor('#000000');
      line(doc, text, -shift, -size * 0.9, size, 400, wide + 1);
      doc.restore();
    });
  }
  doc.end();
  return finished;
}
