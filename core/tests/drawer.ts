import { readDrawer, type Part } from '../src/drawer/index.ts';
import { complaintLine, type Port } from '../src/train/index.ts';

export const male = (thread: string, lengthMm = 4): Port => ({ thread, gender: 'male', lengthMm });
export const female = (thread: string, lengthMm = 5): Port => ({ thread, gender: 'female', lengthMm });

/** A drawer from the documents of its parts; what is left out is a ring M48 female to male. */
export function drawer(...parts: ({ partId: string } & Record<string, unknown>)[]): Part[] {
  const reading = readDrawer({
    lodestone: 'drawer/1',
    parts: parts.map((part) => ({
      kind: 'spacer',
      name: part.partId,
      lengthMm: 10,
      ...(part.kind === 'shim' ? {} : { sky: female('M48x0.75'), camera: male('M48x0.75') }),
      ...part
    }))
  });
  if (!reading.ok) throw new Error(reading.complaints.map(complaintLine).join('; '));
  return reading.document;
}
