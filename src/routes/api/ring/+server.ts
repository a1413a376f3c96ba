import { readElement } from '@lodestone/core/train';
import { ringFault } from '@lodestone/core/drawing';
import { validateMakeRing } from '$lib/api/generated/validate.js';
import { print } from '$lib/server/errands/index.ts';
import { SMALL_BODY_BYTES, download, readBody, refuseWith } from '$lib/server/requests.ts';
import { error } from '@sveltejs/kit';

export async function POST({ request }) {
  const { title, lengthMm, toleranceMm, clearMm, outerMm, sky, camera } = await readBody(
    request,
    validateMakeRing,
    SMALL_BODY_BYTES
  );
  // The ring as an element: that is where ports are checked.
  const reading = readElement({ id: 'ring', kind: 'spacer', name: 'Ring', lengthMm, sky, camera });
  if (!reading.ok) refuseWith(reading.complaints);
  const ring = reading.document;
  if (ring.kind !== 'spacer' || !ring.sky || !ring.camera) error(400, 'Both faces of the ring are needed.');
  const spec = { lengthMm, toleranceMm, clearMm, outerMm, sky: ring.sky, camera: ring.camera };
  const fault = ringFault(spec);
  if (fault !== undefined) error(400, `This ring cannot be made: ${fault}.`);
  const pdf = await print({ kind: 'ring', ring: spec, title });
  return download(pdf, 'application/pdf', `${title}.pdf`, 'ring.pdf');
}
