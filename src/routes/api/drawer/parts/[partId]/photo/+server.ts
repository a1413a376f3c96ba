import { validatePartPath } from '$lib/api/generated/validate.js';
import { NotAPicture } from '$lib/server/errands/index.ts';
import { MAX_PHOTO_BYTES, NO_PICTURE, dropPhoto, photoResponse, readPhoto, storePhoto } from '$lib/server/photos.ts';
import { readPath } from '$lib/server/requests.ts';
import { withUpload } from '$lib/server/upload.ts';
import { error, json } from '@sveltejs/kit';

export async function GET({ params, request, locals }) {
  const { partId } = readPath(params, validatePartPath, 'part');
  const photo = (await readPhoto(locals.owner, partId)) ?? error(404, 'This part has no photo.');
  return photoResponse(photo, request);
}

export async function PUT({ params, request, locals }) {
  const { partId } = readPath(params, validatePartPath, 'part');
  try {
    return await withUpload(request, MAX_PHOTO_BYTES, async (upload) => {
      const photo = (await storePhoto(locals.owner, partId, upload)) ?? error(404, 'There is no such part.');
      return json({ photo });
    });
  } catch (refused) {
    if (!(refused instanceof NotAPicture)) throw refused;
    error(415, NO_PICTURE);
  }
}

export async function DELETE({ params, locals }) {
  const { partId } = readPath(params, validatePartPath, 'part');
  await dropPhoto(locals.owner, partId);
  return json({ photo: null });
}
