import { nightsOf } from '@lodestone/core/nights';
import { isReadable } from '$lib/api/trains.ts';
import { listTrains } from '$lib/server/trains.ts';

/** Nights of every train that can be read and was not deleted; archived ones had theirs too. */
export async function load({ locals }) {
  const trains = (await listTrains(locals.owner)).filter(isReadable);
  return {
    trains: trains.flatMap(({ id, document }) => {
      const nights = nightsOf(document);
      return nights.length === 0 ? [] : [{ id, name: document.name, nights }];
    })
  };
}
