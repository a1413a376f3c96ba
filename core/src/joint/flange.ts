import type { Port } from '../train/model.ts';

/** From the face of a T-ring to the sensor, mm (common practice, no source; handbook §3). */
export const T_MOUNT_MM = 55;

/** The flange distance that a bayonet’s name carries, mm: `dslr-44.0`. */
export function flangeOf(port: Port | undefined): number | undefined {
  if (!port || !('bayonet' in port)) return undefined;
  const [, figure] = /(\d+(?:\.\d+)?)\s*(?:mm)?\s*$/i.exec(port.bayonet) ?? [];
  const flangeMm = Number(figure);
  return flangeMm >= 10 && flangeMm <= 100 ? flangeMm : undefined;
}
