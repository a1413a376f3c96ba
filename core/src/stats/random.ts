import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus';

/** A source of whole numbers of 32 bits. */
interface Source {
  next(): number;
}

/** The next number of a source, evenly between 0 and 1, neither of them. */
export const uniformOf = (source: Source): number => ((source.next() >>> 0) + 0.5) / 2 ** 32;

/** A normal number out of two even ones (Box and Muller 1958). @param uniform between 0 and 1, never 0 */
export const normalOf = (uniform: () => number): number =>
  Math.sqrt(-2 * Math.log(uniform())) * Math.cos(2 * Math.PI * uniform());

/** Two normal numbers out of two even ones (Box and Muller 1958). @param uniform between 0 and 1, never 0 */
export function normalPairOf(uniform: () => number, standard = 1): [number, number] {
  const radius = Math.sqrt(-2 * Math.log(uniform())) * standard;
  const angle = 2 * Math.PI * uniform();
  return [radius * Math.cos(angle), radius * Math.sin(angle)];
}

/** Random numbers of one seed: even ones between 0 and 1, and normal ones. */
export function dice(seed: number): { uniform: () => number; normal: () => number } {
  const source = xoroshiro128plus(seed);
  // The first numbers of small seeds are much alike.
  for (let idle = 0; idle < 20; idle++) source.next();
  const uniform = (): number => uniformOf(source);
  let spare: number | undefined;
  const normal = (): number => {
    if (spare !== undefined) {
      const kept = spare;
      spare = undefined;
      return kept;
    }
    const [first, second] = normalPairOf(uniform);
    spare = second;
    return first;
  };
  return { uniform, normal };
}
