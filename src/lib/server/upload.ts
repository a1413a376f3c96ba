import { error } from '@sveltejs/kit';
import { Gone } from './gate.ts';
import { piecesWithin, refuseSize } from './requests.ts';
import { withPath, writeFile, type WrittenFile } from './scratch.ts';

/**
 * Takes a request's body into a file, and works with that: memory holds no more than a piece of it.
 *
 * @param limit bytes; a body that claims to have more is refused before any of it is read
 * @throws 413, 400 where there is no body, Gone where it breaks off
 */
export async function withUpload<T>(
  request: Request,
  limit: number,
  work: (upload: WrittenFile) => Promise<T>
): Promise<T> {
  const claimed = Number(request.headers.get('content-length') ?? 0);
  if (claimed > limit) refuseSize(claimed, limit);
  return withPath(async (path) => {
    const upload = await writeFile(path, piecesWithin(request, limit)).catch((failure: unknown) => {
      const isBroken = failure instanceof Error && /aborted|ECONNRESET|terminated/i.test(failure.message);
      throw isBroken ? new Gone('The request was given up.') : failure;
    });
    if (upload.size === 0) {
      error(400, 'The request has no body: send the file as it is, for example with curl --data-binary @FILE.');
    }
    return work(upload);
  });
}

/**
 * Works for whoever asks for as long as they are there.
 *
 * @param work with a signal that is aborted once they have left
 */
export async function whileThere<T>(
  { request, platform }: { request: Request; platform?: Readonly<App.Platform> | undefined },
  work: (signal: AbortSignal) => Promise<T>
): Promise<T> {
  // Once its body was read, a request hears no more of its connection: the connection itself does.
  const socket = platform?.req.socket;
  if (!socket) return work(request.signal);
  const left = new AbortController();
  const leave = (): void => left.abort();
  if (socket.destroyed) leave();
  socket.once('close', leave);
  try {
    return await work(AbortSignal.any([request.signal, left.signal]));
  } finally {
    socket.off('close', leave);
  }
}
