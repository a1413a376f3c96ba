export * from './shapes.ts';
export { profileOf, ringDrawing } from './ringDrawing.ts';
export { LINES, writeDxf, writeStl, writeSvg } from './write.ts';
