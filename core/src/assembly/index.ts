// Putting trains together, and from one into another.
export { changeOver, type ChangeOver, type Lying } from './changeOver.ts';
export { doubtReading, readAt, readingOperation, type DoubtedReading } from './reading.ts';
export { assemblySheet, type AssemblyOrder, type AssemblyStep, type StepMeasure } from './sheet.ts';
