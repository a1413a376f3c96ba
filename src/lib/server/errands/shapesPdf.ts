import type { Shape, ShapePoint, ShapeRole } from '@lodestone/core/shape';

/** How each kind of shape looks on paper: ink, and what fills it. */
const LOOKS: Readonly<Record<ShapeRole, { line: number; fill?: string }>> = {
  outside: { line: 0.5, fill: '#f2f2f2' },
  cut: { line: 0.5, fill: '#cfcfcf' },
  groove: { line: 0.25 },
  dial: { line: 0.4, fill: '#9a9a9a' },
  'dial-mark': { line: 0.3 },
  glass: { line: 0.5, fill: '#dfe9ee' },
  stalk: { line: 0.5, fill: '#cfcfcf' },
  bore: { line: 0, fill: '#ffffff' },
  sensor: { line: 0.5, fill: '#000000' },
  gap: { line: 0.5 },
  seam: { line: 0.6 },
  'piece-off': { line: 0.25 },
  cone: { line: 0.3 },
  'cone-field': { line: 0.4 },
  rim: { line: 0.5 },
  'rim-cut': { line: 0.8, fill: '#000000' },
  'guide-beam': { line: 0.3 },
  'guide-path': { line: 0.25 },
  'guide-range': { line: 0.3, fill: '#eeeeee' },
  weight: { line: 0.5 },
  'weight-all': { line: 1 },
  'should-be': { line: 0.8 },
  'is-here': { line: 0.8 }
};

export interface PaperFrame {
  x: (alongMm: number) => number;
  y: (acrossMm: number) => number;
  /** Drawn with a stronger line: what is asked about. */
  heavy: boolean;
}

const LEAST_PT = 0.4;

/** Draws what the rail draws, on paper. */
export function drawShapes(doc: PDFKit.PDFDocument, shapes: readonly Shape[], { x, y, heavy }: PaperFrame): void {
  const at = ([alongMm, acrossMm]: ShapePoint): [number, number] => [x(alongMm), y(acrossMm)];
  for (const shape of shapes) {
    const { line, fill } = LOOKS[shape.role];
    if (shape.kind === 'box') {
      const width = Math.max(x(shape.toMm) - x(shape.fromMm), LEAST_PT);
      doc.rect(x(shape.fromMm), y(shape.highMm), width, Math.max(y(shape.lowMm) - y(shape.highMm), LEAST_PT));
    } else {
      doc.moveTo(...at(shape.start));
      for (const { to, via } of shape.runs) {
        if (via) doc.quadraticCurveTo(...at(via), ...at(to));
        else doc.lineTo(...at(to));
      }
      if (shape.closed) doc.closePath();
    }
    const strong = heavy && (shape.role === 'outside' || shape.role === 'cut') ? 3 : 1;
    doc.lineWidth(line * strong).strokeColor('#000000');
    if (fill && line > 0) doc.fillAndStroke(fill, '#000000');
    else if (fill) doc.fill(fill);
    else doc.stroke();
  }
}
