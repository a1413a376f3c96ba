import { ringFault, type Variant } from '@lodestone/core/drawing';
import { readElement } from '@lodestone/core/train';
import { validateMakeRing } from '$lib/api/generated/validate.js';
import type { RingToMake } from '$lib/api/generated/types.ts';
import { print } from '$lib/server/errands/index.ts';
import { SMALL_BODY_BYTES, download, readBody, refuseWith } from '$lib/server/requests.ts';
import { error } from '@sveltejs/kit';

/** A part as it is turned, its faces checked as those of an element are. */
function variantOf({ name = '', sky, camera, ...rest }: RingToMake): Variant {
  const reading = readElement({ id: 'ring', kind: 'spacer', name: 'Ring', lengthMm: rest.lengthMm, sky, camera });
  if (!reading.ok) refuseWith(reading.complaints);
  const ring = reading.document;
  if (ring.kind !== 'spacer' || !ring.sky || !ring.camera) error(400, 'Both faces of the ring are needed.');
  const spec = { ...rest, sky: ring.sky, camera: ring.camera };
  const fault = ringFault(spec);
  if (fault !== undefined) error(400, `${name || 'This ring'} cannot be made: ${fault}.`);
  return { name, spec };
}

export async function POST({ request }) {
  const { title, parts } = await readBody(request, validateMakeRing, SMALL_BODY_BYTES);
  const pdf = await print({ kind: 'ring', variants: parts.map(variantOf), title });
  return download(pdf, 'application/pdf', `${title}.pdf`, 'ring.pdf');
}
