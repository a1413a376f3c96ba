import { EventEmitter } from 'node:events';
import type { StoredTrain } from '$lib/api/trains.ts';

const saves = new EventEmitter().setMaxListeners(0);
const endings = new Set<() => void>();

/** Tells everybody who has the train open that it has a new revision. */
export const publish = (train: StoredTrain): void => void saves.emit(train.id, train.revision.number);

const HEARTBEAT_MS = 20_000;

/** Server-sent events of one train: the number of each new revision, from the newest on. */
export function revisionStream(id: string, head: number): ReadableStream<Uint8Array> {
  const encoder = new TextEncoder();
  let end = (): void => undefined;
  return new ReadableStream({
    start(controller) {
      const send = (number: number): void => controller.enqueue(encoder.encode(`data: ${number}\n\n`));
      const heartbeat = setInterval(() => controller.enqueue(encoder.encode(': here\n\n')), HEARTBEAT_MS);
      end = () => {
        clearInterval(heartbeat);
        saves.off(id, send);
        endings.delete(close);
      };
      const close = (): void => {
        end();
        controller.close();
      };
      endings.add(close);
      saves.on(id, send);
      send(head);
    },
    cancel: () => end()
  });
}

/** Ends every open stream, so that the server can stop. */
export const endStreams = (): void => [...endings].forEach((close) => close());
