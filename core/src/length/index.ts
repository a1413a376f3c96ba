// The length ledger: back focus, glass, dials.
export { DATUM_WORDS, countedFrom, toleranceByRule } from './backFocus.ts';
export { GLASSES, marginalHalfAngle, namedGlass, plateShift, sellmeierIndex } from './glass.ts';
export { isCounted, roleOf } from './glassInBeam.ts';
export { ledgerOf, type EntryFrom } from './ledger.ts';
export { withinTolerance } from './tolerance.ts';
