import { readTrain, type Host } from '@lodestone/core/train';
import { isReadable } from '$lib/api/trains.ts';
import { listTrains } from '$lib/server/trains.ts';

const MOST = 50;

/** Telescopes of the owner's trains, each once by its name: most trains are begun with one that is there. */
export const load = async ({ locals }) => {
  const hosts = new Map<string, Host>();
  for (const train of await listTrains(locals.owner)) {
    if (train.state === 'deleted' || !isReadable(train)) continue;
    const reading = readTrain(train.document);
    if (reading.ok && !hosts.has(reading.document.host.name))
      hosts.set(reading.document.host.name, reading.document.host);
  }
  return { hosts: [...hosts.values()].slice(0, MOST) };
};
