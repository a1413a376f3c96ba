import { actorOf } from './acting.ts';

/** A reading that runs, and the one after it that others wait for. */
interface Line {
  running: Promise<unknown>;
  next: Promise<unknown> | undefined;
}

const lines = new Map<string, Line>();

/**
 * Reads once for all who ask while it is being read: who comes meanwhile gets the next reading, never the one that
 * runs, since that may have begun before something they know to be stored.
 */
export function shared<T>(what: string, owner: string, read: () => Promise<T>): Promise<T> {
  // Who looks at another's sees less of it.
  const key = `${what} of ${owner} for ${actorOf(owner)}`;
  const line = lines.get(key);
  if (line) return (line.next ??= line.running.then(ignored, ignored).then(() => begin(key, read))) as Promise<T>;
  return begin(key, read);
}

const ignored = (): void => undefined;

function begin<T>(key: string, read: () => Promise<T>): Promise<T> {
  const running = read();
  const line: Line = { running, next: undefined };
  lines.set(key, line);
  const end = (): void => {
    // The next one, where there is any, has put itself in this one's place.
    if (line.next === undefined) lines.delete(key);
  };
  running.then(end, end);
  return running;
}
