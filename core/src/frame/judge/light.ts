import type { Field } from './field.ts';
import { AN_OR, percent, type Suspicion } from './finding.ts';
import { starsSayVignetting } from './skyLight.ts';

/** Shares of the light whose loss is just worth mending. */
const WORTH_IN_CORNERS = 0.22;
const WORTH_AT_EDGE = 0.15;

/** The corners are dark: a filter that is too small, unless something bright stands in the middle. */
export function darkCorners({ light, placed, reading }: Field): Suspicion | undefined {
  if (!light) return undefined;
  const { cornerLoss, standard } = light;
  const lost = `The corners have lost ${percent(cornerLoss)} of the light or more, alike: a filter too small or too far away, not the spacing.`;
  const either = `The sky is ${percent(cornerLoss)} darker in the corners: either a filter is too small or too far away, or something bright is in the middle of the field. A flat, or a frame of another field, shows which; it is not the spacing.`;
  const told = starsSayVignetting(
    placed.map(({ star: { flux }, square }) => ({ flux, square })),
    reading,
    cornerLoss
  );
  const isOpen = told === undefined || told < 1;
  return {
    cause: 'light',
    strength: cornerLoss / WORTH_IN_CORNERS,
    sigmas: cornerLoss / standard,
    message: isOpen ? either : lost,
    most: isOpen ? AN_OR : 1
  };
}

/** One side is dark: something stands in the light there. */
export function darkEdge({ light }: Field): Suspicion | undefined {
  if (!light?.darkEdge) return undefined;
  const { side, loss, standard } = light.darkEdge;
  return {
    cause: 'light',
    strength: loss / WORTH_AT_EDGE,
    sigmas: loss / standard,
    message: `The ${side} edge is ${percent(loss)} darker than the sky next to it: something blocks the light on that side, such as a filter or carousel off centre. It is not the spacing.`
  };
}
