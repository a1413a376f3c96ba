import experiment from './experiment.worker.ts?worker&url';
import finder from './finder.worker.ts?worker&url';
import frame from './frame.worker.ts?worker&url';

let isWarm = false;

/**
 * Fetches the workers that Tune needs before anybody asks for them: at the telescope the network may be gone by then.
 * They never change under their names, so that the browser's own cache gives them.
 */
export function warmWorkers(): void {
  if (isWarm) return;
  isWarm = true;
  for (const url of [frame, experiment, finder]) void fetch(url).catch(() => (isWarm = false));
}
