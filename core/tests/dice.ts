import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus';

/** Random numbers of a seed: even ones between 0 and 1, and normal ones (Box and Muller 1958). */
export function dice(seed: number): { uniform: () => number; normal: () => number } {
  const random = xoroshiro128plus(seed);
  // The first numbers of small seeds are much alike.
  for (let idle = 0; idle < 20; idle++) random.next();
  const uniform = (): number => ((random.next() >>> 0) + 0.5) / 2 ** 32;
  const normal = (): number => Math.sqrt(-2 * Math.log(uniform())) * Math.cos(2 * Math.PI * uniform());
  return { uniform, normal };
}
