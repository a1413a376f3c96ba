import { validateFramePath } from '$lib/api/generated/validate.js';
import { dropFrame, framePixels } from '$lib/server/frames.ts';
import { readPath } from '$lib/server/requests.ts';
import { error } from '@sveltejs/kit';

/** The file of a frame as it came. */
export async function GET({ params, locals }) {
  const { id, frame } = readPath(params, validateFramePath, 'frame');
  const found = (await framePixels(locals.owner, id, frame)) ?? error(404, 'The pixels of this frame are not kept.');
  return new Response(found.stream, {
    headers: { 'content-type': 'application/fits', 'content-length': String(found.size), 'cache-control': 'private' }
  });
}

export async function DELETE({ params, locals }) {
  const { id, frame } = readPath(params, validateFramePath, 'frame');
  if (!(await dropFrame(locals.owner, id, frame))) error(404, 'There is no such frame.');
  return new Response(null, { status: 204 });
}
