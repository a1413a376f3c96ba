import { validateRecordPath } from '$lib/api/generated/validate.js';
import { print } from '$lib/server/errands/index.ts';
import { readRecord, readRecordPhoto } from '$lib/server/records.ts';
import { download, readPath } from '$lib/server/requests.ts';
import { error } from '@sveltejs/kit';

/** More photos than these are not printed. */
const PRINTED_PHOTOS = 6;

export async function GET({ params, locals }) {
  const { record: id } = readPath(params, validateRecordPath, 'record');
  const record = (await readRecord(locals.owner, id)) ?? error(404, 'There is no such record.');
  const photos = await Promise.all(
    record.photos
      .slice(0, PRINTED_PHOTOS)
      .map(async ({ position }) => (await readRecordPhoto(locals.owner, id, position))?.bytes)
  );
  const pdf = await print({
    kind: 'record',
    record,
    photos: photos.filter((bytes) => bytes !== undefined),
    unit: locals.preferences.unit,
    timeZone: locals.preferences.timeZone
  });
  return download(pdf, 'application/pdf', `${record.document.name} as built ${record.number}.pdf`, 'as-built.pdf');
}
