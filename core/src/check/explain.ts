import { explainDoubt, type DoubtSubject } from '../doubt/explain.ts';
import { explainGuide, type GuideSubject } from '../guide/explain.ts';
import { explainLoad, type LoadSubject } from '../load/explain.ts';
import { explainLight, type LightSubject } from '../light/explain.ts';
import { explainLength, type LengthSubject } from '../length/explain.ts';
import type { Explanation, Subject } from '../why/explanation.ts';
import type { Facts } from './facts.ts';

const isOf = <S extends Subject>(field: string, subject: Subject): subject is S => subject.startsWith(`${field}.`);

/**
 * How a number came about, by the field it belongs to.
 *
 * @returns undefined where the train has no such number
 */
export function explain(facts: Facts, subject: Subject): Explanation | undefined {
  const { train, ledger } = facts;
  if (isOf<LengthSubject>('length', subject)) return explainLength(train, ledger, subject);
  if (isOf<DoubtSubject>('doubt', subject)) return explainDoubt(train, ledger, facts.doubts, facts.spread, subject);
  if (isOf<LightSubject>('light', subject)) return explainLight(train, facts.light, subject);
  if (isOf<GuideSubject>('guide', subject)) return explainGuide(facts.guide, subject);
  if (isOf<LoadSubject>('load', subject)) return explainLoad(train, facts.load, subject);
  return undefined;
}
