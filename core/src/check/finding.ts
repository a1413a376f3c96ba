import type { Part } from '../drawer/part.ts';
import type { Joint } from '../joint/joints.ts';
import type { Operation } from '../train/operations.ts';
import { HOST, type Train } from '../train/model.ts';
import type { Subject } from '../why/explanation.ts';
import type { Quantity } from '../why/quantity.ts';
import type { LengthUnit } from '../why/wording.ts';
import type { Facts } from './facts.ts';

/** What a finding is about; a click on it goes there. A joint is named by its camera-side element. */
export type Place =
  | { kind: 'host' }
  | { kind: 'element'; id: string }
  | { kind: 'joint'; id: string }
  | { kind: 'plate'; id: string; index: number };

export type Level = 'error' | 'warning' | 'assumed' | 'not-known' | 'passed';

/** A change that may mend a finding; it is offered only after it was tried. */
export interface Proposal {
  /** Label of a button that does it. */
  action: (unit: LengthUnit) => string;
  /** What it comes to. @param residualMm of the train afterwards */
  sentence: (unit: LengthUnit, residualMm: number | null) => string;
  operation: Operation;
  /** What its sentence says of the length: that it stays as it is. Looked at in its result before it is offered. */
  keepsLength?: true;
  /** It only writes down what is so already: an error that comes of it was there all along. */
  reveals?: true;
}

/** One thing worth telling about a train. */
export interface Finding {
  code: string;
  /** What it is about, where its check asks several things. */
  title?: string;
  level: Level;
  place: Place;
  /** Keys of the element (or host) at `place` that would have to be filled, where something is not known. */
  fill?: readonly string[];
  say: (unit: LengthUnit) => string;
  figure?: Quantity;
  limit?: Quantity;
  why?: Subject;
  /** How bad it is, in its own measure: a remedy makes this less, or the finding go away. */
  badness?: number;
  /** @param parts of the drawer that are free */
  proposals?: (parts: readonly Part[]) => readonly Proposal[];
}

/** One question asked of every train. */
export interface Check {
  id: string;
  /** What it is about, in a word or two. */
  title: string;
  /** What there is to say where it finds nothing; undefined where the question does not arise. */
  fine?: (facts: Facts) => string | undefined;
  /** Every code its findings may have. */
  codes: readonly string[];
  find: (facts: Facts) => readonly Finding[];
}

/** Element id, or `host`, that a place is told by in JSON. */
export const placeId = (place: Place): string => (place.kind === 'host' ? HOST : place.id);

export const atElement = (id: string): Place => (id === HOST ? { kind: 'host' } : { kind: 'element', id });
export const atJoint = ({ cameraId }: Pick<Joint, 'cameraId'>): Place => ({ kind: 'joint', id: cameraId });

/** Whether two findings are of the same thing. */
export const isSameFinding = (a: Finding, b: Finding): boolean =>
  a.code === b.code && a.place.kind === b.place.kind && placeId(a.place) === placeId(b.place);

type JointQuestion = (train: Train, joint: Joint) => Finding | undefined;

/** Asks every joint of a train each of some questions, and keeps what there is to tell. */
export function ofJoints({ train, joints }: Facts, ...questions: readonly JointQuestion[]): Finding[] {
  const found: Finding[] = [];
  for (const joint of joints) {
    for (const ask of questions) {
      const finding = ask(train, joint);
      if (finding) found.push(finding);
    }
  }
  return found;
}
