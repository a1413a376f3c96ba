// Usual things, to begin with: what ships, and what people say of a telescope in a line.
export {
  CATALOGUE,
  CATALOGUE_NOTE,
  LENS_MOUNTS,
  USUAL_BAYONETS,
  usualBayonet,
  usualHostFace,
  type Role,
  type UsualLensMount,
  type UsualThing
} from './catalogue.ts';
export { LEAST_BACK_FOCUS_MM, begunCorrector, isUnnamed, unnamedHost } from './begun.ts';
export { KITS, kitsCalled, type Kit } from './kits.ts';
export { usualParts, type UsualFit } from './usual.ts';
export { readCorrectorLine } from './correctorLine.ts';
export { readHostLine, type HostReading } from './hostLine.ts';
export { MOST_NOTE_CHARS, readNotes, trainOfNotes, type NotePiece } from './notes.ts';
