import type { DrawerChanged, StaleDrawer } from '$lib/api/drawer.ts';
import { validateChangeDrawer } from '$lib/api/generated/validate.js';
import { changeDrawer } from '$lib/server/drawer.ts';
import { MAX_DRAWER_BYTES, readBody, readPartDocuments } from '$lib/server/requests.ts';
import { error, json } from '@sveltejs/kit';

export async function POST({ request, locals }) {
  const { changeId, put, remove } = await readBody(request, validateChangeDrawer, MAX_DRAWER_BYTES);
  const parts = readPartDocuments(put.map(({ document }) => document));
  const named = new Set(parts.map(({ partId }) => partId));
  const twice = remove.find(({ partId }) => named.has(partId) || !named.add(partId));
  if (twice) error(400, `/remove: “${twice.partId}” is named twice in one change.`);
  const outcome = await changeDrawer(locals.owner, {
    changeId,
    put: put.map(({ basedOn }, index) => ({ part: parts[index]!, basedOn })),
    remove
  });
  switch (outcome.kind) {
    case 'changed':
    case 'already-changed': {
      const answer: DrawerChanged = {
        parts: outcome.parts,
        removed: remove.map(({ partId }) => partId),
        trains: outcome.trains.map(({ document }) => document.name),
        number: outcome.number
      };
      return json(answer);
    }
    case 'stale': {
      const refusal: StaleDrawer = {
        message: 'Some of these parts were changed meanwhile. Nothing was stored.',
        parts: outcome.parts,
        missing: outcome.missing,
        number: outcome.number
      };
      return json(refusal, { status: 409 });
    }
    case 'held':
      error(
        422,
        `${outcome.partIds.join(', ')}: held by an assembled train. Take that apart first. Nothing was stored.`
      );
    // error() never returns, which the linter does not know.
    // eslint-disable-next-line no-fallthrough
    case 'other-change':
      error(422, 'This change id belongs to another change.');
  }
}
