// Putting trains together, and from one into another.
export { changeOver, settingInWords, type ChangeOver, type Lying } from './changeOver.ts';
export { endFlats, endsFlats, flatsOf, takeFlats } from './flats.ts';
export { landings, type Landing } from './landing.ts';
export { PACKING_TITLES, packingList, type PackingGroup } from './packing.ts';
export { doubtReading, readAt, readingOperation, threadOperation, type DoubtedReading } from './reading.ts';
export { stepState, type StepState } from './seal.ts';
export { platesOf } from './screws.ts';
export { assemblySheet, type AssemblyOrder } from './sheet.ts';
export { type AssemblyStep, type StepMeasure, type StepTick, type ThreadToMeasure } from './step.ts';
