import type { Axis } from '../length/axis.ts';
import { HOST, isBody, isCamera, isShim, isSolid, type Attached, type Train } from '../train/model.ts';

/** Standard acceleration of free fall, m/s² (3rd CGPM, 1901). */
export const GRAVITY = 9.80665;

/** Something that hangs behind the host's camera face. */
export interface Hanging {
  /** Element it is, or hangs on. */
  id: string;
  name: string;
  massG: number;
  /** Its centre of mass from the host's camera face, toward the camera, mm. */
  behindMm: number;
  /** It hangs on the element without standing in the beam. */
  isAttached: boolean;
}

/** A rating, and what it has to carry. */
export interface LoadLimit {
  /** Element id, or `host`. */
  at: string;
  massKg: number;
  maxKg: number;
  ok: boolean;
}

/** A rating with what of its load is not weighed: ids of elements that hang behind it. */
export interface LimitWithUnweighed extends LoadLimit {
  unweighed: readonly string[];
}

/** What hangs on the host, as `check --json` prints it. */
export interface LoadReport {
  massG: number;
  /** From the host's camera face, mm; null where nothing is weighed. */
  centreOfMassMm: number | null;
  /** About the host's camera face with the axis level, N·m. */
  momentNm: number;
  /** Elements whose mass is not stated: what is told is a least. */
  unweighed: string[];
  limits: LoadLimit[];
}

/** Masses are told in grams, lengths in mm. @returns N·m */
export const momentOf = (massG: number, armMm: number): number => (GRAVITY * massG * armMm) / 1e6;

/** Everything that hangs behind the host's camera face, and what it does to the faces that carry it. */
export class Load {
  readonly hanging: readonly Hanging[];
  readonly unweighed: readonly string[];
  readonly limits: readonly LimitWithUnweighed[];
  readonly #order: readonly string[];

  constructor(train: Train, axis: Axis) {
    const hanging: Hanging[] = [];
    const unweighed: string[] = [];
    const { elements, host } = train;
    elements.forEach((element, index) => {
      const { fromMm, toMm } = axis.bodies[index]!;
      const behind = (alongMm: number): number => alongMm - axis.hostFaceMm;
      const { id, name } = element;
      if (!isSolid(element)) return;
      const { massG } = element;
      if (massG !== undefined) {
        const massAtMm = isBody(element) || isCamera(element) ? element.massAtMm : undefined;
        const atMm = massAtMm === undefined ? (fromMm + toMm) / 2 : fromMm + massAtMm;
        hanging.push({ id, name, massG, behindMm: behind(atMm), isAttached: false });
        // A shim weighs a gram or two: nobody puts it on a scale.
      } else if (!isShim(element)) unweighed.push(id);
      const attached: readonly Attached[] = isShim(element) ? [] : (element.attached ?? []);
      for (const each of attached) {
        const behindMm = behind(fromMm + each.alongMm);
        hanging.push({ id, name: each.name, massG: each.massG, behindMm, isAttached: true });
      }
    });
    this.hanging = hanging;
    this.unweighed = unweighed;
    const massBehind = (index: number): number => {
      const later = new Set(elements.slice(index + 1).map(({ id }) => id));
      return hanging.reduce((sum, each) => (later.has(each.id) ? sum + each.massG : sum), 0);
    };
    this.#order = elements.map(({ id }) => id);
    const limit = (at: string, massG: number, maxKg: number): LimitWithUnweighed => ({
      at,
      massKg: massG / 1000,
      maxKg,
      ok: massG / 1000 <= maxKg + 1e-9,
      unweighed: this.unweighedFrom(this.#order.indexOf(at) + 1)
    });
    this.limits = [
      ...(host.focuser?.maxLoadKg === undefined ? [] : [limit(HOST, massBehind(-1), host.focuser.maxLoadKg)]),
      ...elements.flatMap((element, index) => {
        const maxKg = isBody(element) ? element.maxLoadKg : undefined;
        return maxKg === undefined ? [] : [limit(element.id, massBehind(index), maxKg)];
      })
    ];
  }

  /** Elements from an index on whose mass is not stated: what hangs behind a joint there. */
  unweighedFrom(index: number): string[] {
    const behind = new Set(this.#order.slice(index));
    return this.unweighed.filter((id) => behind.has(id));
  }

  get massG(): number {
    return this.hanging.reduce((sum, { massG }) => sum + massG, 0);
  }

  /** From the host's camera face, mm; undefined where nothing is weighed. */
  get centreOfMassMm(): number | undefined {
    const { massG } = this;
    return massG === 0 ? undefined : this.hanging.reduce((sum, each) => sum + each.massG * each.behindMm, 0) / massG;
  }

  /** About the host's camera face with the axis level, N·m. */
  get momentNm(): number {
    return this.hanging.reduce((sum, { massG, behindMm }) => sum + momentOf(massG, behindMm), 0);
  }

  /** Of everything behind one element's sky face about that face, axis level, N·m. @param index of the element */
  momentBehind(train: Train, axis: Axis, index: number): number {
    const faceMm = axis.spans[index]!.fromMm - axis.hostFaceMm;
    const later = new Set(train.elements.slice(index).map(({ id }) => id));
    return this.hanging.reduce(
      (sum, { id, massG, behindMm }) => (later.has(id) ? sum + momentOf(massG, behindMm - faceMm) : sum),
      0
    );
  }

  get report(): LoadReport {
    return {
      massG: this.massG,
      centreOfMassMm: this.centreOfMassMm ?? null,
      momentNm: this.momentNm,
      unweighed: [...this.unweighed],
      limits: this.limits.map(({ unweighed: _unweighed, ...limit }) => limit)
    };
  }
}
