import { fitAt, type Fit } from '../joint/fit.ts';
import { isCamera, type Port } from '../train/model.ts';
import { partLength, type Part } from './part.ts';

/** A part that goes between two faces, and how well. */
export interface FittingPart {
  part: Part;
  fit: Fit;
}

const RANK: Readonly<Record<Fit['closes'], number>> = { both: 0, sky: 1, camera: 1, unknown: 2 };

/** Kinds that a joint is filled with before others are thought of. */
const isRing = ({ element: { kind } }: Part): boolean =>
  kind === 'spacer' || kind === 'adapter' || kind === 'extension-tube' || kind === 'variable-spacer';

/**
 * What of a drawer goes between two faces: first what closes both, rings before other parts, those nearest the
 * wanted length first; then what joins one side. Parts set aside and cameras are left out.
 *
 * @param above camera face on the sky side; undefined where not known
 * @param below sky face on the camera side; undefined where not known
 * @param wantedMm length that is missing, mm
 */
export function partsThatFit(
  parts: readonly Part[],
  above: Port | undefined,
  below: Port | undefined,
  wantedMm?: number
): FittingPart[] {
  const off = (part: Part): number => (wantedMm === undefined ? 0 : Math.abs(partLength(part) - wantedMm));
  return parts
    .flatMap((part) => {
      if (part.state === 'set-aside' || isCamera(part.element) || (!above && !below)) return [];
      const fit = fitAt(part.element, above, below);
      return fit ? [{ part, fit, off: off(part), ring: isRing(part) ? 0 : 1, owned: part.owned ? 0 : 1 }] : [];
    })
    .sort((a, b) => RANK[a.fit.closes] - RANK[b.fit.closes] || a.ring - b.ring || a.owned - b.owned || a.off - b.off)
    .map(({ part, fit }) => ({ part, fit }));
}
