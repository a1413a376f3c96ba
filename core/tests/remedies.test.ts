import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { apply, isBody, isCamera, readTrain, type Element, type Port, type Train } from '../src/train/index.ts';
import {
  assess,
  checkTrain,
  nextStep,
  remediesOf,
  snapshotFindings,
  type CheckReport,
  type Finding
} from '../src/check/index.ts';
import { readDrawer } from '../src/drawer/index.ts';
import { anyTrain, camera, corrector, part, train } from './trains.ts';

/** What a report says is wrong: the codes of its errors with their places, and the length. */
function faults({ problems, verdict }: CheckReport): string[] {
  const errors = problems.filter(({ severity }) => severity === 'error').map(({ code, at }) => `${code} ${at}`);
  return verdict === 'short' || verdict === 'long' ? [...errors, 'length'] : errors;
}

/** How much of a finding there is in a report, in whatever it is measured by; 0 where it is gone. */
function amount(finding: Finding, report: CheckReport): number {
  if (finding.code === 'length') return Math.abs(report.residualMm ?? 0);
  const at = 'id' in finding.place ? finding.place.id : 'host';
  return report.problems.filter(({ code, at: place }) => code === finding.code && place === at).length;
}

/** Threads that differ at random hardly ever join: the same train with one thread throughout, female toward the sky. */
function joining(made: Train): Train {
  const thread = (gender: 'male' | 'female', lengthMm = 4): Port => ({ thread: 'M48x0.75', gender, lengthMm });
  const long = (port: Port | undefined): number | undefined => (port && 'thread' in port ? port.lengthMm : undefined);
  const elements = made.elements.map((element): Element => {
    if (isCamera(element)) return { ...element, sky: thread('female', long(element.sky)) };
    if (!isBody(element)) return element;
    return { ...element, sky: thread('female', long(element.sky)), camera: thread('male', long(element.camera)) };
  });
  return { ...made, host: { ...made.host, camera: thread('male') }, elements };
}

const faulty = fc.tuple(anyTrain, fc.boolean()).map(([made, joins]) => (joins ? joining(made) : made));

describe('remedies', () => {
  it('on random trains with faults: none adds an error, and each lessens what it is offered for', () => {
    const offered = new Map<string, number>();
    fc.assert(
      fc.property(faulty, (made) => {
        const assessment = assess(made);
        const before = faults(assessment.report);
        for (const finding of assessment.findings) {
          for (const remedy of remediesOf(assessment, finding)) {
            const after = readTrain(apply(made, remedy.operation));
            expect(after.ok).toBe(true);
            if (!after.ok) continue;
            const report = checkTrain(after.document);
            expect(before).toEqual(expect.arrayContaining(faults(report)));
            const [had, has] = [amount(finding, assessment.report), amount(finding, report)];
            if (remedy.cures || finding.code === 'length') expect(has).toBeLessThan(had);
            expect(remedy.sentence('mm')).toMatch(/\.$/);
            offered.set(finding.code, (offered.get(finding.code) ?? 0) + 1);
          }
        }
      }),
      { numRuns: 1500 }
    );
    // It was tried where it matters: several kinds of remedy were offered, and often.
    expect([...offered.keys()]).toEqual(expect.arrayContaining(['length', 'wobble', 'order', 'opening-impossible']));
    expect([...offered.values()].reduce((sum, count) => sum + count, 0)).toBeGreaterThan(300);
  });

  it('the next step does nothing that was not tried, and an error comes before lengths', () => {
    fc.assert(
      fc.property(faulty, (made) => {
        const assessment = assess(made);
        const step = nextStep(assessment, 'mm');
        if (step.operation) {
          const report = checkTrain(apply(made, step.operation));
          expect(faults(assessment.report)).toEqual(expect.arrayContaining(faults(report)));
        }
        const [broken] = assessment.errors;
        if (broken) expect(step.sentence).toBe(broken.say('mm'));
      }),
      { numRuns: 500 }
    );
  });

  it('no valid document throws, and every finding has its words in both units', () => {
    fc.assert(
      fc.property(anyTrain, (made) => {
        for (const finding of assess(made).findings) {
          for (const unit of ['mm', 'in'] as const) expect(finding.say(unit)).not.toMatch(/undefined|NaN|null/);
        }
      }),
      { numRuns: 500 }
    );
  });

  it('fill what a bottomed thread leaves with shims, as long as before', () => {
    const made = train([
      corrector({ backFocusMm: 56 }, { camera: { thread: 'M48x0.75', gender: 'male', lengthMm: 5 } }),
      camera(55, { sky: { thread: 'M48x0.75', gender: 'female', lengthMm: 4 } as never })
    ]);
    const assessment = assess(made);
    const wobble = assessment.findings.find(({ code }) => code === 'wobble')!;
    const [remedy] = remediesOf(assessment, wobble);
    const after = checkTrain(apply(made, remedy!.operation));
    expect(after.residualMm).toBe(0);
    expect(after.problems.map(({ code }) => code)).not.toContain('wobble');
  });
});

describe('a train’s copy of a part that differs from the drawer', () => {
  it('is a finding, and brought up to date', () => {
    const reading = readDrawer({
      lodestone: 'drawer/1',
      parts: [{ partId: 'R-1', kind: 'spacer', name: 'Ring', lengthMm: 5.2 }]
    });
    const parts = reading.ok ? reading.document : [];
    const made: Train = train([
      corrector({ backFocusMm: 55 }),
      { ...part('ring', 5, { name: 'Ring', partId: 'R-1' }), toleranceMm: undefined as never },
      camera(50)
    ]);
    const document = JSON.parse(JSON.stringify(made)) as Train;
    const partOf = (id: string) => parts.find(({ partId }) => partId === id);
    const [finding] = snapshotFindings(document, partOf);
    expect(finding).toMatchObject({ code: 'snapshot-outdated', place: { kind: 'element', id: 'ring' } });
    const [remedy] = remediesOf(assess(document), finding!);
    const after = apply(document, remedy!.operation);
    expect(checkTrain(after).actual.totalMm).toBeCloseTo(55.2, 9);
    expect(snapshotFindings(after, partOf)).toEqual([]);
  });
});
