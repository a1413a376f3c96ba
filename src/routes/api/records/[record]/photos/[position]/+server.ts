import { validateRecordPhotoPath } from '$lib/api/generated/validate.js';
import { photoResponse } from '$lib/server/photos.ts';
import { readRecordPhoto } from '$lib/server/records.ts';
import { readPath } from '$lib/server/requests.ts';
import { error } from '@sveltejs/kit';

export async function GET({ params, request, locals }) {
  const { record, position } = readPath(params, validateRecordPhotoPath, 'photo');
  const photo =
    (await readRecordPhoto(locals.owner, record, Number(position))) ?? error(404, 'There is no such photo.');
  return photoResponse(photo, request);
}
