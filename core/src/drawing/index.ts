export type { Drawing } from './shapes.ts';
export { profileOf, ringDrawing, ringFault } from './ringDrawing.ts';
export { LINES, writeDxf, writeStl, writeSvg } from './write.ts';
