import type { PartUse } from '@lodestone/core/drawer';

/** Copies that stand in assembled trains, but for some trains, by part. */
export function tiedBut(uses: readonly PartUse[], trains: readonly string[]): [string, number][] {
  const counts = new Map<string, number>();
  for (const { partId, trainId, assembled } of uses) {
    if (assembled && !trains.includes(trainId)) counts.set(partId, (counts.get(partId) ?? 0) + 1);
  }
  return [...counts];
}
