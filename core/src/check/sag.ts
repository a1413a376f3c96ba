import { DEPTHS } from '../light/beam.ts';
import { saggingOf, stiffnessOf, type Sagging } from '../load/sag.ts';
import { HOST, nameOf, type SagTest, type Train } from '../train/model.ts';
import { mm } from '../why/quantity.ts';
import type { Facts } from './facts.ts';
import { atElement, type Check, type Finding } from './finding.ts';
import { onceFilled } from './onceFilled.ts';

/** What the latest sag test of each joint says of the train as it hangs there now. */
export function saggingsOf({ train, standing, load, light }: Facts): { test: SagTest; sagging: Sagging }[] {
  const latest = new Map<string, SagTest>();
  for (const test of train.sag ?? []) {
    const before = latest.get(test.at);
    if (!before || (before.on ?? '') <= (test.on ?? '')) latest.set(test.at, test);
  }
  return [...latest.values()].flatMap((test) => {
    const stiffness = stiffnessOf(test);
    const index = test.at === HOST ? 0 : train.elements.findIndex(({ id }) => id === test.at);
    if (!stiffness || index < 0) return [];
    const momentNm = test.at === HOST ? load.momentNm : load.momentBehind(train, standing.axis, index);
    const sensor = light?.sensor;
    const widthMm = sensor ? Math.max(sensor.widthMm, sensor.heightMm) : null;
    return [{ test, sagging: saggingOf(test.at, stiffness, momentNm, widthMm) }];
  });
}

const nameAt = (train: Train, at: string): string =>
  at === HOST ? `the camera face of ${train.host.name}` : `the joint before ${nameOf(train, at)}`;

function sagFinding(facts: Facts, { test, sagging }: { test: SagTest; sagging: Sagging }): Finding {
  const { train, light, load } = facts;
  const { stiffness, tiltArcmin, acrossArcmin, edgeUm } = sagging;
  const where = nameAt(train, test.at);
  const least = stiffness.isBound ? 'at least ' : '';
  const most = stiffness.isBound ? 'at most ' : '';
  const stiff = `${where} gives way by ${most}${tiltArcmin.toFixed(2)}′ under what hangs there (${least}${stiffness.stiffnessNmPerRad.toFixed(0)} N·m per radian)`;
  const left =
    stiffness.hysteresisMm > test.resolutionMm
      ? ` ${stiffness.hysteresisMm.toFixed(3)} mm of it did not come back: something slips there.`
      : '';
  const common = { code: 'sag', title: `Sag at ${where}`, place: atElement(test.at) } as const;
  // What hangs ahead of the joint does not bend it.
  const from = test.at === HOST ? 0 : train.elements.findIndex(({ id }) => id === test.at);
  const unweighed = load.unweighedFrom(from).length > 0 ? ' Not everything is weighed: it is more than that.' : '';
  if (!light || edgeUm === null) {
    return {
      ...common,
      level: 'not-known',
      say: () => `${stiff}.${left}${unweighed} What that does to the focus needs the sensor and the beam.`
    };
  }
  const depthUm = DEPTHS.quarterWave(light.beam.fRatio) * 1000;
  const ok = edgeUm <= depthUm;
  return {
    ...common,
    level: ok && left === '' && unweighed === '' ? 'passed' : ok && left === '' ? 'not-known' : 'warning',
    figure: mm(edgeUm / 1000),
    limit: mm(depthUm / 1000),
    badness: edgeUm / 1000,
    say: () =>
      `${stiff}, and by up to ${acrossArcmin.toFixed(2)}′ from one side of the meridian to the other: ${most}${edgeUm.toFixed(1)} µm of focus at the edge of the sensor, where the depth of focus is ±${depthUm.toFixed(0)} µm.${left}${unweighed}`
  };
}

/** Tilt of the sensor across the meridian against the depth of focus, by the owner's own sag tests (handbook §7). */
export const sagCheck: Check = {
  id: 'sag',
  title: 'Sag',
  codes: ['sag'],
  find: (facts) =>
    onceFilled(
      facts,
      saggingsOf(facts).map((each) => sagFinding(facts, each))
    )
};
