import { illuminationMap, type Optics } from '@lodestone/core/light';
import { expose } from 'comlink';

/** Light maps away from the page, which goes on answering. */
const maps = {
  /** Shares row by row from the lower left, see `illuminationMap`. */
  map: (size: readonly [number, number], cells: readonly [number, number], optics: Optics): Float64Array =>
    illuminationMap(size, cells, optics)
};

export type LightWorker = typeof maps;
expose(maps);
