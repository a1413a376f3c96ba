// What a sheet is made of: steps, and what is said at more than one kind of them.

/** What is measured after a step, shoulder to shoulder, mm. */
export interface StepMeasure {
  /** First and last element that is measured across, sky side first. */
  from: string;
  to: string;
  expectedMm: number;
  /** Half-width that holds 95 % of what is not known about it. */
  uncertaintyMm: number;
}

/** A thread whose length cannot be measured any more once its joint is closed. */
export interface ThreadToMeasure {
  /** Element that has it, or `host`. */
  id: string;
  face: 'sky' | 'camera';
  gender: 'male' | 'female';
}

/** One part of a step that is ticked off by itself: a slot of a wheel. */
export interface StepTick {
  /** What it is remembered by. */
  key: string;
  what: string;
  /** Fingerprint of what it puts in. */
  seal: string;
}

/** One step of an assembly, as `sheet --json` prints it. */
export interface AssemblyStep {
  n: number;
  do: string;
  /** Elements that come into hand. */
  parts: string[];
  /** Joint that is closed, by its camera-side element; null where none is. */
  joint: string | null;
  tools: string[];
  cautions: string[];
  measure: StepMeasure | null;
  /** What has to be measured before. */
  ask: ThreadToMeasure[];
  /** What the step is remembered by: its joint, or a word as `fill` and the part. */
  key: string;
  /** Fingerprint of what it puts together: changed since it was done, it has to be done again. */
  seal: string;
  /** What is ticked off one by one before it is done. */
  ticks: StepTick[];
}

/** Cautions of the handbook (§8, §11), said where they apply. */
export const CAUTIONS = {
  openSensor: 'The sensor is open: hold it face down, gloves on, a blower and never breath.',
  plateOverSensor: 'Start the fixing screws in the plate before it goes over the open sensor.',
  glass: 'Hold filters by the rim, with gloves. Blow them clean. Cover open optics with paper.',
  lockAxis: 'Lock the axis first: counterweights on before the train, off after it.',
  sun: 'Never point it at the sun, never leave it uncapped in daylight.',
  slip: 'A slip fit may slide out: hold the train until its screws are tight.',
  crosswise: 'Start every screw by hand, shortest first, then tighten crosswise.',
  prism: 'The pick-off faces the incoming light.',
  openLens:
    'Under the mount of a lens are springs, small screws and thin rings: take a picture first, keep them in order. It may end the warranty.',
  openCamera: 'The camera is open without it: face down, gloves on, dust cap at hand. It may end the warranty.'
} as const;

export type Step = Omit<AssemblyStep, 'n'>;

export const step = (key: string, seal: string, words: string, more: Partial<Step> = {}): Step => ({
  do: words,
  parts: [],
  joint: null,
  tools: [],
  cautions: [],
  measure: null,
  ask: [],
  ticks: [],
  key,
  seal,
  ...more
});
