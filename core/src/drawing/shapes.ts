/** What a line of a workshop drawing means; writers choose width and dashes. */
export type LineStyle = 'outline' | 'thin' | 'centre' | 'hatch' | 'dimension';

/** A straight line, mm on the sheet, y upward. */
export interface DrawnLine {
  kind: 'line';
  style: LineStyle;
  x1: number;
  y1: number;
  x2: number;
  y2: number;
}

export interface DrawnText {
  kind: 'text';
  x: number;
  y: number;
  /** Height of capitals, mm. */
  size: number;
  anchor: 'start' | 'middle' | 'end';
  /** Turned anticlockwise, degrees. */
  turnDeg: number;
  text: string;
}

/** A drawing as lines and texts: what SVG, DXF and PDF are all written from. Lengths in mm on the sheet. */
export interface Drawing {
  width: number;
  height: number;
  shapes: (DrawnLine | DrawnText)[];
}
