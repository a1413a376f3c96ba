import type { StackTask } from './task.ts';

/** A multiset of shims. */
export interface ShimSet {
  shims: number[];
  sum: number;
  buys: number;
  price: number;
}

/** Every multiset of exactly `count` shims, thickest first. */
export function shimSets({ shims, groups }: StackTask, count: number): ShimSet[] {
  const order = shims.map((_shim, index) => index).sort((a, b) => shims[b]!.length - shims[a]!.length);
  const found: ShimSet[] = [];
  const add = (from: number, chosen: number[]): void => {
    if (chosen.length === count) {
      found.push({
        shims: [...chosen],
        sum: chosen.reduce((sum, shim) => sum + shims[shim]!.length, 0),
        buys: chosen.reduce((sum, shim) => sum + groups[shims[shim]!.group]!.buy, 0),
        price: chosen.reduce((sum, shim) => sum + groups[shims[shim]!.group]!.price, 0)
      });
      return;
    }
    for (let at = from; at < order.length; at++) {
      const shim = order[at]!;
      const used = chosen.filter((each) => each === shim).length;
      if (used >= groups[shims[shim]!.group]!.parts.length) continue;
      chosen.push(shim);
      add(at, chosen);
      chosen.pop();
    }
  };
  add(0, []);
  return found;
}
