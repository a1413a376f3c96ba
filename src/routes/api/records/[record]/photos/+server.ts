import { validateRecordPath } from '$lib/api/generated/validate.js';
import { MOST_PHOTOS } from '$lib/api/records.ts';
import { NotAPicture } from '$lib/server/errands/index.ts';
import { MAX_PHOTO_BYTES, NO_PICTURE } from '$lib/server/photos.ts';
import { addRecordPhoto } from '$lib/server/records.ts';
import { readPath } from '$lib/server/requests.ts';
import { withUpload } from '$lib/server/upload.ts';
import { error, json } from '@sveltejs/kit';

export async function POST({ params, request, locals }) {
  const { record } = readPath(params, validateRecordPath, 'record');
  try {
    const outcome = await withUpload(request, MAX_PHOTO_BYTES, (upload) =>
      addRecordPhoto(locals.owner, record, upload)
    );
    if (outcome.kind === 'stored') return json(outcome.photo, { status: 201 });
    if (outcome.kind === 'full') error(409, `A record holds ${MOST_PHOTOS} photos, and this one is full.`);
  } catch (refused) {
    if (!(refused instanceof NotAPicture)) throw refused;
    error(415, NO_PICTURE);
  }
  error(404, 'There is no such record.');
}
