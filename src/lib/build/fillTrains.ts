import { apply, type Train } from '@lodestone/core/train';
import { fillOperation, type Solution } from '@lodestone/core/finder';
import type { StoredTrain } from '$lib/api/trains.ts';
import type { Save, SaveReply } from '$lib/train/transport.ts';

export type SendSave = (id: string, save: Save) => Promise<SaveReply>;

/** A train that was filled here, as it was and as it is. */
export interface Filled {
  before: StoredTrain;
  after: StoredTrain;
}

async function stored(send: SendSave, on: StoredTrain, document: Train): Promise<StoredTrain> {
  const save = { saveId: crypto.randomUUID(), basedOn: on.revision.number, document };
  const reply = await send(on.id, save);
  if (reply.kind === 'stored') return reply.stored;
  throw new Error(
    reply.kind === 'stale'
      ? `${on.document.name} was changed meanwhile: search again.`
      : `${on.document.name}: ${reply.message}`
  );
}

/** Gives trains back what they were before they were filled, unless somebody has changed them since. */
export async function emptyAgain(filled: readonly Filled[], send: SendSave): Promise<void> {
  for (const { before, after } of filled) await stored(send, after, before.document);
}

/**
 * Fills trains that are not open here, each as a revision of its own: all of them or none.
 *
 * @throws Error naming the train that could not be filled; those filled before it are given back what they were
 */
export async function fillTrains(
  trains: readonly StoredTrain[],
  stacks: readonly Solution[],
  send: SendSave
): Promise<Filled[]> {
  const filled: Filled[] = [];
  try {
    for (const [index, before] of trains.entries()) {
      const document = apply(before.document, fillOperation(before.document, stacks[index]!));
      filled.push({ before, after: await stored(send, before, document) });
    }
  } catch (error) {
    await emptyAgain(filled, send);
    throw error;
  }
  return filled;
}
