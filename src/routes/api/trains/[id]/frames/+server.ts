import { MAX_FRAME_BYTES } from '$lib/api/frames.ts';
import { validateTrainPath } from '$lib/api/generated/validate.js';
import { NotAPicture, readFrameFile } from '$lib/server/errands/index.ts';
import { listFrames, storeFrame } from '$lib/server/frames.ts';
import { Gate } from '$lib/server/gate.ts';
import { readPath } from '$lib/server/requests.ts';
import { readRevision } from '$lib/server/revisions.ts';
import { whileThere, withUpload } from '$lib/server/upload.ts';
import type { RowOrder } from '@lodestone/core/frame';
import { rowOrderOf } from '@lodestone/core/train';
import { error, json } from '@sveltejs/kit';

const LONGEST_NAME = 200;

/** Frames of a train, the newest first; `?after=N` only those with a higher number. */
export async function GET({ params, url, locals }) {
  const { id } = readPath(params, validateTrainPath);
  const after = url.searchParams.get('after') ?? '0';
  if (!/^\d{1,9}$/.test(after)) error(400, `after: “${after.slice(0, 40)}” is no number of a frame.`);
  return json(await listFrames(locals.owner, id, Number(after)));
}

/** So many bodies are read at once, and so many wait for that, unread: a place is taken before the first byte. */
const intake = new Gate('frames', { atOnce: 3, waiting: 12 });

/**
 * Takes a frame from a capture program (FITS, gzip around it or not), reads it and keeps it; `?name=` is what it is called.
 * Of a file with several pictures `?picture=N` says which.
 */
export async function POST({ params, url, request, locals, platform }) {
  const { id } = readPath(params, validateTrainPath);
  const name = (url.searchParams.get('name') ?? '').trim();
  // Control characters and halves of letters cannot be stored.
  if (name.length > LONGEST_NAME || /\p{Cc}|\p{Cs}/u.test(name)) {
    error(400, `name: at most ${LONGEST_NAME} letters, and none of them a control character.`);
  }
  const picture = url.searchParams.get('picture') ?? undefined;
  if (picture !== undefined && !/^[1-9]\d{0,3}$/.test(picture))
    error(400, 'picture: the number of a picture, from 1 on.');
  const train = (await readRevision(locals.owner, id)) ?? error(404, 'There is no such train.');
  if (train.state === 'deleted') error(410, 'This train was deleted.');
  return whileThere({ request, platform }, (signal) =>
    intake.run(
      () =>
        take(request, signal, locals.owner, id, {
          name: name || 'Frame',
          picture: picture === undefined ? undefined : Number(picture),
          rowOrder: rowOrderOf(train.document)
        }),
      signal
    )
  );
}

async function take(
  request: Request,
  signal: AbortSignal,
  owner: string,
  trainId: string,
  { name, picture, rowOrder }: { name: string; picture: number | undefined; rowOrder: RowOrder | undefined }
): Promise<Response> {
  try {
    return await withUpload(request, MAX_FRAME_BYTES, async (upload) => {
      const summary = await readFrameFile(upload.path, { signal, picture, rowOrder });
      const stored = await storeFrame(owner, trainId, name, upload, summary);
      if (!stored) error(404, 'There is no such train.');
      return json(stored.frame, { status: stored.isNew ? 201 : 200 });
    });
  } catch (refused) {
    if (!(refused instanceof NotAPicture)) throw refused;
    error(415, refused.message);
  }
}
