import { fullDiameter, type Beam } from '../light/beam.ts';
import { COARSE_LINES, illumination } from '../light/illumination.ts';
import { SAME_SHARE, type Light } from '../light/light.ts';
import { shiftBehind } from '../light/openings.ts';
import type { Facts } from '../check/facts.ts';
import { lengthBehind } from './stood.ts';

/** Openings are told apart no finer than this, mm: what is refused is narrower by more. */
const HAIR_MM = 0.1;

/** Steps of a search by halves: half a metre to a thousandth of a millimetre. */
const HALVINGS = 20;

/** Light where a gap stands. */
interface Place {
  beam: Beam;
  /** The same with every pupil that the host's may be: a part is refused only where it is too narrow for all of them. */
  beams: readonly Beam[];
  /** Image heights in this beam over those on the sensor. */
  fieldScale: number;
  /** Least air-equivalent distance of the gap's camera side before the focus of its beam, mm. */
  nearMm: number;
  /** The same of its sky side, the train filled to its length, mm. */
  farMm: number;
}

/** What the beam asks of the parts that go into a train's gaps. */
export class BeamLimit {
  /** Share of the light that the darkest corner has to get: what is wanted, or what the fixed parts leave of it. */
  readonly floor: number;
  readonly #light: Light;
  readonly #places = new Map<string, Place>();
  readonly #narrowest = new Map<string, number>();

  /** @param wanted share of the light */
  constructor(facts: Facts, light: Light, wanted: number) {
    this.#light = light;
    this.floor = Math.min(wanted, light.brightest) - SAME_SHARE;
    const over = light.overRange;
    const { train } = facts;
    const { ledger, axis } = facts.standing;
    train.elements.forEach(({ id, kind }, index) => {
      if (kind !== 'gap') return;
      const { fromMm, toMm } = axis.spans[index]!;
      if (index < ledger.datum.index) {
        const { beam, fieldScale, focusMm } = light.ahead;
        const beams = over.map(({ ahead }) => ahead.beam);
        this.#places.set(id, { beam, beams, fieldScale, nearMm: focusMm - toMm, farMm: focusMm - fromMm });
        return;
      }
      const shiftMm = shiftBehind(train, ledger, axis, toMm);
      this.#places.set(id, {
        beam: light.beam,
        beams: over.map(({ beam }) => beam),
        fieldScale: 1,
        nearMm: Math.max(0, axis.sensorMm - toMm - shiftMm - lengthBehind(facts, index)),
        farMm: Math.max(0, axis.sensorMm - fromMm - shiftMm)
      });
    });
  }

  #full({ beam, fieldScale }: Place, zMm: number): number {
    return fullDiameter(beam, this.#light.halfDiagonalMm * fieldScale, zMm);
  }

  /** Clear diameter that takes nothing from the corners anywhere in a gap, mm. */
  neededIn(gap: string): number {
    const place = this.#places.get(gap);
    return place ? Math.max(this.#full(place, place.nearMm), this.#full(place, place.farMm)) : 0;
  }

  /** The smallest opening that by itself leaves the corners enough at a distance, mm. */
  #enoughAt(place: Place, zMm: number): number {
    return Math.min(...place.beams.map((beam) => this.#enoughWith({ ...place, beam }, zMm)));
  }

  #enoughWith(place: Place, zMm: number): number {
    const { beam, fieldScale } = place;
    const { sensor, obstruction } = this.#light;
    const corner = [sensor.widthMm / 2, sensor.heightMm / 2] as const;
    let [low, high] = [0, this.#full(place, zMm)];
    for (let halving = 0; halving < HALVINGS; halving++) {
      const clearMm = (low + high) / 2;
      const hole = { beam, fieldScale, zMm, kind: 'round', clearMm, atMm: [0, 0] } as const;
      if (illumination(corner, { holes: [hole], bars: [], obstruction }, COARSE_LINES) >= this.floor) high = clearMm;
      else low = clearMm;
    }
    return low;
  }

  /**
   * The narrowest part that may stand in a gap, mm: in the best place of it, it leaves the corners enough. A narrower
   * one takes too much by itself, whatever stands beside it.
   */
  narrowestIn(gap: string): number {
    const known = this.#narrowest.get(gap);
    if (known !== undefined) return known;
    const place = this.#places.get(gap);
    let least = place ? this.#enoughAt(place, place.nearMm) : HAIR_MM;
    // A pupil ahead of the sensor may draw the beam together on its way from it; along a gap what is needed is as good
    // as straight, so that its ends tell.
    if (place?.beams.some(({ pupilMm }) => pupilMm > 0 && Number.isFinite(pupilMm))) {
      least = Math.min(
        least,
        this.#enoughAt(place, (place.nearMm + place.farMm) / 2),
        this.#enoughAt(place, place.farMm)
      );
    }
    const narrowestMm = least - HAIR_MM;
    this.#narrowest.set(gap, narrowestMm);
    return narrowestMm;
  }

  /** Clear diameter that takes nothing from the corners anywhere, mm. */
  get neededMm(): number {
    return Math.max(0, ...[...this.#places.keys()].map((gap) => this.neededIn(gap)));
  }

  /** Whether a part so wide is refused in some gap. */
  refuses(clearMm: number): boolean {
    return [...this.#places.keys()].some((gap) => clearMm < this.narrowestIn(gap));
  }
}

/**
 * What the light asks of parts in the gaps of a train.
 *
 * @param wanted share of the light the corners are to get; as the train says where undefined
 * @returns undefined where nothing is asked, or the sensor is not known
 */
export function beamLimitOf(facts: Facts, wanted?: number): BeamLimit | undefined {
  const { light } = facts;
  return light && wanted !== 0 ? new BeamLimit(facts, light, wanted ?? light.wanted) : undefined;
}
