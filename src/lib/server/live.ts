import { EventEmitter } from 'node:events';
import type { StoredTrain } from '$lib/api/trains.ts';

const changes = new EventEmitter().setMaxListeners(0);
const endings = new Set<() => void>();

/** What the drawer is called among the ids of trains. */
export const DRAWER = 'drawer';

/** Tells everybody who has the train open that it has a new revision. */
export const publish = (train: StoredTrain): void => void changes.emit(train.id, train.revision.number);

let drawerChanges = 0;

/** Tells everybody who looks at the drawer that something in it, or who holds it, has changed. */
export const publishDrawer = (): void => void changes.emit(DRAWER, ++drawerChanges);

export const drawerChangeCount = (): number => drawerChanges;

const HEARTBEAT_MS = 20_000;

/** Server-sent events of one train, or of the drawer: the number of each new state, from the newest on. */
export function changeStream(id: string, head: number): ReadableStream<Uint8Array> {
  const encoder = new TextEncoder();
  let end = (): void => undefined;
  return new ReadableStream({
    start(controller) {
      const send = (number: number): void => controller.enqueue(encoder.encode(`data: ${number}\n\n`));
      const heartbeat = setInterval(() => controller.enqueue(encoder.encode(': here\n\n')), HEARTBEAT_MS);
      end = () => {
        clearInterval(heartbeat);
        changes.off(id, send);
        endings.delete(close);
      };
      const close = (): void => {
        end();
        controller.close();
      };
      endings.add(close);
      changes.on(id, send);
      send(head);
    },
    cancel: () => end()
  });
}

/** Ends every open stream, so that the server can stop. */
export const endStreams = (): void => [...endings].forEach((close) => close());
