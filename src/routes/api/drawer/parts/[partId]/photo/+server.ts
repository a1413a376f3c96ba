import { validatePartPath } from '$lib/api/generated/validate.js';
import { NotAPicture } from '$lib/server/errands/index.ts';
import { MAX_PHOTO_BYTES, dropPhoto, readPhoto, storePhoto } from '$lib/server/photos.ts';
import { readLimited, readPath } from '$lib/server/requests.ts';
import { error, json } from '@sveltejs/kit';

export async function GET({ params, request, locals }) {
  const { partId } = readPath(params, validatePartPath, 'part');
  const photo = (await readPhoto(locals.owner, partId)) ?? error(404, 'This part has no photo.');
  const etag = `"${photo.hash}"`;
  if (request.headers.get('if-none-match') === etag) return new Response(null, { status: 304, headers: { etag } });
  return new Response(new Uint8Array(photo.bytes), {
    headers: { 'content-type': 'image/jpeg', 'cache-control': 'private, no-cache', etag }
  });
}

export async function PUT({ params, request, locals }) {
  const { partId } = readPath(params, validatePartPath, 'part');
  const upload = await readLimited(request, MAX_PHOTO_BYTES);
  try {
    const photo = (await storePhoto(locals.owner, partId, upload)) ?? error(404, 'There is no such part.');
    return json({ photo });
  } catch (refused) {
    if (!(refused instanceof NotAPicture)) throw refused;
    error(415, 'This is not a picture that can be read. JPEG, PNG, WebP, GIF, TIFF and AVIF can.');
  }
}

export async function DELETE({ params, locals }) {
  const { partId } = readPath(params, validatePartPath, 'part');
  await dropPhoto(locals.owner, partId);
  return json({ photo: null });
}
