import PDFDocument from 'pdfkit';
import { finishedPdf } from './pdf.ts';

/** Kinds of element that a reader tells apart (ISO 32000-1, §14.8.4). */
type Kind = 'H1' | 'H2' | 'P' | 'Table' | 'TR' | 'TH' | 'TD' | 'Figure' | 'Sect';

/** A piece of a sheet that is read out as one: what is drawn for it may stand on several sheets. */
export class Piece {
  constructor(
    private readonly doc: PDFKit.PDFDocument,
    private readonly element: ReturnType<PDFKit.PDFDocument['struct']>
  ) {}

  /** @param alt what is said of it in place of what is drawn */
  within(kind: Kind, alt?: string): Piece {
    const inner = this.doc.struct(kind, alt === undefined ? {} : { alt });
    this.element.add(inner);
    return new Piece(this.doc, inner);
  }

  /** Draws something of it; no new sheet may begin meanwhile. */
  draw(ink: () => void): void {
    this.element.add(ink);
  }
}

/** Draws what says nothing by itself: rules, frames. */
export function decoration(doc: PDFKit.PDFDocument, ink: () => void): void {
  doc.markContent('Artifact', { type: 'Layout' });
  ink();
  doc.endMarkedContent();
}

/** A document that names its title and language, and whose pieces are told in their order (PDF/UA’s way, ISO 14289-1). */
export function newPdf(title: string, options: PDFKit.PDFDocumentOptions) {
  const doc = new PDFDocument({
    ...options,
    margin: 0,
    pdfVersion: '1.7',
    lang: 'en',
    displayTitle: true,
    tagged: true,
    info: { Title: title, Creator: 'Lodestone' }
  });
  const finished = finishedPdf(doc);
  const root = doc.struct('Document');
  doc.addStructure(root);
  return { doc, finished, root: new Piece(doc, root) };
}
