import type { AssemblyRefused } from '$lib/api/drawer.ts';
import { validateAssembleTrain, validateTrainPath } from '$lib/api/generated/validate.js';
import { assembleTrain, readAssembly, takeApart } from '$lib/server/assembly.ts';
import { SMALL_BODY_BYTES, readBody, readPath } from '$lib/server/requests.ts';
import { error, json } from '@sveltejs/kit';

export async function GET({ params, locals }) {
  const { id } = readPath(params, validateTrainPath);
  return json((await readAssembly(locals.owner, id)) ?? null);
}

export async function PUT({ params, request, locals }) {
  const { id } = readPath(params, validateTrainPath);
  const { revision, record } = await readBody(request, validateAssembleTrain, SMALL_BODY_BYTES);
  const outcome = await assembleTrain(locals.owner, id, revision, record);
  switch (outcome.kind) {
    case 'assembled':
      return json(outcome.assembly);
    case 'conflict': {
      const refusal: AssemblyRefused = {
        message: 'Some of its parts are in other assembled trains, or there are too few of them.',
        conflicts: outcome.conflicts
      };
      return json(refusal, { status: 409 });
    }
    case 'stale':
      error(409, 'The train was changed meanwhile. Look at it as it is now, then mark it as assembled.');
    // error() never returns, which the linter does not know.
    // eslint-disable-next-line no-fallthrough
    case 'deleted':
      error(410, 'This train was deleted.');
    // eslint-disable-next-line no-fallthrough
    case 'missing':
      error(404, 'There is no such train.');
  }
}

export async function DELETE({ params, locals }) {
  const { id } = readPath(params, validateTrainPath);
  await takeApart(locals.owner, id);
  return json(null);
}
