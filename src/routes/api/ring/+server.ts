import { readElement } from '@lodestone/core';
import { ringDrawing } from '@lodestone/core/drawing';
import { validateMakeRing } from '$lib/api/generated/validate.js';
import { drawingPdf } from '$lib/server/drawingPdf.ts';
import { SMALL_BODY_BYTES, download, readBody, refuseWith } from '$lib/server/requests.ts';
import { error } from '@sveltejs/kit';

export async function POST({ request }) {
  const { title, lengthMm, toleranceMm, clearMm, outerMm, sky, camera } = await readBody(
    request,
    validateMakeRing,
    SMALL_BODY_BYTES
  );
  // The ring as an element: that is where ports are checked.
  const reading = readElement({ id: 'ring', kind: 'spacer', name: title.slice(0, 200), lengthMm, sky, camera });
  if (!reading.ok) refuseWith(reading.complaints);
  const ring = reading.document;
  if (ring.kind !== 'spacer' || !ring.sky || !ring.camera) error(400, 'Both faces of the ring are needed.');
  const spec = { lengthMm, toleranceMm, clearMm, outerMm, sky: ring.sky, camera: ring.camera };
  if (clearMm >= outerMm) error(400, '/clearMm: a ring cannot be clear to its outer diameter.');
  const pdf = await drawingPdf(ringDrawing(spec, title), title);
  return download(new Uint8Array(pdf), 'application/pdf', 'ring.pdf', 'ring.pdf');
}
