import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus';
import { normalOf, uniformOf } from '../src/stats/random.ts';

/** Random numbers of a seed: even ones between 0 and 1, and normal ones. */
export function dice(seed: number): { uniform: () => number; normal: () => number } {
  const random = xoroshiro128plus(seed);
  // The first numbers of small seeds are much alike.
  for (let idle = 0; idle < 20; idle++) random.next();
  const uniform = (): number => uniformOf(random);
  return { uniform, normal: () => normalOf(uniform) };
}
