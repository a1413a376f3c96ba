import { isFilling } from '../finder/task.ts';
import { facesJoin } from '../joint/mate.ts';
import { partLength, type Part } from '../drawer/part.ts';
import { isBody, isShim, type BodyElement } from '../train/model.ts';

/** Rings that go in and come out on the way from one spacing to another, by their numbers. */
export interface RingChange {
  spacingMm: number;
  in: string[];
  out: string[];
}

/** Rings moved at most. */
const MOST_MOVED = 3;
/** As near as this is as good, mm: fewer rings are better then. */
const ALIKE_MM = 0.1;
/** Rings looked at, those whose lengths differ. */
const MOST_LENGTHS = 60;

/**
 * Whether a ring adds its own length wherever it is put: it goes between any two parts that it joins (its two faces join
 * each other), and stands on a shoulder. What a ring without a shoulder adds, only the bore it sinks into tells, and what
 * one adds whose thread is longer than its own bore is deep, only its neighbour.
 */
function goesAnywhere({ element }: Part): boolean {
  if (isShim(element)) return true;
  if (!isBody(element)) return false;
  const { sky, camera } = element;
  const sinks = [sky, camera].some((port) => port !== undefined && 'thread' in port && port.shoulder === false);
  return !sinks && (sky === undefined || camera === undefined || facesJoin(camera, sky)) && !standsOff(element);
}

/**
 * Whether a ring would stand off its like: its male thread is longer than its bore is deep, as far as both are stated.
 * Rings that would not all close on each other in some order, that of how deep they are.
 */
function standsOff({ sky, camera }: BodyElement): boolean {
  const lengthOf = (gender: 'male' | 'female'): number | undefined => {
    const port = [sky, camera].find((each) => each !== undefined && 'thread' in each && each.gender === gender);
    return port && 'lengthMm' in port ? port.lengthMm : undefined;
  };
  const [reach, deep] = [lengthOf('male'), lengthOf('female')];
  return reach !== undefined && deep !== undefined && reach > deep;
}

/**
 * The spacing nearest to a wanted one that the rings of a drawer make of another, where nothing is known of the train
 * but its spacing: at most three rings go in, or one goes in for one that comes out. Nothing is tried in a train here.
 *
 * @returns undefined where no change comes nearer
 */
export function nearestByRings(fromMm: number, wantedMm: number, parts: readonly Part[]): RingChange | undefined {
  const byLength = new Map<number, Part[]>();
  for (const part of parts) {
    if (!part.owned || part.state === 'set-aside' || !isFilling(part) || !goesAnywhere(part)) continue;
    const length = Number(partLength(part).toFixed(3));
    if (!(length > 0)) continue;
    const copies = Array.from({ length: Math.min(MOST_MOVED, part.quantity) }, () => part);
    byLength.set(length, [...(byLength.get(length) ?? []), ...copies]);
  }
  const lengths = [...byLength.keys()].sort((a, b) => a - b).slice(0, MOST_LENGTHS);
  let best: RingChange | undefined;
  const offOf = ({ spacingMm }: RingChange): number => Math.abs(spacingMm - wantedMm);
  const moved = (change: RingChange): number => change.in.length + change.out.length;
  const offer = (change: RingChange): void => {
    if (offOf(change) >= Math.abs(fromMm - wantedMm)) return;
    const isBetter =
      !best ||
      offOf(change) < offOf(best) - ALIKE_MM ||
      (offOf(change) < offOf(best) + ALIKE_MM && moved(change) < moved(best)) ||
      (offOf(change) < offOf(best) && moved(change) === moved(best));
    if (isBetter) best = change;
  };
  /** Numbers of rings of these lengths; undefined where there are not so many. */
  const numbers = (wanted: readonly number[]): string[] | undefined => {
    const taken = new Map<number, number>();
    const ids: string[] = [];
    for (const length of wanted) {
      const at = taken.get(length) ?? 0;
      const part = byLength.get(length)?.[at];
      if (!part) return undefined;
      taken.set(length, at + 1);
      ids.push(part.partId);
    }
    return ids;
  };
  const put = (rings: readonly number[], from: number): void => {
    if (rings.length > 0) {
      const ids = numbers(rings);
      if (ids) offer({ spacingMm: fromMm + rings.reduce((a, b) => a + b, 0), in: ids, out: [] });
    }
    if (rings.length === MOST_MOVED) return;
    for (let at = from; at < lengths.length; at++) put([...rings, lengths[at]!], at);
  };
  put([], 0);
  for (const out of lengths) {
    offer({ spacingMm: fromMm - out, in: [], out: numbers([out])! });
    for (const into of lengths) {
      if (into === out) continue;
      offer({ spacingMm: fromMm + into - out, in: numbers([into])!, out: numbers([out])! });
    }
  }
  return best;
}
