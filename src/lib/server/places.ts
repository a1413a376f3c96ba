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
                      and ${depth === 0 ? 'location.parent_id is null' : 'location.parent_id = asked.parent'}`,
      [owner, asked]
    );
    for (const { path, id } of rows) ids.set(path, id);
  }
  return ids;
}

/** Places as paths, `Shed / Tin 2`, by id: each with all it lies in. */
export async function placePaths(
  owner: string,
  ids: ReadonlySet<string>,
  on: Queryable
): Promise<ReadonlyMap<string, string>> {
  if (ids.size === 0) return new Map();
  const { rows } = await on.query<{ id: string; parent_id: string | null; name: string }>(
    `with recursive up as (
       select id, parent_id, name from location where owner = $1 and id = any ($2)
       union
       select location.id, location.parent_id, location.name
         from location join up on location.id = up.parent_id
        where location.owner = $1
     )
     select id, parent_id, name from up`,
    [owner, [...ids]]
  );
  const places = new Map(rows.map((row) => [row.id, row]));
  const pathOf = (id: string): string => {
    const { parent_id, name } = places.get(id)!;
    return parent_id === null ? name : `${pathOf(parent_id)} / ${name}`;
  };
  return new Map([...ids].map((id) => [id, pathOf(id)]));
}
