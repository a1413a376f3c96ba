import type { Port, ThreadPort } from '../train/model.ts';
import { facesJoin } from './mate.ts';
import { enters } from './seating.ts';
import { parseThread } from './thread.ts';

/** How a part stands that comes next to a ring in a bore. */
export interface SeatedInBore {
  /** What is left of the bore, where the part is screwed into it and not into the ring. */
  port: ThreadPort | undefined;
  /** From the ring to the rim, mm, where the part stands on the rim. */
  rimMm: number;
}

/**
 * How a part stands that comes next to a ring which has sunk into a bore and left some of it (handbook §3): screwed into
 * the ring it follows it into the bore, or, too wide for that, stands on the rim; where it does not fit the ring it is
 * screwed into the bore beside it, a second ring without a shoulder on the first, anything else on the rim.
 *
 * @param ring face of the ring
 * @param face face of the part toward it
 * @param bore what is left of the bore
 * @param bodyMm how wide the part is, mm; undefined where that is not known
 */
export function seatedInBore(
  ring: Port | undefined,
  face: Port | undefined,
  bore: { port: ThreadPort; leftMm: number },
  bodyMm: number | undefined
): SeatedInBore {
  const isRing = face !== undefined && 'thread' in face && face.gender === 'male' && face.shoulder === false;
  const intoRing = facesJoin(ring, face);
  const narrow = enters(bodyMm, parseThread(bore.port.thread));
  const rimMm = narrow ? 0 : bore.leftMm;
  // A ring that fills a bore has no room for the same thread inside it: a second ring like it stands beside it.
  if (!facesJoin(bore.port, face) || (intoRing && !isRing)) return { port: undefined, rimMm };
  // A flange stands on the rim, however narrow.
  return { port: { ...bore.port, lengthMm: bore.leftMm }, rimMm: isRing ? rimMm : bore.leftMm };
}
