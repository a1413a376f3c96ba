import { strangersParts, type StrangersPart } from '@lodestone/core/drawer';
import type { Train } from '@lodestone/core/train';
import { fetchDrawer } from '$lib/parts/transport.ts';

/** Parts of a train that are not those of the drawer on this server. @throws where the drawer cannot be read */
export async function strangersIn(train: Train): Promise<StrangersPart[]> {
  const { parts } = await fetchDrawer();
  return strangersParts(
    train,
    parts.map(({ part }) => part)
  );
}
