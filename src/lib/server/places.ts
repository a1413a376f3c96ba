import { locationSteps } from '@lodestone/core/drawer';
import type { Queryable } from './database.ts';

interface Place {
  parent: string | null;
  name: string;
}

/** Places at one depth, each once, in one order whoever asks: two that make the same never wait for each other. */
function placesAt(depth: number, walks: readonly string[][], ids: ReadonlyMap<string, string>): Map<string, Place> {
  const places = new Map<string, Place>();
  for (const steps of walks.filter(({ length }) => length > depth)) {
    const path = steps.slice(0, depth + 1).join(' / ');
    places.set(path, { parent: ids.get(steps.slice(0, depth).join(' / ')) ?? null, name: steps[depth]! });
  }
  return new Map([...places].sort(([a], [b]) => (a < b ? -1 : 1)));
}

/**
 * Ids of places, made where they are missing: two statements for each level, however many places there are.
 *
 * @param paths as `Shed / Tin 2`
 * @returns ids by path
 */
export async function ensurePlaces(
  owner: string,
  paths: ReadonlySet<string>,
  on: Queryable
): Promise<ReadonlyMap<string, string>> {
  const ids = new Map<string, string>();
  const walks = [...paths].map(locationSteps);
  const deepest = walks.reduce((most, { length }) => Math.max(most, length), 0);
  for (let depth = 0; depth < deepest; depth++) {
    const places = placesAt(depth, walks, ids);
    const asked = JSON.stringify([...places].map(([path, { parent, name }]) => ({ path, parent, name })));
    await on.query(
      `insert into location (owner, parent_id, name)
       select $1, parent, name
         from jsonb_to_recordset($2::jsonb) as asked (path text, parent bigint, name text)
       on conflict (owner, parent_id, name) do nothing`,
      [owner, asked]
    );
    const { rows } = await on.query<{ path: string; id: string }>(
      `select asked.path, location.id
         from jsonb_to_recordset($2::jsonb) as asked (path text, parent bigint, name text)
         join location on location.owner = $1 and location.name = asked.name
                      and location.parent_id is not distinct from asked.parent`,
      [owner, asked]
    );
    for (const { path, id } of rows) ids.set(path, id);
  }
  return ids;
}
