import { MAX_SCAN_BYTES } from '$lib/api/scans.ts';
import { NotAPicture } from '$lib/server/errands/index.ts';
import { NO_SCAN, keepScan } from '$lib/server/scans.ts';
import { withUpload } from '$lib/server/upload.ts';
import { error, json } from '@sveltejs/kit';

export async function POST({ request, locals }) {
  try {
    return await withUpload(request, MAX_SCAN_BYTES, async (upload) =>
      json(await keepScan(locals.owner, upload), { status: 201 })
    );
  } catch (refused) {
    if (!(refused instanceof NotAPicture)) throw refused;
    error(415, NO_SCAN);
  }
}
