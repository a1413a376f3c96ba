export type { Drawing, LineStyle } from './shapes.ts';
export { ringDrawing } from './ringDrawing.ts';
export { profileOf, ringFault } from './turned.ts';
export { variantsDrawing, workshopDrawing, type Variant } from './variantsDrawing.ts';
export { FONT_PER_CAPITAL, LINES, writeDxf, writeStl, writeSvg } from './write.ts';
