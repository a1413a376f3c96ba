/** What a line of a workshop drawing means; writers choose width and dashes. */
export type LineStyle = 'outline' | 'thin' | 'centre' | 'hatch' | 'dimension';

/** What a shape belongs to: the sheet, the part as a whole, the same from its front, or a detail of it drawn larger. */
export type ViewName = 'sheet' | 'part' | 'front' | 'detail';

/** How a view stands on the sheet. */
export interface View {
  /** mm on the sheet for one of the part. */
  scale: number;
  /** Where the part’s axis and the shoulder of its sky side are on the sheet, mm. */
  x: number;
  y: number;
}

/** A straight line, mm on the sheet, y upward. */
export interface DrawnLine {
  kind: 'line';
  view: ViewName;
  style: LineStyle;
  x1: number;
  y1: number;
  x2: number;
  y2: number;
}

export interface DrawnText {
  kind: 'text';
  view: ViewName;
  x: number;
  y: number;
  /** Height of capitals, mm. */
  size: number;
  anchor: 'start' | 'middle' | 'end';
  /** Turned anticlockwise, degrees. */
  turnDeg: number;
  text: string;
  /** It names a scale of the sheet: true where the sheet is, and nowhere else. */
  isScale?: true;
}

/** A drawing as lines and texts: what SVG, DXF and PDF are all written from. Lengths in mm on the sheet. */
export interface Drawing {
  width: number;
  height: number;
  shapes: (DrawnLine | DrawnText)[];
  views: { part: View; front?: View; detail?: View };
}
