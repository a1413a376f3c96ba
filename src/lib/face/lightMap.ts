import type { Light, Optics } from '@lodestone/core/light';
import type { LightWorker } from '../workers/light.worker.ts';
import { CalledOff, HeldWorker } from '../workers/ask.ts';
import { startLight } from '../workers/start.ts';

/** Illumination over a sensor. */
export interface LightMap {
  columns: number;
  rows: number;
  /** Row by row from the lower left, shares of the light. */
  shares: Float64Array;
  /** At the middle of the sensor. */
  centre: number;
}

/** Cells along the longer side of the sensor. */
const CELLS = 64;

/** Cells that a map of a sensor has. */
export function cellsOf({ widthMm, heightMm }: Light['sensor']): readonly [number, number] {
  const longer = Math.max(widthMm, heightMm);
  const count = (sideMm: number): number => Math.max(8, Math.round((CELLS * sideMm) / longer));
  return [count(widthMm), count(heightMm)];
}

/** Makes light maps in a worker; what is asked for anew while one is made is made after it, and what lies between never. */
export class LightMaps {
  #worker: HeldWorker<LightWorker> | undefined;
  #busy = false;
  #next: (() => Promise<void>) | undefined;

  /** In the browser only. @throws where none can be made; not where they were ended meanwhile */
  async of(light: Light, optics: Optics, take: (map: LightMap) => void): Promise<void> {
    const make = async (): Promise<void> => {
      if (!this.#worker || this.#worker.isOver) this.#worker = new HeldWorker(startLight);
      const { widthMm, heightMm } = light.sensor;
      const cells = cellsOf(light.sensor);
      const shares = await this.#worker.ask<Float64Array>((maps) => maps.map([widthMm, heightMm], cells, optics));
      const [columns, rows] = cells;
      const middle = Math.floor(rows / 2) * columns + Math.floor(columns / 2);
      take({ columns, rows, shares, centre: shares[middle]! });
    };
    if (this.#busy) {
      this.#next = make;
      return;
    }
    this.#busy = true;
    try {
      await make();
      while (this.#next) {
        const next = this.#next;
        this.#next = undefined;
        await next();
      }
    } catch (error) {
      this.#next = undefined;
      if (!(error instanceof CalledOff)) throw error;
    } finally {
      this.#busy = false;
    }
  }

  end(): void {
    this.#worker?.end();
    this.#next = undefined;
  }
}
